<script lang="ts">
  import { mine } from '../mine.svelte';
  import { dayYear, figure, stake, meter } from '../words';
  import Finish from './Finish.svelte';
  import { allowed, wayOf, type Line, type Task } from './plan';

  interface Props {
    line: Line;
    task: Task;
    today: string;
    /** A day that was asked for and needs a reason. */
    wanted: string;
    busy: boolean;
    onmove: (tasks: Task[], to: string | null, reason: string) => Promise<boolean>;
    finishing: boolean;
    ondone: () => void;
    onfinish: (given: { dial: number | null; sample: string; said: string }) => Promise<boolean>;
  }
  let { line, task, today, wanted, busy, finishing, onmove, ondone, onfinish }: Props = $props();

  let to = $state('');
  let reason = $state('');
  $effect.pre(() => {
    void task.key;
    to = wanted || task.day;
    reason = '';
  });
  const needs = $derived(to !== task.day && !allowed(task, to, today));
  const others = $derived(line.tasks.filter((t) => t.key !== task.key && t.movable && t.day !== task.day));
  const together = $derived(others.filter((t) => allowed(t, task.day, today)));
</script>

<section aria-label="Chosen task" class="panel forms">
  <h2>
    <a href="/engine/{encodeURIComponent(line.code)}">{line.code} {line.name}</a>
  </h2>
  <p><b>{task.what}</b></p>
  <p>
    {task.late
      ? `${task.late} days past its latest, ${dayYear(task.latest)}`
      : `${dayYear(task.day)}, at the latest ${dayYear(task.latest)}`}{task.at_dial === null
      ? ''
      : ` or ${meter(task.at_dial, line.unit)}`}.
    <span class="muted"
      >{figure(task.hours)} h{task.ends ? ` to ${dayYear(task.ends)}` : ''}{line.depot
        ? ` at ${line.depot}`
        : ''}{task.who ? `, ${task.who}` : ''}{task.at_rest ? '' : ', turns the engine'}</span
    >
  </p>
  {#if line.risk !== null && line.failure_cost !== null}<p class="muted">
      {stake(line.risk, line.failure_cost, mine.money)}
    </p>{/if}
  {#if task.moved_by}<p class="muted">
      Moved by {task.moved_by}{task.reason ? `: ${task.reason}` : ''}.
    </p>{/if}
  {#if task.caution}<p class="caution">{task.caution}</p>{/if}
  {#if task.tools}<p class="muted">Needs: {task.tools.toLowerCase()}.</p>{/if}
  <p class="row">
    {#if task.quick}<button
        class="press first"
        disabled={busy}
        aria-expanded={task.quick === 'work' ? undefined : finishing}
        onclick={ondone}>Done <kbd>d</kbd></button
      >{/if}
    {#if !task.quick || task.kind === 'work'}<a
        class="press"
        class:first={!task.quick}
        href={wayOf(line.code, task)}
        >{task.kind === 'work'
          ? 'Open it'
          : task.kind === 'decide'
            ? 'Decide'
            : 'Say it is done'}{#if !task.quick}
          <kbd>d</kbd>{/if}</a
      >{/if}
  </p>
  {#if finishing && task.quick && task.quick !== 'work'}<Finish {line} {task} {busy} ondone={onfinish} />{/if}
  {#if task.movable}
    <form
      class="row"
      onsubmit={(e) => {
        e.preventDefault();
        void onmove([task], to, reason);
      }}
    >
      <label>Another day, or ← → <input class="field" type="date" min={today} bind:value={to} /></label>
      {#if needs}<label class="grow"
          >Allowed {dayYear(task.earliest)} to {dayYear(task.latest)}. Why then?
          <input class="field" maxlength="400" required bind:value={reason} /></label
        >{/if}
      <button class="press" disabled={busy || to === task.day || (needs && !reason.trim())}>Move it</button>
      {#if task.moved_by}<button
          type="button"
          class="press"
          disabled={busy}
          onclick={() => void onmove([task], null, '')}>Back to its own day</button
        >{/if}
    </form>
  {:else}<p class="muted">
      This decision stays in the plan until somebody makes it. It cannot be moved.
    </p>{/if}
  {#if others.length}
    <h3 class="muted">Of the same engine</h3>
    {#each others as t (t.key)}<p>
        {t.what} <span class="muted">{dayYear(t.day)}, {figure(t.hours)} h</span>
      </p>{/each}
    {#if together.length}<button
        class="press"
        disabled={busy}
        onclick={() => void onmove(together, task.day, '')}
        >{together.length === 1 ? 'Do it' : `Do ${together.length} of them`} in the same visit</button
      >{/if}
  {/if}
</section>

<style>
  .panel {
    display: grid;
    gap: 8px;
  }
  h2 {
    font-size: 16px;
  }
  h3 {
    font-size: 13px;
    font-weight: 500;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: end;
  }
  .grow {
    flex: 1 1 100%;
  }
</style>
