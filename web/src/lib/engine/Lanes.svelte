<script lang="ts">
  import { mine } from '../mine.svelte';
  import { scaleLinear } from 'd3-scale';
  import type { Schemas } from '../api/client';
  import StickMark from '../draw/StickMark.svelte';
  import { LEVELS, computed, figure } from '../words';
  import {
    along,
    beyond,
    curves,
    extent,
    grouped,
    laneRange,
    laneScale,
    limitSteps,
    rowsOfWords,
    shown,
    ticks,
    zoomed,
    type AxisBy,
    type ChargeAt,
    type Dated,
    type MetalsAs,
  } from './lanes';

  interface Props {
    engine: Schemas['EngineOut'];
    by: AxisBy;
    as: MetalsAs;
    limits: boolean;
    at: number;
    onpick: (n: number) => void;
    onopen: (sample: string) => void;
  }
  let { engine, by, as, limits, at, onpick, onopen }: Props = $props();

  const LEFT = 92;
  const STRIP = 32;
  let width = $state(960);
  let view = $state<[number, number] | null>(null);
  let drag = $state<{ from: number; to: number } | null>(null);

  const plot = $derived(Math.max(width - LEFT - 26, 200));
  const whole = $derived(extent(engine, by));
  const domain = $derived(view ?? whole);
  const scale = $derived(scaleLinear().domain(domain).range([0, plot]));
  const x = $derived((what: Dated): number | null => {
    const v = along(by, what);
    return v === null ? null : scale(v);
  });
  const inside = (px: number | null): px is number => px !== null && px >= -1 && px <= plot + 1;

  const chargeOf = $derived(new Map(engine.samples.map((s) => [s.sample, s.charge])));
  const starts = $derived(
    new Map<number, ChargeAt>(
      engine.charges.flatMap((c) =>
        c.start_on === null ? [] : [[c.number, { number: c.number, on: c.start_on, total: c.start }]],
      ),
    ),
  );
  const groups = $derived(grouped(engine.lanes));
  const now = $derived(
    scale(by === 'date' ? new Date(engine.today).getTime() : (engine.now_total ?? domain[1])),
  );
  const chosen = $derived(engine.samples[at]);
  const crosshair = $derived(chosen ? x(chosen) : null);
  const per = $derived(engine.unit === 'outing' ? 'per outing' : `per 100 ${engine.unit}`);

  const events = $derived(
    engine.events.flatMap((e) => {
      const px = x(e);
      return inside(px) && e.kind !== 'oil_change' && e.kind !== 'top_up'
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
        const h = lane.channel === 'thickness' ? 74 : STRIP;
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
    onpointerdown={down}
    onpointermove={moved}
    onpointerup={up}
    onpointerleave={() => (drag = null)}
  >
    <defs>
      <clipPath id="plot"><rect x="-7" y="0" width={plot + 14} {height} /></clipPath>
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
      {#if g.title === 'Wear'}<text x={LEFT - 4} y={g.top + 12} class="small" text-anchor="end"
          >{as === 'rate' ? per : 'as read'}</text
        >{/if}
    {/each}
    <text x="0" y={placed.end + 12} class="title">Work, symptoms</text>

    <g transform="translate({LEFT} 0)">
      <g clip-path="url(#plot)">
        {#each engine.charges as c (c.number)}
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
            {@const two = lane.channel === 'thickness'}
            {@const how = lane.channel === 'wear' ? as : 'read'}
            {@const range = two
              ? laneRange(lane, [engine.grade_low, engine.grade_high])
              : laneScale(lane, how, limits)}
            {@const ys = scaleLinear()
              .domain(range)
              .range([y + h, y + 2])
              .clamp(true)}
            {@const held = limitSteps(lane, how, { x, y: ys }, plot)}
            {#if two && engine.grade_low !== null}
              {@const top = engine.grade_high === null ? y : ys(engine.grade_high)}
              <rect
                x="0"
                y={top}
                width={plot}
                height={Math.max(ys(engine.grade_low) - top, 0)}
                fill="var(--zone-clear)"
                stroke="var(--edge)"
              />
              <rect
                x="0"
                y={ys(engine.grade_low)}
                width={plot}
                height={Math.max(y + h - ys(engine.grade_low), 0)}
                fill="url(#out-of-grade)"
              />
            {:else}
              <line x1="0" x2={plot} y1={y + h} y2={y + h} stroke="var(--line)" />
            {/if}
            {#if !two}
              <path d={held[0]} fill="none" stroke="var(--watch)" stroke-dasharray="5 3" />
              <path d={held[1]} fill="none" stroke="var(--act)" stroke-dasharray="8 3" />
            {/if}
            <path
              d={curves(lane, how, chargeOf, starts, { x, y: ys })}
              fill="none"
              stroke="var(--ink)"
              stroke-width="1.4"
            />
            {#if how === 'rate' && lane.points.every((p) => p.rate === null)}
              <text x="6" y={y + h - 6} class="small"
                >rates withheld: non-detects, too short or within the test's noise</text
              >
            {/if}
            {#each lane.points as p (p.sample)}
              {@const px = x(p)}
              {@const v = shown(p, how)}
              {#if inside(px) && v !== null}
                <circle
                  cx={px}
                  cy={ys(v)}
                  r={p.level ? 3.6 : 2.6}
                  fill={p.censor === 1
                    ? 'var(--paper)'
                    : p.level
                      ? `var(--${LEVELS[p.level].toLowerCase()})`
                      : 'var(--ink)'}
                  stroke="var(--ink)"
                />
              {/if}
            {/each}
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
        {#if inside(px)}
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
        <text x="14" y={y + h / 2 + 6} class="symbol">{lane.symbol}</text>
        {#if lane.channel === 'thickness'}
          {#if engine.grade_low !== null}
            <text x={LEFT - 4} y={y + h - 14} class="small" text-anchor="end">{figure(engine.grade_low)}</text
            >
            {#if engine.grade_high !== null}<text x={LEFT - 4} y={y + 16} class="small" text-anchor="end"
                >{figure(engine.grade_high)}</text
              >{/if}
          {/if}
        {:else}
          {@const [low, high] = laneScale(lane, how, limits)}
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
