<script lang="ts">
  import { page } from '$app/state';
  import { untrack } from 'svelte';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body, type Schemas } from '$lib/api/client';
  import Asked from '$lib/exchange/read/Asked.svelte';
  import Columns from '$lib/exchange/read/Columns.svelte';
  import FreshOil from '$lib/exchange/read/FreshOil.svelte';
  import NewEngines from '$lib/exchange/read/NewEngines.svelte';
  import Told from '$lib/exchange/read/Told.svelte';
  import Result from '$lib/exchange/Result.svelte';
  import { given, newOnes, open, tellsEngine, type ReadAs } from '$lib/exchange/readas';
  import { choices } from '$lib/terms';

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
  let named = $state<Record<number, string>>({});

  async function look(layout: Schemas['LayoutIn'] | null, sheet: number) {
    result = null;
    await act.run(async () => {
      found = await body(api.POST('/api/exchange/layout', { body: { token, sheet, layout } }));
    });
  }
  async function forget() {
    if (!found) return;
    const { sheet } = found;
    await act.run(async () => {
      found = await body(api.POST('/api/exchange/layout/forget', { body: { token, sheet } }));
    });
  }
  $effect(() => {
    void token;
    untrack(() => void look(null, 0));
  });
  // What a person types stands, also where an answer comes in meanwhile.
  let laboratory = $state<string | null>(null);
  let engine = $state<string | null>(null);
  const mine = (layout: Schemas['FileLayout']): Schemas['LayoutIn'] => ({
    ...given(layout),
    laboratory: (laboratory ?? layout.laboratory).trim(),
    engine: (engine ?? layout.engine).trim(),
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
    const { layout, sheet, fresh: seen } = found;
    await act.run(async () => {
      const engines = ticked.map((e) => ({
        said: e.said,
        engine_class: own[e.said] || kind,
        meter_unit: meter,
        model: e.model,
        depot: e.depot,
      }));
      const oils = seen.map((f) => ({ row: f.row, oil: (named[f.row] ?? f.oil).trim() }));
      result = await body(
        api.POST('/api/exchange/layout/import', {
          body: { token, sheet, layout: mine(layout), engines, oils, leave_out: leaveOut, preview },
        }),
      );
      done = result.written && !preview;
    });
  }
</script>

<svelte:head><title>Read a report · Keen Tracer</title></svelte:head>

<main class="read forms">
  <h1>How this file is read</h1>
  {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
  {#if found && !done}
    <div class="in-row">
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
          onchange={(e) => change({ way: e.currentTarget.value as Schemas['LayoutIn']['way'] })}
          >{#each choices('layout_ways') as w (w.code)}<option value={w.code}>{w.words}</option
            >{/each}</select
        ></label
      >
    </div>
    {#if found.known_from}<p class="muted">
        Known again by its headings: read as before, for {found.known_from}.
        <button class="press" disabled={act.busy} onclick={() => void forget()}
          >Forget this way of reading</button
        >
      </p>{/if}

    {#if !tellsEngine(found)}<label class="ask whose"
        >This file names no engine. Every sample is of the engine
        <input
          class="field"
          maxlength="60"
          value={engine ?? found.layout.engine}
          oninput={(e) => (engine = e.currentTarget.value)}
          onchange={() => change()}
        /></label
      >{/if}
    <Asked {found} busy={act.busy} {change} />
    <Columns layout={found.layout} {later} />
    {#if asked}<p role="status"><b>{asked}</b></p>{/if}
    <Told {found} />
    {#if fresh.length}<NewEngines {fresh} bind:kind bind:meter bind:left bind:own />{/if}
    {#if found.fresh.length}<FreshOil fresh={found.fresh} oils={found.oils} bind:named />{/if}
    {#each found.engines.filter((e) => e.known && e.known !== e.said) as e (e.said)}
      <p class="muted">{e.said} is read as {e.known}.</p>
    {/each}
    <label class="tick"
      ><input type="checkbox" bind:checked={leaveOut} /> Skip unreadable cells and engines that are not ticked</label
    >
    <p class="in-row">
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
  .whose {
    justify-self: start;
  }
</style>
