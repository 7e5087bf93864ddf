<script lang="ts">
  import type { Schemas } from '../api/client';
  import { carries } from '../take/carried';
  import { polyline, rangeOf } from './control';

  interface Props {
    rows: Schemas['ControlOut'][];
  }
  let { rows }: Props = $props();

  const W = 250;
  const H = 54;
  let symbol = $state('');
  const one = $derived(rows.find((r) => r.symbol === symbol) ?? rows[0]);
  const around = $derived(one ? rangeOf([...one.z, ...one.ewma, one.band, -one.band]) : ([0, 1] as const));
  const sums = $derived(one ? rangeOf([...one.cusum, one.height, 0]) : ([0, 1] as const));
  const y = (v: number, [low, high]: readonly [number, number]) => H - ((v - low) / (high - low)) * H;
</script>

{#if one}
  <section
    aria-label="Control charts"
    data-carries
    {@attach carries(() => ({
      name: `${one.name}, distance from expectation`,
      columns: ['sample', 'sd above expectation', 'moving average', 'cumulative sum'],
      rows: one.samples.map((s, n) => [s, one.z[n] ?? null, one.ewma[n] ?? null, one.cusum[n] ?? null]),
    }))}
  >
    <h2>Distance from expectation</h2>
    <label
      >Of
      <select
        class="field"
        aria-label="Element"
        value={one.symbol}
        onchange={(e) => (symbol = e.currentTarget.value)}
        >{#each rows as r (r.symbol)}<option value={r.symbol}>{r.name}</option>{/each}</select
      ></label
    >
    <svg
      width={W}
      height={H + 4}
      role="img"
      aria-label="{one.name}, standard deviations above expectation with their moving average"
    >
      <g transform="translate(0 2)">
        {#each [one.band, 0, -one.band] as v (v)}<line
            x2={W}
            y1={y(v, around)}
            y2={y(v, around)}
            stroke="var(--edge)"
            stroke-dasharray={v === 0 ? '' : '3 3'}
          />{/each}
        {#each one.z as v, n (n)}<circle
            cx={(n / Math.max(one.z.length - 1, 1)) * W}
            cy={y(v, around)}
            r="1.8"
            fill="var(--muted)"
          />{/each}
        <path d={polyline(one.ewma, W, H, around)} fill="none" stroke="var(--ink)" stroke-width="1.5" />
      </g>
    </svg>
    <svg width={W} height={H + 4} role="img" aria-label="{one.name}, cumulative sum above expectation">
      <g transform="translate(0 2)">
        <line
          x2={W}
          y1={y(one.height, sums)}
          y2={y(one.height, sums)}
          stroke="var(--edge)"
          stroke-dasharray="3 3"
        />
        <path d={polyline(one.cusum, W, H, sums)} fill="none" stroke="var(--ink)" stroke-width="1.5" />
      </g>
    </svg>
    <p class="muted small">
      Points: each sample, in standard deviations; above: their moving average (EWMA 0.3, band ±3); below:
      what adds up above half a deviation (CUSUM, height 5). For looking at; no alarm comes from here.
    </p>
  </section>
{/if}

<style>
  section {
    display: grid;
    gap: 4px;
  }
  h2 {
    border-top: 1px solid var(--line);
    padding-top: 8px;
  }
  .small {
    font-size: 12px;
  }
</style>
