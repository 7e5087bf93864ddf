<script lang="ts">
  import { page } from '$app/state';
  import { untrack } from 'svelte';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body, type Schemas } from '$lib/api/client';
  import Result from '$lib/exchange/Result.svelte';
  import { given, newOnes, open, standsFor, type ReadAs } from '$lib/exchange/readas';
  import { choices, TERMS } from '$lib/terms';

  const token = $derived(page.url.searchParams.get('file') ?? '');
  const act = new Act(useQueryClient());
  let found = $state.raw<ReadAs | null>(null);
  let result = $state.raw<Schemas['ImportReport'] | null>(null);
  let done = $state(false);
  let leaveOut = $state(false);
  let kind = $state('');
  let meter = $state('h');
  let left = $state<Record<string, boolean>>({});
  let own = $state<Record<string, string>>({});

  async function look(layout: Schemas['LayoutIn'] | null, sheet: number) {
    result = null;
    await act.run(async () => {
      found = await body(api.POST('/api/exchange/layout', { body: { token, sheet, layout } }));
    });
  }
  $effect(() => {
    void token;
    untrack(() => void look(null, 0));
  });
  // What a person types stands, also where an answer comes in meanwhile.
  let laboratory = $state<string | null>(null);
  const mine = (layout: Schemas['FileLayout']): Schemas['LayoutIn'] => ({
    ...given(layout),
    laboratory: (laboratory ?? layout.laboratory).trim(),
  });
  // One change after the other, each on what the one before came to.
  let before: Promise<void> = Promise.resolve();
  const later = (make: (layout: Schemas['LayoutIn']) => Schemas['LayoutIn']) => {
    before = before.then(async () => {
      if (found) await look(make(mine(found.layout)), found.sheet);
    });
  };
  const change = (over: Partial<Schemas['LayoutIn']> = {}) => later((layout) => ({ ...layout, ...over }));
  const fresh = $derived(found ? newOnes(found) : []);
  const ticked = $derived(fresh.filter((e) => !left[e.said]));
  const asked = $derived(found ? open(found) : '');
  const unclassed = $derived(ticked.some((e) => !(own[e.said] || kind)));

  async function bring(preview: boolean) {
    if (!found) return;
    const { layout, sheet } = found;
    await act.run(async () => {
      const engines = ticked.map((e) => ({
        said: e.said,
        engine_class: own[e.said] || kind,
        meter_unit: meter,
        model: e.model,
        depot: e.depot,
      }));
      result = await body(
        api.POST('/api/exchange/layout/import', {
          body: { token, sheet, layout: mine(layout), engines, leave_out: leaveOut, preview },
        }),
      );
      done = result.written && !preview;
    });
  }
  const figures = TERMS.analytes;
  const fields = choices('report_fields');
  const options = (about: string) =>
    about === 'decimal'
      ? choices('decimal_marks')
      : about === 'days'
        ? choices('days_written').filter((d) => d.code !== 'iso')
        : choices('water_units');
</script>

<svelte:head><title>Read a report · Keen Tracer</title></svelte:head>

<main class="read forms">
  <h1>How this file is read</h1>
  {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
  {#if found && !done}
    <div class="row">
      {#if found.sheets.length > 1}
        <label
          >Sheet
          <select
            class="field"
            value={String(found.sheet)}
            onchange={(e) => void look(null, Number(e.currentTarget.value))}
            >{#each found.sheets as s, n (n)}<option value={String(n)}>{s.name}, {s.rows} rows</option
              >{/each}</select
          ></label
        >
      {/if}
      <label
        >Laboratory
        <input
          class="field"
          maxlength="60"
          value={laboratory ?? found.layout.laboratory}
          oninput={(e) => (laboratory = e.currentTarget.value)}
          onchange={() => change()}
        /></label
      >
      <label
        >Headings in row
        <input
          class="field short"
          type="number"
          min="1"
          max="1000"
          value={found.layout.header}
          onchange={(e) =>
            change({ header: Number(e.currentTarget.value), body: Number(e.currentTarget.value) + 1 })}
        /></label
      >
      <label
        >It runs
        <select
          class="field"
          value={found.layout.way}
          onchange={(e) => change({ way: e.currentTarget.value as 'rows' | 'columns' })}
          >{#each choices('layout_ways') as w (w.code)}<option value={w.code}>{w.words}</option
            >{/each}</select
        ></label
      >
    </div>
    {#if found.known_from}<p class="muted">
        Known again by its headings: read as before, for {found.known_from}.
      </p>{/if}

    {#each found.questions as q (q.about)}
      <fieldset class="ask">
        <legend>{q.words}</legend>
        <p class="figure">{q.seen.join('   ')}</p>
        <div class="row">
          {#each options(q.about) as o (o.code)}<button
              class="press"
              disabled={act.busy}
              onclick={() => change({ [q.about]: o.code })}>{o.words}</button
            >{/each}
        </div>
      </fieldset>
    {/each}

    <section aria-label="Columns">
      <h2>Columns</h2>
      <div class="scroll">
        <table class="plain-table">
          <thead><tr><th>Heading</th><th>Stands for</th><th>Unit</th><th>First cells</th></tr></thead>
          <tbody>
            {#each found.layout.columns as c, n (n)}
              {#if c.heading || c.seen.length}
                <tr class:unread={!c.target}>
                  <td>{c.heading || `column ${n + 1}`}</td>
                  <td>
                    <select
                      class="field"
                      aria-label="{c.heading || `column ${n + 1}`} stands for"
                      value={c.target}
                      onchange={(e) => {
                        const target = e.currentTarget.value;
                        later((layout) => standsFor(layout, n, target));
                      }}
                    >
                      <option value="">nothing, not read</option>
                      <optgroup label="The report"
                        >{#each fields as f (f.code)}<option value={f.code}>{f.words}</option
                          >{/each}</optgroup
                      >
                      <optgroup label="A figure"
                        >{#each figures as a (a.column)}<option value={a.column}>{a.name}</option
                          >{/each}</optgroup
                      >
                    </select>
                  </td>
                  <td>
                    <input
                      class="field short"
                      list="units"
                      aria-label="Unit of {c.heading}"
                      value={c.unit}
                      placeholder={figures.find((a) => a.column === c.target)?.unit ?? ''}
                      onchange={(e) => {
                        const unit = e.currentTarget.value.trim();
                        later((layout) => ({
                          ...layout,
                          columns: layout.columns.map((x, m) => (m === n ? { ...x, unit } : x)),
                        }));
                      }}
                    />
                  </td>
                  <td class="figure">{c.seen.join('   ')}</td>
                </tr>
              {/if}
            {/each}
          </tbody>
        </table>
      </div>
      <datalist id="units"
        >{#each choices('column_units') as u (u.code)}<option value={u.code}></option>{/each}</datalist
      >
    </section>

    {#if asked}<p role="status"><b>{asked}</b></p>{/if}
    {#if found.told.length}
      <section aria-label="As it will be read">
        <h2>As it will be read: {found.samples} {found.samples === 1 ? 'sample' : 'samples'}</h2>
        <div class="scroll">
          <table class="plain-table">
            <thead
              ><tr
                ><th class="num">Row</th><th>Bottle</th><th>Engine</th><th>Drawn</th><th class="num">Meter</th
                ><th>Figures</th></tr
              ></thead
            >
            <tbody>
              {#each found.told as t (t.row)}<tr
                  ><td class="num figure">{t.row}</td><td>{t.sample}</td><td>{t.engine}</td><td
                    class="figure when">{t.drawn_on}</td
                  ><td class="num figure">{t.meter}</td><td class="figure">{t.figures}</td></tr
                >{/each}
            </tbody>
          </table>
        </div>
        {#if found.left}<p class="muted">
            {found.left} rows tell no sample (heads of pages, sums, notes) and are passed over.
          </p>{/if}
        {#if found.unread.length}<p class="muted">Not read: {found.unread.join(', ')}.</p>{/if}
      </section>
    {/if}

    {#if fresh.length}
      <section aria-label="Engines that are not on record">
        <h2>{fresh.length} {fresh.length === 1 ? 'engine is' : 'engines are'} not on record</h2>
        <div class="row">
          <label
            >They are
            <select class="field" bind:value={kind}
              ><option value="">choose a class</option>{#each choices('classes') as c (c.code)}<option
                  value={c.code}>{c.words}</option
                >{/each}</select
            ></label
          >
          <label
            >Their meters count
            <select class="field" bind:value={meter}
              >{#each choices('meter_units') as m (m.code)}<option value={m.code}>{m.words}</option
                >{/each}</select
            ></label
          >
        </div>
        <ul class="engines">
          {#each fresh as e (e.said)}
            <li>
              <label class="tick"
                ><input
                  type="checkbox"
                  checked={!left[e.said]}
                  onchange={(x) => (left[e.said] = !x.currentTarget.checked)}
                />
                {e.said}{e.model ? `, ${e.model}` : ''}
                <span class="muted">{e.samples} {e.samples === 1 ? 'sample' : 'samples'}</span></label
              >
              <select
                class="field"
                aria-label="Class of {e.said}"
                value={own[e.said] ?? ''}
                onchange={(x) => (own[e.said] = x.currentTarget.value)}
                ><option value="">as above</option>{#each choices('classes') as c (c.code)}<option
                    value={c.code}>{c.words}</option
                  >{/each}</select
              >
            </li>
          {/each}
        </ul>
      </section>
    {/if}
    {#each found.engines.filter((e) => e.known && e.known !== e.said) as e (e.said)}
      <p class="muted">{e.said} is read as {e.known}.</p>
    {/each}
    {#if found.wrongs}
      <section aria-label="Cells that cannot be read">
        <h2>{found.wrongs} {found.wrongs === 1 ? 'cell' : 'cells'} cannot be read</h2>
        <ul>
          {#each found.wrong as w, n (n)}<li>Row {w.row}, {w.heading}: {w.what}; {w.fix}.</li>{/each}
        </ul>
      </section>
    {/if}
    <label class="tick"
      ><input type="checkbox" bind:checked={leaveOut} /> Leave out what cannot be read and who is not ticked</label
    >
    <p class="row">
      <button
        class="press"
        disabled={act.busy || Boolean(asked) || unclassed || !found.samples}
        onclick={() => void bring(true)}>Try it</button
      >
      <button
        class="press first"
        disabled={act.busy || Boolean(asked) || unclassed || !found.samples}
        onclick={() => void bring(false)}
        >Bring in {found.samples} {found.samples === 1 ? 'sample' : 'samples'}</button
      >
      {#if unclassed}<span class="muted">Choose what the new engines are.</span>{/if}
    </p>
  {:else if !found && !act.wrong}<p class="muted">Reading…</p>{/if}
  {#if result}
    {#if done}<p role="status">
        <b>Brought in.</b>
        {result.engines}
        {result.engines === 1 ? 'engine is' : 'engines are'} judged now; look at the <a href="/wall">Wall</a>
        or <a href="/judge">judge</a>. The next file with these headings is read the same way.
      </p>{/if}
    <Result {result} {done} />
  {/if}
</main>

<style>
  .read {
    padding: 10px 18px 40px;
    display: grid;
    gap: 14px;
    max-width: 1240px;
  }
  section {
    display: grid;
    gap: 8px;
    min-width: 0;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: end;
  }
  .ask {
    border: 2px solid var(--due);
    padding: 6px 12px 10px;
    display: grid;
    gap: 6px;
    justify-self: start;
  }
  .ask legend {
    font-weight: 650;
  }
  .scroll {
    overflow-x: auto;
  }
  td .field {
    min-height: 0;
    padding: 2px 6px;
  }
  td {
    vertical-align: middle;
  }
  .when {
    white-space: nowrap;
  }
  .unread td {
    color: var(--muted);
  }
  .engines li {
    display: flex;
    gap: 12px;
    align-items: center;
    flex-wrap: wrap;
  }
  .tick {
    display: flex;
    gap: 8px;
    align-items: center;
  }
</style>
