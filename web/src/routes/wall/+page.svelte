<script lang="ts">
  import { mine } from '$lib/mine.svelte';
  import { SvelteSet } from 'svelte/reactivity';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useWall } from '$lib/api/queries';
  import type { Schemas } from '$lib/api/client';
  import Comb from '$lib/draw/Comb.svelte';
  import Legend from '$lib/draw/Legend.svelte';
  import Trace from '$lib/draw/Trace.svelte';
  import { months, traceScale } from '$lib/draw/trace';
  import BoxDoor from '$lib/frame/BoxDoor.svelte';
  import { useKeys } from '$lib/frame/keys';
  import { carries } from '$lib/take/carried';
  import { day, figure, stake } from '$lib/words';
  import Graver from '$lib/wall/Graver.svelte';
  import { layout, orderOf, pageOf, visible, wallSheet, type Line } from '$lib/wall/window';

  const LEFT = 372;
  const RIGHT = 168;

  let width = $state(1240);
  let scroll = $state(0);
  let height = $state(640);
  let selected = $state(0);
  let sampleAt = $state(-1);
  const folded = new SvelteSet<string>();
  let lines = $state.raw<Line[]>([]);

  const depot = $derived(page.url.searchParams.get('depot'));
  const find = $derived(page.url.searchParams.get('find'));
  const by = $derived(orderOf(page.url.searchParams.get('by')));
  const shown = $derived(visible(lines, scroll - 200, scroll + height + 200));
  const wall = useWall(() => ({ depot, find, by, ...pageOf(shown) }));
  const data = $derived(wall.data);
  const all = $derived(data ? layout(data.groups, folded, selected) : []);
  $effect.pre(() => {
    lines = all;
  });
  const total = $derived((all.at(-1)?.top ?? 0) + (all.at(-1)?.height ?? 0));
  const scale = $derived(
    traceScale(data?.since ?? '2026-01-01', data?.until ?? '2026-12-31', Math.max(width - LEFT - RIGHT, 240)),
  );
  const now = $derived(data ? scale(data.today) : 0);
  const rowAt = (n: number): Schemas['WallRow'] | undefined => data?.rows[n - data.offset];
  const current = $derived(rowAt(selected));
  const samples = $derived(current?.trace.filter((m) => m.kind === 'sample' && scale(m.on) >= 0) ?? []);

  let scroller = $state<HTMLElement>();
  function keepInView(n: number) {
    const line = all.find((l) => l.index === n);
    if (!line || !scroller) return;
    if (line.top < scroller.scrollTop) scroller.scrollTop = line.top - 30;
    else if (line.top + line.height > scroller.scrollTop + height)
      scroller.scrollTop = line.top + line.height - height;
  }
  function select(n: number) {
    selected = Math.max(0, Math.min(n, (data?.total ?? 1) - 1));
    sampleAt = -1;
    keepInView(selected);
  }
  const raised = (g: string) => g !== 'quiet' && g !== 'overdue';
  function nextRaised(step: 1 | -1) {
    const groups = data?.groups ?? [];
    const inRaised = (n: number) =>
      by === 'need'
        ? groups.some((g) => raised(g.key) && n >= g.start && n < g.start + g.count)
        : (rowAt(n)?.level ?? 0) > 0;
    for (let n = selected + step; n >= 0 && n < (data?.total ?? 0); n += step)
      if (inRaised(n)) return select(n);
  }
  function moveSample(step: 1 | -1) {
    const from = sampleAt < 0 ? samples.length : sampleAt;
    sampleAt = Math.max(0, Math.min(samples.length - 1, from + step));
  }
  function open() {
    const sample = samples[sampleAt]?.sample;
    if (sample) void goto(`/judge/${encodeURIComponent(sample)}`);
    else if (current) void goto(`/engine/${encodeURIComponent(current.code)}`);
  }
  useKeys(
    {
      ArrowDown: () => select(selected + 1),
      ArrowUp: () => select(selected - 1),
      ArrowLeft: () => moveSample(-1),
      ArrowRight: () => moveSample(1),
      n: () => nextRaised(1),
      p: () => nextRaised(-1),
      Enter: open,
    },
    [
      { keys: '↑ ↓', does: 'engine' },
      { keys: '← →', does: 'its samples' },
      { keys: 'n p', does: 'next or previous raised engine' },
      { keys: 'Enter', does: 'open the engine, or the chosen sample' },
    ],
  );

  function filter(change: Record<string, string | null>) {
    const to = new URL(page.url);
    for (const [k, v] of Object.entries(change)) {
      if (v) to.searchParams.set(k, v);
      else to.searchParams.delete(k);
    }
    selected = 0;
    void goto(to, { replaceState: true, keepFocus: true });
  }
  function fold(key: string) {
    if (!folded.delete(key)) folded.add(key);
  }
</script>

<svelte:head><title>Wall · Keen Tracer</title></svelte:head>

<main class="wall">
  <div class="tools">
    <h1>{data?.total ?? '…'} engine{data?.total === 1 ? '' : 's'}</h1>
    <label class="no-print"
      ><span class="sr-only">Group by</span>
      <select class="field" value={by} onchange={(e) => filter({ by: e.currentTarget.value })}>
        <option value="need">By need</option>
        <option value="depot">By depot</option>
        <option value="risk">By chance × cost</option>
      </select></label
    >
    <label class="no-print"
      ><span class="sr-only">Depot</span>
      <select class="field" value={depot ?? ''} onchange={(e) => filter({ depot: e.currentTarget.value })}>
        <option value="">All depots</option>
        {#each data?.depots ?? [] as d (d)}<option value={d}>{d}</option>{/each}
      </select></label
    >
    <input
      class="field no-print"
      placeholder="Name contains"
      aria-label="Name contains"
      value={find ?? ''}
      oninput={(e) => filter({ find: e.currentTarget.value })}
    />
    <span class="muted">9 months back, 6 weeks ahead</span>
    <Legend />
  </div>
  {#if data && data.total === 0}
    <div class="empty">
      {#if depot || find}
        <p>No engine fits this filter.</p>
        <button class="press" onclick={() => filter({ depot: null, find: null })}>Show all</button>
      {:else}
        <h2>No engines yet. Begin with what you have.</h2>
        <p class="doors">
          <a class="press first" href="/report">I have a report</a>
          <a class="press" href="/exchange">I have a file</a>
          <a class="press" href="/fleet">I have engines, no reports</a>
        </p>
        <p class="doors"><BoxDoor /></p>
        <p class="muted">
          A report on paper or in a document is typed or pasted; a laboratory's CSV or XLSX, or our own open
          files, come in under Exchange; engines alone go into the fleet record. To look around first, the
          demo's box holds an invented fleet beside this one, as <code>./keen demo</code> does.
        </p>
      {/if}
    </div>
  {:else if data}
    <Graver lines={data.graver} />
    <svg class="axis" {width} height="22" aria-hidden="true">
      <g transform="translate({LEFT} 0)">
        {#each months(data.since, data.until, scale) as m (m.x)}
          {#if Math.abs(m.x + 16 - now) > 64}<text x={m.x + 3} y="16" font-size="12" fill="var(--muted)"
              >{m.word}</text
            >{/if}
        {/each}
        <text x={now} y="16" font-size="12" font-weight="700" text-anchor="middle" fill="var(--due)"
          >today, {day(data.today)}</text
        >
      </g>
    </svg>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div
      class="scroll"
      bind:this={scroller}
      bind:clientHeight={height}
      bind:clientWidth={width}
      onscroll={(e) => (scroll = e.currentTarget.scrollTop)}
      role="region"
      aria-label="Engines"
      tabindex="0"
      data-carries
      data-undrawn
      {@attach carries(() => ({ name: 'Wall', ...wallSheet(data.rows) }))}
    >
      <div class="sheet" style:height="{total + 8}px">
        <svg class="grid" {width} height={total} aria-hidden="true">
          <g transform="translate({LEFT} 0)">
            <rect x={now} y="0" width={scale.width - now} height={total} fill="var(--today-wash)" />
            {#each months(data.since, data.until, scale) as m (m.x)}
              <line x1={m.x} x2={m.x} y1="0" y2={total} stroke="var(--line)" stroke-dasharray="1 3" />
            {/each}
            <line x1={now} x2={now} y1="0" y2={total} stroke="var(--due)" stroke-width="1.5" />
          </g>
        </svg>
        {#each shown as line (line.group ? `g${line.group.key}` : line.index)}
          {#if line.group}
            <div class="head" style:top="{line.top}px">
              <button
                aria-expanded={!folded.has(line.group.key)}
                onclick={() => line.group && fold(line.group.key)}
              >
                <b>{line.group.label}</b> <span class="muted">{line.group.count}</span>
                {#if folded.has(line.group.key)}<span class="muted">folded</span>{/if}
              </button>
            </div>
          {:else if line.index !== undefined}
            {@const n = line.index}
            {@const row = rowAt(n)}
            <div
              class="row"
              class:selected={n === selected}
              style:top="{line.top}px"
              style:height="{line.height}px"
            >
              {#if row}
                <button
                  class="pick"
                  onclick={() => select(n)}
                  ondblclick={open}
                  aria-current={n === selected}
                >
                  <b class="code">{row.code}</b><span class="muted ell"
                    >{row.cases.length ? 'case · ' : ''}{row.name}</span
                  >
                </button>
                <span
                  class="may"
                  class:halt={row.group === 'do_not_run' || row.group === 'not_judged'}
                  class:firm={row.state.run?.state === 'restrict'}
                >
                  {row.state.may_run_words}
                </span>
                <Comb teeth={row.comb} />
                <Trace
                  {row}
                  {scale}
                  today={data.today}
                  selected={n === selected ? (samples[sampleAt]?.sample ?? null) : null}
                />
                <span class="next" class:late={(row.due?.overdue ?? 0) > 0}
                  >{#if by === 'risk' && row.risk !== null}<b class="figure stake">{figure(row.risk)}</b
                    >{/if}{row.next}</span
                >
                {#if n === selected}
                  <p class="reason">
                    <a href="/engine/{encodeURIComponent(row.code)}">Open {row.code}</a>
                    {#each row.cases as k (k.id)}<a href="/case/{k.id}">Case: {k.name}</a>{/each}
                    {#if by === 'risk' && row.risk !== null && row.failure_cost !== null}{stake(
                        row.risk,
                        row.failure_cost,
                        mine.money,
                      )}{/if}
                    {row.state.what}
                    <span class="muted">{row.state.what_next}</span>
                  </p>
                {/if}
              {:else}<span class="muted">…</span>{/if}
            </div>
          {/if}
        {/each}
      </div>
    </div>
  {:else if wall.isError}
    <p class="empty" role="alert">{wall.error.message}</p>
  {:else}
    <p class="empty muted">Reading the fleet…</p>
  {/if}
</main>

<style>
  .wall {
    flex: 1;
    min-height: 0;
    display: flex;
    flex-direction: column;
    padding: 10px 18px 0;
    height: calc(100vh - 46px);
  }
  .tools {
    display: flex;
    align-items: center;
    gap: 12px;
    flex-wrap: wrap;
  }
  .tools input {
    width: 130px;
  }
  .axis {
    display: block;
    flex: none;
  }
  .scroll {
    flex: 1;
    min-height: 0;
    overflow: auto;
  }
  .sheet {
    position: relative;
  }
  .grid {
    position: absolute;
    inset: 0;
  }
  .head {
    position: absolute;
    left: 0;
    right: 0;
    height: 30px;
    display: flex;
    align-items: end;
    border-bottom: 1px solid var(--edge);
  }
  .head button {
    cursor: pointer;
    padding: 2px 6px 3px 0;
    background: var(--paper);
  }
  .row {
    position: absolute;
    left: 0;
    right: 0;
    display: grid;
    grid-template-columns: 148px 124px 100px 1fr 168px;
    grid-template-rows: 28px auto;
    align-items: center;
    border-bottom: 1px solid var(--line);
  }
  .row.selected {
    background: color-mix(in srgb, var(--paper-raised) 88%, transparent);
    box-shadow: inset 3px 0 0 var(--ink);
  }
  .pick {
    display: flex;
    gap: 8px;
    align-items: baseline;
    text-align: left;
    cursor: pointer;
    height: 28px;
    padding: 0 8px;
    overflow: hidden;
  }
  .code {
    min-width: 42px;
    line-height: 28px;
    white-space: nowrap;
  }
  .ell {
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
    font-size: 13px;
  }
  .may {
    font-size: 13px;
    line-height: 1.05;
    padding-right: 6px;
    max-height: 28px;
    overflow: hidden;
  }
  .may.halt {
    color: var(--stop);
    font-weight: 700;
    border-left: 4px solid var(--stop);
    padding-left: 6px;
  }
  .may.firm {
    font-weight: 650;
  }
  .next {
    padding-left: 12px;
    font-size: 13px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .next.late {
    font-weight: 650;
    color: var(--act);
  }
  .stake {
    display: inline-block;
    min-width: 52px;
    padding-right: 8px;
  }
  .reason {
    grid-column: 1 / -1;
    padding: 0 8px 2px 58px;
    font-size: 13px;
    line-height: 18px;
    display: -webkit-box;
    line-clamp: 2;
    -webkit-line-clamp: 2;
    -webkit-box-orient: vertical;
    overflow: hidden;
  }
  .reason a {
    margin-right: 8px;
  }
  .doors {
    display: flex;
    gap: 10px;
    flex-wrap: wrap;
  }
  .empty {
    padding: 40px 8px;
    display: grid;
    gap: 8px;
    justify-items: start;
  }
  @media print {
    @page {
      size: A4 landscape;
      margin: 10mm;
    }
    .wall {
      height: auto;
    }
    .scroll {
      overflow: visible;
    }
  }
</style>
