<script lang="ts">
  import type { Schemas } from '../api/client';
  import { carries } from '../take/carried';
  import StickMark from '../draw/StickMark.svelte';
  import { day, figure, levelWord } from '../words';
  import { addDays, marks, type Line, type Task } from './plan';

  interface Props {
    plan: Schemas['PlanOut'];
    chosen: string;
    onpick: (line: Line, task: Task) => void;
    onmove: (line: Line, task: Task, to: string) => void;
  }
  let { plan, chosen, onpick, onmove }: Props = $props();

  const LEFT = 176;
  const LANE = 30;
  let width = $state(900);
  const count = $derived(plan.days.length);
  const step = $derived(Math.max((width - LEFT - 12) / count, 4));
  const wide = $derived(Math.ceil(138 / step));
  const x = (n: number) => LEFT + (n + 0.5) * step;
  const rows = $derived.by(() => {
    let top = 26;
    return plan.lines.map((line) => {
      const found = marks(line, plan.today, count, wide);
      const lanes = 1 + Math.max(0, ...found.map((m) => m.lane));
      const row = { line, marks: found, top, height: lanes * LANE + 6 };
      top += row.height;
      return row;
    });
  });
  const total = $derived((rows.at(-1)?.top ?? 26) + (rows.at(-1)?.height ?? 0));
  const most = $derived(Math.max(1, ...plan.days.map((d) => Math.max(d.hours, d.used))));
  const weekend = (iso: string) => [0, 6].includes(new Date(iso).getUTCDay());
  const named = $derived(plan.days.filter((_, n) => n % Math.ceil(64 / step) === 0));

  // A mark follows the pointer by whole days; let go, it asks for that day.
  let drag = $state<{ key: string; from: number; days: number } | null>(null);
  const id = (line: Line, task: Task) => `${line.code}|${task.key}`;
  function grab(event: PointerEvent, line: Line, task: Task) {
    onpick(line, task);
    if (!task.movable) return;
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    drag = { key: id(line, task), from: event.clientX, days: 0 };
  }
  function pull(event: PointerEvent) {
    if (drag) drag.days = Math.round((event.clientX - drag.from) / step);
  }
  function drop(line: Line, task: Task) {
    const days = drag?.days ?? 0;
    drag = null;
    if (days) onmove(line, task, addDays(task.day, days));
  }
</script>

<div class="chart" bind:clientWidth={width}>
  <svg
    {width}
    height={total + 8}
    role="group"
    aria-label="Tasks by engine and day"
    data-carries
    {@attach carries(() => ({
      name: 'Plan',
      columns: ['engine', 'name', 'depot', 'task', 'earliest', 'day', 'latest', 'hours'],
      rows: plan.lines.flatMap((l) =>
        l.tasks.map((k) => [l.code, l.name, l.depot, k.what, k.earliest, k.day, k.latest, k.hours]),
      ),
    }))}
  >
    {#each plan.days as d, n (d.on)}
      {#if weekend(d.on)}<rect
          x={LEFT + n * step}
          y="20"
          width={step}
          height={total - 20}
          class="rest"
        />{/if}
    {/each}
    <line x1={x(0)} x2={x(0)} y1="20" y2={total} class="today" />
    {#each named as d (d.on)}
      <text x={x(plan.days.indexOf(d))} y="14" class="axis" text-anchor="middle">{day(d.on)}</text>
    {/each}
    {#each rows as row (row.line.code)}
      <g>
        <line x1="0" x2={width} y1={row.top + row.height} y2={row.top + row.height} class="rule" />
        <a href="/engine/{encodeURIComponent(row.line.code)}">
          <text x="4" y={row.top + 20} class="code">{row.line.code}</text>
          <text x="58" y={row.top + 20} class="name">{row.line.name.slice(0, 16)}</text>
        </a>
        <g transform="translate({LEFT - 16} {row.top + 16})"
          ><StickMark level={row.line.level as 0 | 1 | 2 | 3 | null} /></g
        >
        {#each row.marks as m (m.task.key)}
          {@const y = row.top + 16 + m.lane * LANE}
          {@const moving = drag?.key === id(row.line, m.task) ? (drag?.days ?? 0) : 0}
          {@const at = x(Math.max(0, m.at + moving))}
          <line
            x1={x(m.from)}
            x2={x(m.to)}
            y1={y + 10}
            y2={y + 10}
            class="range"
            class:late={m.task.late > 0}
          />
          <g
            role="button"
            tabindex="0"
            class="mark level{m.task.level}"
            class:late={m.task.late > 0}
            class:fixed={!m.task.movable}
            aria-pressed={chosen === id(row.line, m.task)}
            aria-label="{row.line.code}: {m.task.what}, {day(m.task.day)}{m.task.late
              ? `, ${m.task.late} days late`
              : ''}, {levelWord(m.task.level as 0 | 1 | 2 | 3)}"
            onpointerdown={(e) => grab(e, row.line, m.task)}
            onpointermove={pull}
            onpointerup={() => drop(row.line, m.task)}
            onpointercancel={() => (drag = null)}
            onfocus={() => onpick(row.line, m.task)}
          >
            <rect x={at - 12} y={y - 13} width={136} height="26" class="hit" />
            <line x1={at} x2={at} y1={y} y2={y + 10} class="stem" />
            {#if m.task.movable}<circle cx={at} cy={y - 1} r="5.5" />{:else}<rect
                x={at - 5}
                y={y - 6}
                width="10"
                height="10"
                class="block"
              />{/if}
            <text x={at + 10} y={y + 4}
              >{m.task.short.length > 17 ? `${m.task.short.slice(0, 16)}…` : m.task.short}{m.task.late
                ? ', late'
                : ''}</text
            >
          </g>
        {/each}
      </g>
    {/each}
  </svg>
  <svg {width} height="66" class="hours" role="img" aria-label="Hours a day against those there are">
    <text x="4" y="40" class="axis">hours a day</text>
    {#each plan.days as d, n (d.on)}
      {@const h = (44 * d.used) / most}
      {#if d.used}<rect
          x={LEFT + n * step + 1}
          y={52 - h}
          width={Math.max(step - 2, 1)}
          height={h}
          class:over={d.used > d.hours}
          ><title>{day(d.on)}: {figure(d.used)} of {figure(d.hours) || 0} h</title></rect
        >{/if}
      <line
        x1={LEFT + n * step}
        x2={LEFT + (n + 1) * step}
        y1={52 - (44 * d.hours) / most}
        y2={52 - (44 * d.hours) / most}
        class="limit"
      />
    {/each}
    <line x1={LEFT} x2={width} y1="52" y2="52" class="rule" />
  </svg>
</div>

<style>
  .chart {
    min-width: 0;
  }
  svg {
    display: block;
  }
  .hours {
    position: sticky;
    bottom: var(--thumb);
    background: var(--paper);
  }
  text {
    font-size: 12px;
    fill: var(--ink);
  }
  .axis,
  .name {
    fill: var(--muted);
  }
  .code {
    font-weight: 650;
  }
  .rest {
    fill: var(--paper-side);
  }
  .today {
    stroke: var(--due);
    stroke-width: 2;
  }
  .rule {
    stroke: var(--line);
  }
  .range {
    stroke: var(--due);
    stroke-width: 1.5;
    opacity: 0.6;
  }
  .range.late {
    stroke: var(--act);
  }
  .mark {
    cursor: grab;
    touch-action: none;
  }
  .mark.fixed {
    cursor: pointer;
  }
  .mark:focus {
    outline: none;
  }
  .hit {
    fill: transparent;
  }
  .mark[aria-pressed='true'] .hit,
  .mark:focus-visible .hit {
    stroke: var(--due);
    stroke-width: 2;
  }
  .stem {
    stroke: var(--ink);
  }
  circle,
  .block {
    fill: var(--paper-raised);
    stroke: var(--due);
    stroke-width: 2;
  }
  .level1 circle,
  .level1 .block {
    stroke: var(--watch);
  }
  .level2 circle,
  .level2 .block {
    stroke: var(--act);
  }
  .level3 circle,
  .level3 .block {
    stroke: var(--stop);
  }
  .late circle,
  .late .block {
    fill: var(--act);
    stroke: var(--act);
  }
  .late.level3 circle,
  .late.level3 .block {
    fill: var(--stop);
    stroke: var(--stop);
  }
  .hours rect {
    fill: var(--steady);
  }
  .hours rect.over {
    fill: var(--act);
  }
  .limit {
    stroke: var(--act);
    stroke-dasharray: 4 3;
  }
</style>
