<script lang="ts">
  import type { Schemas } from '../api/client';
  import { LEVELS, computed, expectation, figure } from '../words';
  import { beyondEnd, isNonDetect, place, printed, schoolZones, spark, zones } from './ladder';

  interface Props {
    one: Schemas['LadderOut'];
    lit: boolean;
    unit: string;
    onopen: () => void;
  }
  let { one, lit, unit, onopen }: Props = $props();

  const W = 190;
  const TRACK = 8;
  const at = (x: number) => place(one, x, W);
  const change = $derived(one.change?.words ?? '');
  // Aligned on the decimal point down the column.
  const parts = $derived.by(() => {
    const point = one.text.indexOf('.');
    return point < 0 ? [one.text, ''] : [one.text.slice(0, point), one.text.slice(point)];
  });
  const interval = $derived(
    one.low !== null
      ? `${computed(one.low)} to ${computed(one.high)}${one.same_laboratory || one.previous === null ? '' : ', other laboratory'}`
      : one.censor === 1
        ? 'non-detect'
        : '',
  );
  const fresh = $derived(
    one.fresh === null || one.fresh_from === 'zero' || one.fresh_from === 'unknown'
      ? ''
      : `fresh ${figure(one.fresh)}${one.fresh_from === 'batch' ? '' : ', stand-in'}`,
  );
  const expected = $derived(
    one.expected
      ? `expected ${expectation(one.expected.value)} (${expectation(one.expected.low)} to ${expectation(one.expected.high)})`
      : '',
  );
  const words = $derived(
    `${one.name} ${one.text} ${one.unit}` +
      (one.watch === null ? '' : `, Watch from ${computed(one.watch)}`) +
      (one.act === null ? '' : `, Act from ${computed(one.act)}`) +
      (one.watch_low === null ? '' : `, Watch below ${computed(one.watch_low)}`) +
      (expected === '' ? '' : `; ${expected}`) +
      (one.average === null ? '' : `; ${one.average.words}`) +
      (one.low === null ? '' : `; own interval ${computed(one.low)} to ${computed(one.high)}`),
  );
</script>

<div class="ladder" class:lit id="ladder-{one.column}">
  <button class="name" onclick={onopen} title="How was this reached?">{one.name}</button>
  <span class="value figure">{parts[0]}<span class="fraction">{parts[1]}</span></span>
  <span class="unit muted">{one.unit}</span>
  <span class="change">
    <span>{change}</span>
    <span class="muted">{[interval, fresh].filter(Boolean).join(' · ')}</span>
    {#if expected}<span class="expected">{expected}</span>{/if}
    {#if one.average}<span class="muted average">{one.average.words}</span>{/if}
  </span>
  <svg width={W + 34} height="42" role="img" aria-label={words} class="axis">
    <defs>
      <pattern id="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="5" height="5" fill="var(--zone-act)" />
        <line x1="0" x2="0" y1="0" y2="5" stroke="var(--act)" stroke-width="1" />
      </pattern>
    </defs>
    {#each ['F', 'P', 'O'] as school, n (school)}
      <text x="0" y={12 + n * (TRACK + 1)} font-size="8" fill="var(--muted)">{school}</text>
    {/each}
    <g transform="translate(12 4)">
      <rect x="0" y="0" width={W} height={TRACK} fill="var(--zone-clear)" />
      {#each zones(one, W) as z (z.level + '/' + z.from)}
        <rect
          x={z.from + 0.5}
          y="0.5"
          width={Math.max(z.to - z.from - 1, 1)}
          height={TRACK - 1}
          fill={z.level === 2 ? 'url(#hatch)' : 'var(--zone-watch)'}
          stroke={z.level === 2 ? 'var(--act)' : 'var(--watch)'}
        />
      {/each}
      {#each one.schools as s, n (s.letter)}
        {@const y = (n + 1) * (TRACK + 1)}
        {#if s.level === null}
          <line
            x1="0"
            x2={W}
            y1={y + TRACK / 2}
            y2={y + TRACK / 2}
            stroke="var(--edge)"
            stroke-dasharray="2 4"><title>{s.why_not}</title></line
          >
        {:else}
          <rect x="0" {y} width={W} height={TRACK} fill="var(--zone-clear)" />
          {#each schoolZones(one, s, W) as z (z.level)}
            <rect
              x={z.from + 0.5}
              y={y + 0.5}
              width={Math.max(z.to - z.from - 1, 1)}
              height={TRACK - 1}
              fill={z.level === 2 ? 'url(#hatch)' : 'var(--zone-watch)'}
              stroke={z.level === 2 ? 'var(--act)' : 'var(--watch)'}
            />
          {/each}
        {/if}
      {/each}
      {#if one.expected}
        <path
          d="M{at(one.expected.low)} 29H{at(one.expected.high)}"
          stroke="var(--due)"
          stroke-width="3"
          fill="none"
        />
        <circle cx={at(one.expected.value)} cy="29" r="2.5" fill="var(--due)" />
      {/if}
      {#if one.fresh !== null && one.fresh_from !== 'zero' && one.fresh_from !== 'unknown'}
        <path d="M{at(one.fresh) - 3.5} -4h7l-3.5 5z" fill="var(--ink)" />
      {/if}
      {#if one.average}
        <rect
          x={at(one.average.average) - 3}
          y="-5"
          width="6"
          height="6"
          fill="var(--paper)"
          stroke="var(--ink)"
          ><title>{one.average.laboratory}: average for the model {figure(one.average.average)}</title></rect
        >
      {/if}
      {#if one.previous !== null && one.comparable}
        <line x1={at(one.previous)} x2={at(one.previous)} y1="0" y2={3 * TRACK + 2} stroke="var(--muted)" />
      {/if}
      {#if one.value !== null}
        {#if isNonDetect(one)}
          <rect
            x="0.5"
            y="1"
            width={Math.max(at(one.value), 2)}
            height={3 * TRACK}
            fill="none"
            stroke="var(--ink)"
          />
        {:else}
          {#if one.low !== null && one.high !== null}
            <path
              d="M{at(one.low)} 9v8M{at(one.low)} 13H{at(one.high)}M{at(one.high)} 9v8"
              stroke="var(--ink)"
              stroke-width="1.5"
              fill="none"
            />
          {/if}
          <line
            x1={at(one.value)}
            x2={at(one.value)}
            y1="-1"
            y2={3 * TRACK + 3}
            stroke="var(--ink)"
            stroke-width="3"
          />
        {/if}
        {#if beyondEnd(one)}<path d="M{W + 3} 8l8 5l-8 5z" fill="var(--ink)" />{/if}
      {/if}
      {#each printed(one, W) as p (p.value)}
        <text
          x={p.x}
          y="37"
          font-size="10"
          text-anchor={p.x < 6 ? 'start' : 'middle'}
          fill="var(--{p.level === 2 ? 'act' : p.level === 1 ? 'watch' : 'muted'})"
          >{computed(p.value) || '0'}</text
        >
      {/each}
    </g>
  </svg>
  <span class="schools figure" aria-label="Level by fixed limits, peers, own">
    <b class={one.level ? LEVELS[one.level].toLowerCase() : ''}
      >{one.level === null ? '–' : LEVELS[one.level][0]}</b
    >
    {#each one.schools as s (s.letter)}
      {@const says = s.level === null ? '–' : (LEVELS[s.level] ?? '')}
      <b class={s.level ? says.toLowerCase() : 'muted'} title={s.why_not || `${s.n} behind it`}>{says[0]}</b>
    {/each}
  </span>
  <span class="rate figure">
    {#if one.rate_per_100 !== null && !one.rate_withheld}{computed(
        one.rate_per_100,
      )}{:else if one.rate_withheld}<span class="muted" title="{one.rate_withheld} {unit}">–</span>{/if}
  </span>
  <svg width="40" height="22" aria-hidden="true" class="spark">
    <path d={spark(one.trace, 36, 20)} fill="none" stroke="var(--ink)" stroke-width="1.3" />
  </svg>
</div>

<style>
  .ladder {
    display: grid;
    grid-template-columns: 86px 60px 40px minmax(120px, 1fr) 226px 54px 44px 40px;
    align-items: start;
    padding: 3px 4px 0;
    min-height: 44px;
    border-left: 3px solid transparent;
  }
  .lit {
    border-left-color: var(--due);
    background: var(--paper-raised);
  }
  .name {
    text-align: left;
    cursor: pointer;
    text-decoration: underline;
    text-decoration-color: var(--line);
    text-underline-offset: 3px;
    padding-top: 4px;
  }
  .value {
    text-align: right;
    font-weight: 650;
    padding-top: 4px;
  }
  .fraction {
    display: inline-block;
    width: 3ch;
    text-align: left;
  }
  .unit {
    font-size: 11px;
    padding: 6px 0 0 4px;
    line-height: 1.1;
  }
  .change {
    display: grid;
    font-size: 12.5px;
    padding: 3px 10px 0 6px;
  }
  .expected {
    color: var(--due);
    white-space: nowrap;
    font-size: 12px;
  }
  .average {
    font-size: 12px;
  }
  .axis {
    display: block;
    overflow: visible;
  }
  .schools {
    white-space: nowrap;
  }
  .schools,
  .rate {
    padding-top: 4px;
  }
  .rate {
    text-align: right;
  }
  .spark {
    margin: 3px 0 0 6px;
  }
  .watch {
    color: var(--watch);
  }
  .act {
    color: var(--act);
  }
</style>
