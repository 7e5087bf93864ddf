<script lang="ts">
  import FileButton from '$lib/controls/FileButton.svelte';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body, PICTURES, type Schemas } from '$lib/api/client';
  import { useState as useFrameState, useStop } from '$lib/api/queries';
  import FigureGrid from '$lib/bottles/FigureGrid.svelte';
  import Amount from '$lib/controls/Amount.svelte';
  import LaboratoryField from '$lib/controls/LaboratoryField.svelte';
  import { Shots } from '$lib/inspect/photos.svelte';
  import { withMyUnits } from '$lib/mine.svelte';
  import FreshOil from '$lib/report/FreshOil.svelte';
  import NewEngine from '$lib/report/NewEngine.svelte';
  import Paste from '$lib/report/Paste.svelte';
  import { choices, TERMS } from '$lib/terms';

  const act = new Act(useQueryClient());
  const frame = useFrameState();
  const today = $derived(frame.data?.today ?? '');
  // A report that was brought in before, opened to be put right.
  const again = page.url.searchParams.get('sample') ?? '';

  let engine = $state('');
  let known = $state<string[]>([]);
  let asked = $state('');
  const isKnown = $derived(known.includes(engine.trim()));
  const isNew = $derived(engine.trim() !== '' && asked === engine.trim() && !isKnown);
  let fresh = $state({ engine_class: '', meter_unit: 'h', fuel: '', allowed_grades: '' });
  let sump = $state<number | null>(null);
  const stop = useStop(() => (isKnown ? engine.trim() : ''));
  const unit = $derived((isKnown ? stop.data?.unit : fresh.meter_unit) ?? 'h');

  const empty = { oil: '', laboratory: '', report: '', appearance: '', smell: '', note: '' };
  let facts = $state({ ...empty, on: '' });
  let figures = $state({
    meter: null as number | null,
    hours_on_oil: null as number | null,
    oil_change_meter: null as number | null,
    top_up_l: null as number | null,
  });
  let typed = $state({ meter: '', hours_on_oil: '', oil_change_meter: '', top_up_l: '' });
  let cells = $state<Record<string, string>>({});
  let all = $state(false);
  const shown = $derived(TERMS.analytes.filter((a) => all || a.usual || cells[a.column]));
  let freshOil = $state({ grade: '', figures: {} as Record<string, string>, typical: false });
  const shots = new Shots();

  if (again)
    void act.run(async () => {
      const held = await body(api.GET('/api/report/{sample}', { params: { path: { sample: again } } }));
      engine = held.engine;
      await find();
      facts = { ...facts, ...pick(held, Object.keys(facts)) };
      figures = { ...figures, ...pick(held, Object.keys(figures)) };
      cells = held.figures;
    });
  function pick(held: Schemas['ReportAgain'], names: string[]): Partial<Schemas['ReportAgain']> {
    return Object.fromEntries(Object.entries(held).filter(([name]) => names.includes(name)));
  }

  async function pasted(read: Schemas['ReportRead']) {
    cells = { ...cells, ...read.figures };
    const f = read.facts;
    const of = (name: string, now: number | null) => (f[name] ? Number(f[name]) : now);
    facts = {
      ...facts,
      on: f['drawn_on'] ?? facts.on,
      laboratory: f['laboratory'] ?? facts.laboratory,
      report: f['report'] ?? facts.report,
      oil: f['oil'] ?? facts.oil,
      note: f['note'] ?? facts.note,
    };
    figures = {
      ...figures,
      meter: of('meter', figures.meter),
      hours_on_oil: of('hours_on_oil', figures.hours_on_oil),
    };
    if (!f['engine']) return;
    engine = f['engine'];
    await find();
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
      const sent = {
        ...$state.snapshot(facts),
        ...$state.snapshot(figures),
        engine: engine.trim(),
        on: facts.on || today,
        sample: again,
        figures: withMyUnits($state.snapshot(cells)),
        typed: Object.fromEntries(Object.entries($state.snapshot(typed)).filter(([, said]) => said)),
        fresh: again ? null : $state.snapshot(freshOil),
        new: isNew ? { ...$state.snapshot(fresh), sump_l: sump } : null,
      };
      const made = await (again
        ? body(api.PUT('/api/report/{sample}', { params: { path: { sample: again } }, body: sent }))
        : body(api.POST('/api/report', { body: sent })));
      sample = made.sample;
      if (shots.list.length > 0) await shots.send(made.log);
    });
    if (done) await goto(`/judge/${encodeURIComponent(sample)}`);
  }
</script>

<svelte:head><title>I have a report · Keen Tracer</title></svelte:head>

<main class="report forms">
  <h1>{again ? `Correct the report of ${again}` : 'I have a report'}</h1>
  {#if again}<p class="muted">
      What stood before stays readable: facts in the engine's log, figures as an earlier revision.
    </p>{/if}
  <Paste {act} onread={pasted} />
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
          readonly={again !== ''}
          maxlength="60"
          bind:value={engine}
          onchange={() => void find()}
        /></label
      >
      <datalist id="engines"
        >{#each known as k (k)}<option value={k}></option>{/each}</datalist
      >
      {#if isNew}
        <NewEngine engine={engine.trim()} bind:fresh bind:sump />
      {/if}
    </div>
    <div class="row">
      <label>Drawn on <input class="field" type="date" max={today} required bind:value={facts.on} /></label>
      <Amount
        label="Meter"
        {unit}
        bind:value={figures.meter}
        bind:typed={typed.meter}
        wrong={act.fields['meter'] ?? ''}
      />
      <Amount
        label="On the oil"
        {unit}
        bind:value={figures.hours_on_oil}
        bind:typed={typed.hours_on_oil}
        wrong={act.fields['hours_on_oil'] ?? ''}
      />
      <Amount
        label="or meter at the change"
        {unit}
        bind:value={figures.oil_change_meter}
        bind:typed={typed.oil_change_meter}
        wrong={act.fields['oil_change_meter'] ?? ''}
      />
      <label
        >Oil
        <input
          class="field"
          maxlength="60"
          placeholder={stop.data?.oil ?? ''}
          bind:value={facts.oil}
        /></label
      >
      <Amount label="Topped up" unit="L" bind:value={figures.top_up_l} bind:typed={typed.top_up_l} />
    </div>
    {#if !again}<FreshOil oil={facts.oil} bind:fresh={freshOil} wrong={act.fields} />{/if}
    {#if figures.meter === null}<p class="muted">
        Without the meter the sample has its place by its day; rates need the meter, or at least what is on
        the oil.
      </p>{/if}
    <div class="row">
      <LaboratoryField readonly={again !== '' && facts.report !== ''} bind:value={facts.laboratory} />
      <label
        >Report number <input
          class="field"
          maxlength="60"
          readonly={again !== '' && facts.report !== ''}
          bind:value={facts.report}
        /></label
      >
      <label
        >Looks
        <select class="field" bind:value={facts.appearance}
          ><option value="">not said</option>{#each TERMS.appearances as l (l.code)}<option value={l.code}
              >{l.words}</option
            >{/each}</select
        ></label
      >
      <label
        >Smells
        <select class="field" bind:value={facts.smell}
          >{#each choices('smells') as s (s.code)}<option value={s.code}>{s.words}</option>{/each}</select
        ></label
      >
      <label class="grow">Note <input class="field" maxlength="2000" bind:value={facts.note} /></label>
    </div>
    <div class="row">
      <FileButton label="Photographs" many accept={PICTURES} take={(files) => shots.add(files)} />
      {#each shots.list as shot (shot.key)}
        <button type="button" class="press shot" onclick={() => shots.drop(shot.key)}
          ><img src={shot.url} alt={shot.file.name} /> take out {shot.why}</button
        >
      {/each}
    </div>
    <p class="muted">
      As it is printed on the paper: 12, &lt;1, ND, trace; with its unit where it is another (0.2 %, 400 ppm).
      Leave empty what is not there.
    </p>
    <FigureGrid analytes={shown} bind:cells wrong={act.fields} />
    <p class="row">
      {#if !all}<button type="button" class="press" onclick={() => (all = true)}>More figures</button>{/if}
      <button class="press first" disabled={act.busy}>{again ? 'Save the correction' : 'Judge it'}</button>
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
  form {
    display: grid;
    gap: 10px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: start;
  }
  .shot img {
    height: 34px;
    vertical-align: middle;
  }
  .grow {
    flex: 1 1 240px;
  }
</style>
