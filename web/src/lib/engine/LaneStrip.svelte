<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import type { Schemas } from '../api/client';
  import { LEVELS } from '../words';
  import {
    curves,
    limitSteps,
    ribbons,
    shown,
    stretch,
    type AxisBy,
    type Behind,
    type ChargeAt,
    type Dated,
    type MetalsAs,
  } from './lanes';

  interface Props {
    engine: Schemas['EngineOut'];
    /** Another engine whose strips stand on the same axes. */
    beside: Schemas['EngineOut'] | null;
    lane: Schemas['Lane'];
    place: { y: number; h: number; plot: number };
    ways: { by: AxisBy; as: MetalsAs; limits: boolean; behind: readonly Behind[] };
    x: (what: Dated & { sample?: string }) => number | null;
    chargeOf: Map<string, number>;
    starts: Map<number, ChargeAt>;
    /** The newest charge: laid over one another it is the picture, the others stand behind it. */
    newest: number;
  }
  let { engine, beside, lane, place, ways, x, chargeOf, starts, newest }: Props = $props();

  const y = $derived(place.y);
  const h = $derived(place.h);
  const plot = $derived(place.plot);
  const over = $derived(ways.by === 'oil');
  const two = $derived(lane.channel === 'thickness');
  const how = $derived(lane.channel === 'wear' ? ways.as : 'read');
  const inside = (px: number | null): px is number => px !== null && px >= -1 && px <= plot + 1;
  const isNewest = (p: { sample: string }) => chargeOf.get(p.sample) === newest;
  const old = $derived({ ...lane, points: lane.points.filter((p) => !isNewest(p)) });
  const young = $derived(over ? { ...lane, points: lane.points.filter(isNewest) } : lane);
  const range = $derived(stretch(lane, engine, beside, ways));
  const ys = $derived(
    scaleLinear()
      .domain(range)
      .range([y + h, y + 2])
      .clamp(true),
  );
  const held = $derived(limitSteps(young, how, { x, y: ys }, plot));
</script>

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
{#each ways.behind as what (what)}
  <path
    d={ribbons(young, how, what, chargeOf, starts, { x, y: ys })}
    fill={what === 'expected' ? 'var(--due)' : 'none'}
    fill-opacity="0.16"
    stroke={what === 'expected' ? 'none' : 'var(--edge)'}
    stroke-dasharray="2 3"
  />
{/each}
{#if !two}
  <path d={held[0]} fill="none" stroke="var(--watch)" stroke-dasharray="5 3" />
  <path d={held[1]} fill="none" stroke="var(--act)" stroke-dasharray="8 3" />
{/if}
{#if over}
  <path d={curves(old, how, chargeOf, starts, { x, y: ys }, true)} fill="none" stroke="var(--edge)" />
{/if}
<path
  d={curves(young, how, chargeOf, starts, { x, y: ys })}
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
      r={p.level ? 3.6 : over && !isNewest(p) ? 1.6 : 2.6}
      fill={p.censor === 1
        ? 'var(--paper)'
        : p.level
          ? `var(--${LEVELS[p.level].toLowerCase()})`
          : 'var(--ink)'}
      stroke="var(--ink)"
    />
  {/if}
{/each}

<style>
  .small {
    font-size: 10.5px;
    fill: var(--muted);
  }
</style>
