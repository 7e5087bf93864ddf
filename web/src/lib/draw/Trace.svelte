<script lang="ts">
  import type { Schemas } from '../api/client';
  import { day, levelWord } from '../words';
  import StickMark from './StickMark.svelte';
  import { running, storedSpans, type TraceScale } from './trace';

  interface Props {
    row: Schemas['WallRow'];
    scale: TraceScale;
    today: string;
    height?: number;
    selected?: string | null;
  }
  let { row, scale, today, height = 28, selected = null }: Props = $props();

  const base = $derived(height - 5);
  const now = $derived(scale(today));
  const spans = $derived(storedSpans(row.trace, scale, today));
  const marks = $derived(row.trace.filter((m) => scale(m.on) >= 0));
  const late = $derived((row.due?.overdue ?? 0) > 0);
  const samples = $derived(marks.filter((m) => m.kind === 'sample'));
  const words = $derived(
    `${samples.length} samples in view; last ${
      samples.length ? `${levelWord(samples.at(-1)?.level)} on ${day(samples.at(-1)?.on ?? today)}` : 'none'
    }${row.due ? `; next due ${day(row.due.on)}` : ''}`,
  );
</script>

<svg width={scale.width} {height} role="img" aria-label={words} class="trace">
  {#each running(spans, now) as s (s.from)}
    <line x1={s.from} x2={s.to} y1={base + 0.5} y2={base + 0.5} stroke="var(--ink)" />
  {/each}
  {#each spans as s (s.from)}
    <line
      x1={s.from}
      x2={s.to}
      y1={base + 0.5}
      y2={base + 0.5}
      stroke="var(--muted)"
      stroke-dasharray="1.5 4"
    />
  {/each}
  {#each marks as m, n (n)}
    {@const x = Math.round(scale(m.on))}
    {#if m.kind === 'oil'}
      <rect x={x + 3} y={base - 2} width="5" height="5" fill="var(--paper)" />
      <path d="M{x + 3.5} {base - 3}v7M{x + 7.5} {base - 3}v7" stroke="var(--ink)" />
    {:else if m.kind === 'work'}
      <path d="M{x - 3} {base + 3.5}h6" stroke="var(--ink)" stroke-width="2" />
    {:else if m.kind === 'symptom'}
      <path d="M{x - 3} {base - 17}l3 4l3 -4z" fill="none" stroke="var(--ink)" />
    {:else if m.kind === 'bottle'}
      <path
        d="M{x - 2.5} {base - 13}h5M{x - 1.5} {base - 13}v3l-3 3v7h9v-7l-3 -3v-3"
        fill="var(--paper)"
        stroke="var(--ink)"
      />
    {:else if m.kind === 'sample'}
      {#if m.sample === selected}<circle cx={x} cy={base - 8} r="11" fill="none" stroke="var(--due)" />{/if}
      <g transform="translate({x - 6} {base - 15})">
        <StickMark
          level={m.level ?? null}
          state={m.level === null ? 'not_measured' : 'judged'}
          signed={m.signed}
        />
      </g>
    {/if}
  {/each}
  {#if row.due}
    {@const x = Math.round(
      late ? Math.max(scale(row.due.on), 4) : Math.min(scale(row.due.on), scale.width - 8),
    )}
    {#if row.due.earliest !== row.due.latest && !late}
      <line
        x1={Math.max(scale(row.due.earliest), now)}
        x2={Math.min(scale(row.due.latest), scale.width)}
        y1={base + 2.5}
        y2={base + 2.5}
        stroke="var(--due)"
        stroke-dasharray="3 2"
      />
    {/if}
    {#if late}
      <line x1={x} x2={now} y1={base + 2.5} y2={base + 2.5} stroke="var(--act)" stroke-width="2" />
    {/if}
    <g transform="translate({x - 6} {base - 15})"><StickMark level={null} state="planned" /></g>
    {#if !late && scale(row.due.on) > scale.width - 8}<text
        x={scale.width - 16}
        y={base - 4}
        text-anchor="end"
        font-size="10"
        fill="var(--due)">later</text
      >{/if}
  {/if}
</svg>

<style>
  .trace {
    display: block;
    overflow: visible;
  }
</style>
