<script lang="ts">
  import { goto } from '$app/navigation';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body, type Schemas } from '$lib/api/client';
  import { useInbox, useStop } from '$lib/api/queries';
  import FigureGrid from '$lib/bottles/FigureGrid.svelte';
  import { choices, TERMS } from '$lib/terms';

  const act = new Act(useQueryClient());
  const inbox = useInbox();
  const today = new Date().toISOString().slice(0, 10);

  let engine = $state('');
  let known = $state<string[]>([]);
  let asked = $state('');
  const isKnown = $derived(known.includes(engine.trim()));
  const isNew = $derived(engine.trim() !== '' && asked === engine.trim() && !isKnown);
  let fresh = $state({ engine_class: '', meter_unit: 'h', fuel: '', allowed_grades: '' });
  let sump = $state<number | null>(null);
  const stop = useStop(() => (isKnown ? engine.trim() : ''));
  const unit = $derived((isKnown ? stop.data?.unit : fresh.meter_unit) ?? 'h');

  let on = $state('');
  let meter = $state<number | null>(null);
  let onOil = $state<number | null>(null);
  let changed = $state<number | null>(null);
  let oil = $state('');
  let topUp = $state<number | null>(null);
  let laboratory = $state('');
  let report = $state('');
  let note = $state('');
  let cells = $state<Record<string, string>>({});
  let all = $state(false);
  const shown = $derived(TERMS.analytes.filter((a) => all || a.usual || cells[a.column]));

  let pasted = $state('');
  let read = $state.raw<Schemas['ReportRead'] | null>(null);
  async function paste(decimal: 'point' | 'comma' | '' = '') {
    await act.run(async () => {
      read = await body(api.POST('/api/report/read', { body: { text: pasted, decimal } }));
      cells = { ...cells, ...read.figures };
      const f = read.facts;
      engine = f['engine'] ?? engine;
      on = f['drawn_on'] ?? on;
      laboratory = f['laboratory'] ?? laboratory;
      report = f['report'] ?? report;
      oil = f['oil'] ?? oil;
      meter = f['meter'] ? Number(f['meter']) : meter;
      onOil = f['hours_on_oil'] ? Number(f['hours_on_oil']) : onOil;
      if (f['engine']) await find();
    });
  }
  async function find() {
    const q = engine.trim();
    if (!q) return;
    const found = await body(api.GET('/api/find', { params: { query: { q } } }));
    known = found.filter((x) => x.kind === 'engine').map((x) => x.engine);
    const same = known.find((x) => x.toLowerCase() === q.toLowerCase());
    if (same) engine = same;
    asked = engine.trim();
  }
  async function save() {
    let sample = '';
    const done = await act.run(async () => {
      const made = await body(
        api.POST('/api/report', {
          body: {
            engine: engine.trim(),
            on: on || today,
            meter,
            hours_on_oil: onOil,
            oil_change_meter: changed,
            oil,
            top_up_l: topUp,
            laboratory,
            report,
            sample: '',
            appearance: '',
            note,
            figures: $state.snapshot(cells),
            new: isNew ? { ...$state.snapshot(fresh), sump_l: sump } : null,
          },
        }),
      );
      sample = made.sample;
    });
    if (done) await goto(`/judge/${encodeURIComponent(sample)}`);
  }
</script>

<svelte:head><title>I have a report · Keen Tracer</title></svelte:head>

<main class="report forms">
  <h1>I have a report</h1>
  <details open>
    <summary>Paste its figures, or type them below</summary>
    <textarea
      class="field"
      rows="3"
      aria-label="Figures as they were copied"
      placeholder="Iron 14&#10;Viscosity @ 100 °C 14.1 cSt&#10;or a table with its headings"
      bind:value={pasted}
    ></textarea>
    <p class="row">
      <button class="press" disabled={act.busy || !pasted.trim()} onclick={() => void paste()}
        >Read what I pasted</button
      >
      {#if read}
        <span role="status"
          >{Object.keys(read.figures).length} figures read{read.unread.length
            ? `; not read: ${read.unread.slice(0, 6).join(', ')}`
            : ''}.</span
        >
      {/if}
    </p>
    {#each read?.questions ?? [] as q (q.about)}
      <p class="row ask">
        <b>{q.words}</b> <span class="figure">{q.seen.join('   ')}</span>
        {#each choices('decimal_marks') as o (o.code)}<button
            class="press"
            disabled={act.busy}
            onclick={() => void paste(o.code)}>{o.words}</button
          >{/each}
      </p>
    {/each}
  </details>
  <form
    onsubmit={(e) => {
      e.preventDefault();
      void save();
    }}
  >
    <div class="row">
      <label
        >Engine
        <input
          class="field"
          list="engines"
          required
          maxlength="60"
          bind:value={engine}
          onchange={() => void find()}
        /></label
      >
      <datalist id="engines"
        >{#each known as k (k)}<option value={k}></option>{/each}</datalist
      >
      {#if isNew}
        <fieldset class="row new">
          <legend>{engine.trim()} is new. What is it?</legend>
          <label
            >Class
            <select class="field" required bind:value={fresh.engine_class}
              ><option value="" disabled>choose</option>{#each choices('classes') as c (c.code)}<option
                  value={c.code}>{c.words}</option
                >{/each}</select
            ></label
          >
          <label
            >Its meter counts
            <select class="field" bind:value={fresh.meter_unit}
              >{#each choices('meter_units') as m (m.code)}<option value={m.code}>{m.words}</option
                >{/each}</select
            ></label
          >
          <label
            >Fuel
            <select class="field" bind:value={fresh.fuel}
              ><option value="">not said</option>{#each choices('fuels') as f (f.code)}<option value={f.code}
                  >{f.words}</option
                >{/each}</select
            ></label
          >
          <label
            >Sump, L <input class="field short" type="number" min="0" step="any" bind:value={sump} /></label
          >
          <label
            >Grades allowed
            <input
              class="field short"
              placeholder="15W-40"
              maxlength="60"
              bind:value={fresh.allowed_grades}
            /></label
          >
        </fieldset>
      {/if}
    </div>
    <div class="row">
      <label>Drawn on <input class="field" type="date" max={today} required bind:value={on} /></label>
      <label
        >Meter, {unit}
        <input class="field short" type="number" min="0" step="any" required bind:value={meter} /></label
      >
      <label
        >{unit} on the oil
        <input class="field short" type="number" min="0" step="any" bind:value={onOil} /></label
      >
      <label
        >or meter at the change
        <input class="field short" type="number" min="0" step="any" bind:value={changed} /></label
      >
      <label
        >Oil
        <input class="field" maxlength="60" placeholder={stop.data?.oil ?? ''} bind:value={oil} /></label
      >
      <label
        >Topped up, L <input class="field short" type="number" min="0" step="any" bind:value={topUp} /></label
      >
    </div>
    <div class="row">
      <label
        >Laboratory
        <input class="field" list="labs" required maxlength="60" bind:value={laboratory} /></label
      >
      <datalist id="labs"
        >{#each inbox.data?.laboratories ?? [] as l (l)}<option value={l}></option>{/each}</datalist
      >
      <label>Report number <input class="field" maxlength="60" bind:value={report} /></label>
      <label class="grow">Note <input class="field" maxlength="2000" bind:value={note} /></label>
    </div>
    <p class="muted">
      As it stands on the paper: 12, &lt;1, ND, trace; with its unit where it is another (0.2 %, 400 ppm).
      Leave empty what is not there.
    </p>
    <FigureGrid analytes={shown} bind:cells wrong={act.fields} />
    <p class="row">
      {#if !all}<button type="button" class="press" onclick={() => (all = true)}>More figures</button>{/if}
      <button class="press first" disabled={act.busy}>Judge it</button>
    </p>
    {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
  </form>
</main>

<style>
  .report {
    padding: 10px 18px 40px;
    max-width: 1040px;
    display: grid;
    gap: 12px;
    align-content: start;
  }
  form,
  details {
    display: grid;
    gap: 10px;
  }
  textarea {
    width: 100%;
    max-width: 720px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: end;
  }
  .new,
  .ask {
    border: 2px solid var(--due);
    padding: 6px 12px 10px;
  }
  .short {
    width: 118px;
  }
  .grow {
    flex: 1 1 240px;
  }
</style>
