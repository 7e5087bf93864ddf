<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useEngine } from '$lib/api/queries';
  import CaseLink from '$lib/case/CaseLink.svelte';
  import Comb from '$lib/draw/Comb.svelte';
  import Beside from '$lib/engine/Beside.svelte';
  import Lanes from '$lib/engine/Lanes.svelte';
  import type { AxisBy, MetalsAs } from '$lib/engine/lanes';
  import Side from '$lib/engine/Side.svelte';
  import { useKeys } from '$lib/frame/keys';
  import OutcomeForm from '$lib/outcome/OutcomeForm.svelte';
  import Fold from '$lib/state/Fold.svelte';
  import TwoLines from '$lib/state/TwoLines.svelte';
  import QueryCard from '$lib/queries/QueryCard.svelte';
  import { day, dayYear, meter } from '$lib/words';

  const code = $derived(page.params.code ?? '');
  const engine = useEngine(() => code);
  const e = $derived(engine.data);
  // Port and starboard, or an engine and its sister: their strips on the same axes.
  const beside = $derived(page.url.searchParams.get('beside') ?? '');
  const twin = useEngine(() => beside);
  const other = $derived(beside && beside !== code ? (twin.data ?? null) : null);
  function putBeside(chosen: string) {
    if (chosen) by = 'date';
    void goto(chosen ? `?beside=${encodeURIComponent(chosen)}` : page.url.pathname, { keepFocus: true });
  }
  let view = $state<[number, number] | null>(null);

  // Two engines are compared day by day until somebody chooses otherwise.
  let by = $state<AxisBy>(page.url.searchParams.has('beside') ? 'date' : 'meter');
  let as = $state<MetalsAs>('rate');
  let limits = $state(false);
  let sisters = $state(false);
  let tall = $state(1);
  const AXES = [
    { by: 'meter', words: 'meter' },
    { by: 'date', words: 'date' },
    { by: 'oil', words: 'on the oil' },
  ] as const;
  // Kilometres and hours share no axis but the day.
  const shared = $derived(other && e && other.unit !== e.unit ? 'date' : by);
  const nextAxis = () => {
    const n = AXES.findIndex((a) => a.by === by);
    by = AXES[(n + 1) % AXES.length]?.by ?? 'meter';
  };
  let picked = $state<number | null>(null);
  let lanes = $state<Lanes>();
  const last = $derived((e?.samples.length ?? 0) - 1);
  const at = $derived(picked === null ? last : Math.min(picked, last));

  let otherPicked = $state<number | null>(null);
  const otherAt = $derived(Math.min(otherPicked ?? Infinity, (other?.samples.length ?? 0) - 1));

  const step = (n: 1 | -1) => (picked = Math.max(0, Math.min(last, at + n)));
  const open = (sample: string | undefined) => {
    if (sample) void goto(`/judge/${encodeURIComponent(sample)}`);
  };
  useKeys(
    {
      ArrowLeft: () => step(-1),
      ArrowRight: () => step(1),
      Enter: () => open(e?.samples[at]?.sample),
      m: nextAxis,
      r: () => (as = as === 'read' ? 'rate' : 'read'),
      l: () => (limits = !limits),
      s: () => (sisters = !sisters),
      v: () => (tall = tall === 4 ? 1 : tall * 2),
      '+': () => lanes?.zoom(0.6),
      '-': () => lanes?.zoom(1 / 0.6),
      0: () => lanes?.all(),
      h: () => void goto(`/run?engine=${encodeURIComponent(code)}`),
    },
    [
      { keys: '← →', does: 'sample by sample' },
      { keys: 'Enter', does: 'open the sample' },
      { keys: 'm', does: 'axis by meter, by date, by what is on the oil' },
      { keys: 'r', does: 'metals as read or as rate' },
      { keys: 'l', does: 'limits in view, or scaled to what happened' },
      { keys: 's', does: 'sister engines at the same hours, as a band' },
      { keys: 'v', does: 'strips twice, four times as high; a press on a symbol: that strip alone' },
      { keys: '+ − 0', does: 'zoom in, out, all; or drag' },
      { keys: 'h', does: 'decide whether it may run' },
    ],
  );
</script>

<svelte:head><title>{code} · Keen Tracer</title></svelte:head>

{#if e}
  <div class="page">
    <main class="main">
      <div class="head">
        <h1>{e.code} {e.name}</h1>
        <p class="may" class:halt={e.state.may_run === 'do_not_run' || e.state.may_run === 'past_its_time'}>
          {e.state.may_run_words}{#if e.state.run}<span class="by"
              >&ensp;{e.state.run.by}, {dayYear(e.state.run.on)}</span
            >{/if}
        </p>
        <a class="no-print" href="/run?engine={encodeURIComponent(e.code)}">Decide</a>
        <a class="no-print" href="/collect/{encodeURIComponent(e.code)}">Sample, log</a>
        <a class="no-print" href="/engine/{encodeURIComponent(e.code)}/log"
          >Correct the record, sampling plan</a
        >
        <a
          class="no-print"
          href="/api/engines/{encodeURIComponent(e.code)}/history.pdf"
          target="_blank"
          rel="noopener">History (PDF)</a
        >
        <CaseLink engine={e.code} from="engine" />
        <span class="muted">{meter(e.dial, e.unit)} · {e.depot ?? 'no depot'}</span>
        <Comb teeth={e.comb} />
        <div class="switches no-print">
          <span class="muted">Axis</span>
          {#each AXES as a (a.by)}
            <button aria-pressed={shared === a.by} onclick={() => (by = a.by)}>{a.words}</button>
          {/each}
          <span class="muted">Metals</span>
          <button aria-pressed={as === 'read'} onclick={() => (as = 'read')}>as read</button>
          <button aria-pressed={as === 'rate'} onclick={() => (as = 'rate')}
            >{e.unit === 'outing' ? 'per outing' : `per 100 ${e.unit}`}</button
          >
          <button aria-pressed={limits} onclick={() => (limits = !limits)}>limits in view</button>
          <button aria-pressed={sisters} onclick={() => (sisters = !sisters)}>sisters</button>
          <button onclick={() => (tall = tall === 4 ? 1 : tall * 2)}>height ×{tall}</button>
          {#key beside}<Beside engine={e.code} code={beside} onchoose={putBeside} />{/key}
        </div>
      </div>
      <TwoLines state={e.state} />
      <Fold engine={e.code} state={e.state} />
      <OutcomeForm engine={e.code} today={e.today} />
      {#if e.next_up.length}
        <ul class="next" aria-label="Next at this engine">
          {#each e.next_up as n (n.group)}
            <li>
              <span class="muted">Next {n.group}:</span>
              {n.words},
              {#if n.late}<b>{n.late === 1 ? 'a day' : `${n.late} days`} late</b
                >{:else if n.on === e.today}today{:else}{day(n.on)}{/if}{#if n.at_dial !== null && !n.late},
                at {meter(n.at_dial, e.unit)}{/if}
            </li>
          {/each}
          {#each e.waits as w (w.words)}
            <li><span class="muted">Waits:</span> {w.words}, for {w.until.join(' and ')}</li>
          {/each}
        </ul>
      {/if}
      {#if e.queries.length}
        <details class="queries">
          <summary
            >{e.queries.length === 1 ? 'One record does not fit' : `${e.queries.length} records do not fit`}: {e
              .queries[0]?.words}</summary
          >
          {#each e.queries as q (q.key)}<QueryCard query={q} />{/each}
        </details>
      {/if}
      {#if beside && twin.isError}<p role="alert">{twin.error.message}</p>{/if}
      {#if e.samples.length || e.charges.length || e.events.length}
        <div class:two={other}>
          <section aria-label="{e.code} strips">
            {#if other}<h2>{e.code} {e.name}</h2>{/if}
            <Lanes
              bind:this={lanes}
              bind:view
              engine={e}
              beside={other}
              by={shared}
              {as}
              {limits}
              {sisters}
              {tall}
              {at}
              onpick={(n) => (picked = n)}
              onopen={open}
            />
          </section>
          {#if other}
            <section aria-label="{other.code} strips">
              <h2><a href="/engine/{encodeURIComponent(other.code)}">{other.code} {other.name}</a></h2>
              <Lanes
                bind:view
                engine={other}
                beside={e}
                by={shared}
                {as}
                {limits}
                {sisters}
                {tall}
                at={otherAt}
                onpick={(n) => (otherPicked = n)}
                onopen={open}
              />
            </section>
          {/if}
        </div>
      {:else}
        <p class="empty">
          Nothing is on record for this engine yet. Log something, enter a report, or bring its history in
          under <a href="/exchange">Exchange</a>.
        </p>
      {/if}
    </main>
    <Side engine={e} {at} />
  </div>
{:else if engine.isError}
  <main class="empty">
    <p role="alert">{engine.error.message}</p>
    <a href="/wall">Back to the Wall</a>
  </main>
{:else}
  <main class="empty muted">Reading the history…</main>
{/if}

<style>
  .page {
    flex: 1;
    min-height: 0;
    display: grid;
    grid-template-columns: minmax(0, 1fr) 280px;
    height: calc(100vh - 46px);
  }
  .main {
    padding: 10px 18px;
    overflow: auto;
  }
  .head {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 14px;
  }
  .may {
    font-weight: 650;
  }
  .may.halt {
    color: var(--stop);
    border-left: 5px solid var(--stop);
    padding-left: 8px;
  }
  .by {
    font-weight: 400;
  }
  .switches {
    margin-left: auto;
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
    font-size: 13px;
  }
  .switches button {
    cursor: pointer;
    white-space: nowrap;
    padding: 3px 6px;
    border-bottom: 2px solid transparent;
  }
  .switches button[aria-pressed='true'] {
    font-weight: 700;
    border-bottom-color: var(--ink);
  }
  .two {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    gap: 0 14px;
  }
  .next {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 22px;
    margin: 4px 0;
    font-size: 13.5px;
  }
  .queries {
    display: grid;
    gap: 8px;
    padding-bottom: 8px;
    border-left: 4px solid var(--due);
    padding-left: 10px;
    max-width: 760px;
  }
  .queries summary {
    cursor: pointer;
    font-size: 13px;
  }
  .empty {
    padding: 40px 18px;
  }
  @media (max-width: 900px) {
    .two {
      grid-template-columns: minmax(0, 1fr);
    }
    .page {
      display: block;
      height: auto;
    }
  }
  @media print {
    .page {
      display: block;
      height: auto;
    }
  }
</style>
