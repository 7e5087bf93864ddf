<script lang="ts">
  import { mine } from '../mine.svelte';
  import { scaleLinear } from 'd3-scale';
  import type { Schemas } from '../api/client';
  import { carries } from '../take/carried';
  import LaneStrip from './LaneStrip.svelte';
  import StickMark from '../draw/StickMark.svelte';
  import { LEVELS, computed, figure } from '../words';
  import {
    along,
    beyond,
    both,
    extent,
    grouped,
    rowsOfWords,
    stretch,
    stripSheet,
    ticks,
    zoomed,
    type AxisBy,
    type Behind,
    type ChargeAt,
    type Dated,
    type MetalsAs,
  } from './lanes';

  interface Props {
    engine: Schemas['EngineOut'];
    /** Another engine whose strips stand on the same axes. */
    beside?: Schemas['EngineOut'] | null;
    /** The stretch in view; null for all of it. */
    view?: [number, number] | null;
    by: AxisBy;
    as: MetalsAs;
    limits: boolean;
    sisters: boolean;
    tall: number;
    at: number;
    onpick: (n: number) => void;
    onopen: (sample: string) => void;
  }
  let {
    engine,
    beside = null,
    view = $bindable(null),
    by,
    as,
    limits,
    sisters,
    tall,
    at,
    onpick,
    onopen,
  }: Props = $props();

  const LEFT = 92;
  const STRIP = 32;
  let width = $state(960);
  let drag = $state<{ from: number; to: number } | null>(null);

  const plot = $derived(Math.max(width - LEFT - 26, 200));
  const whole = $derived(beside ? both(extent(engine, by), extent(beside, by)) : extent(engine, by));
  const domain = $derived(view ?? whole);
  const scale = $derived(scaleLinear().domain(domain).range([0, plot]));
  const hoursOf = $derived(new Map(engine.samples.map((s) => [s.sample, s.hours])));
  const x = $derived((what: Dated & { sample?: string }): number | null => {
    const hours = what.sample === undefined ? (what.hours ?? null) : (hoursOf.get(what.sample) ?? null);
    const v = along(by, { ...what, hours });
    return v === null ? null : scale(v);
  });
  const behind = $derived<Behind[]>(sisters ? ['sisters', 'expected'] : ['expected']);
  const ways = $derived({ by, as, limits, behind });
  const hasSisters = $derived(engine.lanes.some((l) => l.points.some((p) => p.sisters)));
  /** The lane that stands large, for a closer look. */
  let large = $state('');
  const inside = (px: number | null): px is number => px !== null && px >= -1 && px <= plot + 1;

  const chargeOf = $derived(new Map(engine.samples.map((s) => [s.sample, s.charge])));
  const starts = $derived(
    new Map<number, ChargeAt>(
      engine.charges.flatMap((c) =>
        c.start_on === null
          ? []
          : [[c.number, { number: c.number, on: c.start_on, total: c.start, hours: 0 }]],
      ),
    ),
  );
  // Laid over one another, the newest charge is the picture and the others stand behind it.
  const newest = $derived(engine.samples.findLast((s) => s.arrived)?.charge ?? 0);
  const groups = $derived(grouped(engine.lanes, beside?.lanes));
  const now = $derived(
    scale(
      by === 'date'
        ? new Date(engine.today).getTime()
        : by === 'oil'
          ? -domain[1]
          : (engine.now_total ?? domain[1]),
    ),
  );
  const chosen = $derived(engine.samples[at]);
  const crosshair = $derived(chosen ? x(chosen) : null);
  const per = $derived(engine.unit === 'outing' ? 'per outing' : `per 100 ${engine.unit}`);

  const events = $derived(
    engine.events.flatMap((e) => {
      const px = x(e);
      return by !== 'oil' && inside(px) && e.kind !== 'oil_change' && e.kind !== 'top_up'
        ? [{ x: px, word: e.words.slice(0, 44) }]
        : [];
    }),
  );
  const eventRows = $derived(rowsOfWords(events));
  const eventHeight = $derived(16 * (Math.max(0, ...eventRows) + 1) + 4);

  /** Every lane with its place down the page. */
  const placed = $derived.by(() => {
    let y = 62;
    const out: {
      title: string;
      top: number;
      bottom: number;
      lanes: { lane: Schemas['Lane']; y: number; h: number }[];
    }[] = [];
    for (const g of groups) {
      const top = y;
      y += 18;
      const lanes = g.lanes.map((lane) => {
        const h = lane.column === large ? 220 : (lane.channel === 'thickness' ? 74 : STRIP) * tall;
        const one = { lane, y, h };
        y += h + 4;
        return one;
      });
      y += 4;
      out.push({ title: g.title, top, bottom: y, lanes });
    }
    return { groups: out, end: y };
  });
  const height = $derived(placed.end + eventHeight + 44);

  export function zoom(factor: number) {
    const middle = crosshair === null ? 0.5 : Math.min(Math.max(crosshair / plot, 0), 1);
    view = zoomed(domain, whole, factor, middle);
  }
  export function all() {
    view = null;
  }
  $effect.pre(() => {
    void by;
    view = null;
  });

  function nearest(px: number): number {
    let best = -1;
    let distance = Infinity;
    engine.samples.forEach((s, n) => {
      const sx = x(s);
      if (sx !== null && Math.abs(sx - px) < distance) [best, distance] = [n, Math.abs(sx - px)];
    });
    return best;
  }
  const localX = (event: PointerEvent) =>
    event.clientX - (event.currentTarget as Element).getBoundingClientRect().left - LEFT;

  function down(event: PointerEvent) {
    if (event.button !== 0) return;
    drag = { from: localX(event), to: localX(event) };
  }
  function moved(event: PointerEvent) {
    const px = localX(event);
    if (drag) drag = { ...drag, to: px };
    else if (px > 0) onpick(nearest(px));
  }
  function up() {
    if (drag && Math.abs(drag.to - drag.from) > 12) {
      const [a, b] = [Math.min(drag.from, drag.to), Math.max(drag.from, drag.to)];
      view = [scale.invert(Math.max(a, 0)), scale.invert(Math.min(b, plot))];
    } else if (drag && drag.from > 0) onpick(nearest(drag.from));
    drag = null;
  }
</script>

<div class="lanes" bind:clientWidth={width}>
  <svg
    {width}
    {height}
    role="group"
    aria-label="History of {engine.code} along the {by}"
    data-carries
    {@attach carries(() => ({ name: `${engine.code} strips`, ...stripSheet(engine, as) }))}
    onpointerdown={down}
    onpointermove={moved}
    onpointerup={up}
    onpointerleave={() => (drag = null)}
  >
    <defs>
      <clipPath id="plot-{engine.code}"><rect x="-7" y="0" width={plot + 14} {height} /></clipPath>
      <pattern
        id="out-of-grade"
        width="5"
        height="5"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <rect width="5" height="5" fill="var(--zone-act)" />
        <line x1="0" x2="0" y1="0" y2="5" stroke="var(--act)" />
      </pattern>
    </defs>
    <text x="0" y="14" class="title">Verdicts</text>
    <text x="0" y="46" class="title">Charges</text>
    {#each placed.groups as g (g.title)}
      <line x1="0" x2={width} y1={g.top - 2} y2={g.top - 2} stroke="var(--line)" />
      <text x="0" y={g.top + 12} class="title">{g.title}</text>
      {#if g === placed.groups[0]}<text x={LEFT + plot} y={g.top + 12} class="small" text-anchor="end"
          >shaded: expected, 95 %{sisters
            ? hasSisters
              ? '; dashed: its sisters at the same hours'
              : '; too few sisters of it are published'
            : ''}</text
        >{/if}
      {#if g.title === 'Wear'}<text x={LEFT - 4} y={g.top + 12} class="small" text-anchor="end"
          >{as === 'rate' ? per : 'as read'}</text
        >{/if}
    {/each}
    <text x="0" y={placed.end + 12} class="title">Work, symptoms</text>

    <g transform="translate({LEFT} 0)">
      <g clip-path="url(#plot-{engine.code})">
        {#if by === 'oil'}
          <text x="2" y="45" class="small ink"
            >{engine.charges.length} charges laid over one another; the newest drawn full, over its expectation</text
          >
        {/if}
        {#each by === 'oil' ? [] : engine.charges as c (c.number)}
          {@const a = c.start_on === null ? null : x({ on: c.start_on, total: c.start })}
          {@const b = c.end_on === null ? now : x({ on: c.end_on, total: c.end })}
          {#if a !== null && b !== null}
            <rect
              x={a + 0.5}
              y="34.5"
              width={Math.max(b - a - 1, 1)}
              height="14"
              fill="var(--paper-side)"
              stroke="var(--edge)"
            />
            {#if b - a > 46}
              <text x={a + 4} y="45" class="small ink"
                >{c.number}{c.litres ? ` · ${mine.says(c.litres, 'L')}` : ''}{b - a > 150
                  ? ` · ${c.oil}`
                  : ''}</text
              >
            {/if}
            {#if by === 'meter'}
              {#each c.top_ups as t (t.at)}
                <line
                  x1={scale(t.at)}
                  x2={scale(t.at)}
                  y1="49"
                  y2="54"
                  stroke="var(--ink)"
                  stroke-width="1.5"
                />
              {/each}
            {/if}
          {/if}
        {/each}
        {#each placed.groups as g (g.title)}
          {#each g.lanes as { lane, y, h } (lane.column)}
            <LaneStrip
              {engine}
              {beside}
              {lane}
              place={{ y, h, plot }}
              {ways}
              {x}
              {chargeOf}
              {starts}
              {newest}
            />
          {/each}
        {/each}
        {#each events as e, n (n)}
          <line
            x1={e.x}
            x2={e.x}
            y1={placed.end + 2}
            y2={placed.end + 14 + 16 * (eventRows[n] ?? 0)}
            stroke="var(--ink)"
          />
          <text x={e.x + 4} y={placed.end + 13 + 16 * (eventRows[n] ?? 0)} class="small ink">{e.word}</text>
        {/each}
        {#if inside(now)}
          <line x1={now} x2={now} y1="0" y2={height - 22} stroke="var(--due)" stroke-width="1.5" />
        {/if}
        {#if inside(crosshair)}
          <line
            x1={crosshair}
            x2={crosshair}
            y1="22"
            y2={height - 22}
            stroke="var(--ink)"
            stroke-dasharray="2 3"
            pointer-events="none"
          />
        {/if}
        {#if drag && Math.abs(drag.to - drag.from) > 4}
          <rect
            x={Math.min(drag.from, drag.to)}
            y="0"
            width={Math.abs(drag.to - drag.from)}
            height={height - 22}
            fill="var(--due)"
            fill-opacity="0.15"
          />
        {/if}
      </g>
      {#each engine.samples as s, n (s.sample)}
        {@const px = x(s)}
        {#if inside(px) && (by !== 'oil' || s.charge === newest)}
          <g
            transform="translate({Math.round(px) - 6} 4)"
            role="link"
            tabindex="-1"
            class="open"
            aria-label="Sample {s.sample}, {s.level === null ? 'no verdict' : LEVELS[s.level]}"
            onclick={() => onopen(s.sample)}
            onkeydown={(e) => e.key === 'Enter' && onopen(s.sample)}
          >
            <rect
              x="-3"
              y="-4"
              width="18"
              height="24"
              fill="transparent"
              stroke={n === at ? 'var(--due)' : 'none'}
            />
            <StickMark level={s.level} state={s.arrived ? 'judged' : 'not_measured'} signed={s.signed} />
          </g>
        {/if}
      {/each}
      {#each ticks(by, domain, plot, engine.unit) as t (t.x)}
        {#if Math.abs(t.x - now) > 40}
          <text x={t.x} y={height - 6} class="small" text-anchor="middle">{t.word}</text>
        {/if}
        <line x1={t.x} x2={t.x} y1={height - 22} y2={height - 18} stroke="var(--edge)" />
      {/each}
      {#if inside(now)}<text x={now} y={height - 6} class="small today" text-anchor="middle">today</text>{/if}
    </g>

    {#each placed.groups as g (g.title)}
      {#each g.lanes as { lane, y, h } (lane.column)}
        {@const how = lane.channel === 'wear' ? as : 'read'}
        <text
          x="14"
          y={y + h / 2 + 6}
          class="symbol open"
          role="button"
          tabindex="-1"
          aria-label="{lane.name} {lane.column === large ? 'as the others' : 'larger'}"
          onclick={() => (large = lane.column === large ? '' : lane.column)}
          onkeydown={(e) => e.key === 'Enter' && (large = lane.column === large ? '' : lane.column)}
          >{lane.symbol}</text
        >
        {#if lane.channel === 'thickness'}
          {#if engine.grade_low !== null}
            <text x={LEFT - 4} y={y + h - 14} class="small" text-anchor="end">{figure(engine.grade_low)}</text
            >
            {#if engine.grade_high !== null}<text x={LEFT - 4} y={y + 16} class="small" text-anchor="end"
                >{figure(engine.grade_high)}</text
              >{/if}
          {/if}
        {:else}
          {@const [low, high] = stretch(lane, engine, beside, ways)}
          <text x={LEFT - 4} y={y + 10} class="small" text-anchor="end">{computed(high)}</text>
          <text x={LEFT - 4} y={y + h} class="small" text-anchor="end">{computed(low) || 0}</text>
          <text x={LEFT + 4} y={y + 7} class="small edge">{beyond(lane, how, high)}</text>
        {/if}
      {/each}
    {/each}
  </svg>
</div>

<style>
  .lanes {
    min-width: 0;
    user-select: none;
  }
  svg {
    display: block;
    touch-action: pan-y;
  }
  .title {
    font-size: 12.5px;
    font-weight: 650;
    fill: var(--ink);
  }
  .symbol {
    font-size: 12px;
    font-weight: 650;
    fill: var(--ink);
  }
  .small {
    font-size: 10.5px;
    fill: var(--muted);
  }
  .small.edge {
    font-size: 9.5px;
  }
  .small.ink {
    fill: var(--ink);
  }
  .small.today {
    fill: var(--due);
    font-weight: 700;
  }
  .open {
    cursor: pointer;
  }
</style>
