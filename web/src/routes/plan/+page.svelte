<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body, type Schemas } from '$lib/api/client';
  import { usePlan } from '$lib/api/queries';
  import { useKeys } from '$lib/frame/keys';
  import Chart from '$lib/plan/Chart.svelte';
  import { addDays, allowed, byDay, wayOf, type Line, type Task } from '$lib/plan/plan';
  import Proposal from '$lib/plan/Proposal.svelte';
  import Settings from '$lib/plan/Settings.svelte';
  import TaskPanel from '$lib/plan/TaskPanel.svelte';
  import { dayYear, figure } from '$lib/words';

  const depot = $derived(page.url.searchParams.get('depot') ?? '');
  const weeks = $derived(Number(page.url.searchParams.get('weeks') ?? 4));
  const byRisk = $derived(page.url.searchParams.get('by') === 'risk');
  let limit = $state(100);
  const found = usePlan(
    () => depot,
    () => weeks,
    () => limit,
    () => byRisk,
  );
  const p = $derived(found.data);
  const act = new Act(useQueryClient());

  let chosen = $state('');
  let wanted = $state('');
  let proposal = $state<Schemas['ProposalOut'] | null>(null);
  const all = $derived(p?.lines.flatMap((line) => line.tasks.map((task) => ({ line, task }))) ?? []);
  const id = (line: Line, task: Task) => `${line.code}|${task.key}`;
  const at = $derived(all.find((x) => id(x.line, x.task) === chosen) ?? all[0]);

  function pick(line: Line, task: Task) {
    chosen = id(line, task);
    wanted = '';
  }
  const moves = (line: Line, tasks: Task[], day: string | null, reason: string) =>
    act.run(() =>
      body(
        api.POST('/api/plan/moves', {
          body: {
            moves: tasks.map((t) => ({
              id: crypto.randomUUID(),
              engine: line.code,
              task: t.key,
              day,
              reason,
              follows: t.move,
            })),
          },
        }),
      ),
    );
  function ask(line: Line, task: Task, to: string) {
    if (!p || to < p.today) return;
    pick(line, task);
    if (allowed(task, to, p.today)) void moves(line, [task], to, '');
    else wanted = to;
  }
  const shift = (n: number) => {
    if (at?.task.movable && !act.busy) ask(at.line, at.task, addDays(at.task.day, n));
  };
  const step = (n: number) => {
    const place = all.findIndex((x) => x === at);
    const next = all[Math.max(0, Math.min(all.length - 1, place + n))];
    if (next) pick(next.line, next.task);
  };
  async function propose() {
    await act.run(async () => {
      proposal = await body(
        api.GET('/api/plan/proposal', { params: { query: { depot: depot || null, weeks } } }),
      );
    });
  }
  async function take() {
    const taken = proposal;
    if (!taken) return;
    const worked = await act.run(() =>
      body(
        api.POST('/api/plan/moves', {
          body: {
            moves: taken.moves.map((m) => ({
              id: crypto.randomUUID(),
              engine: m.engine,
              task: m.key,
              day: m.to,
              reason: 'proposed by the program',
              follows: m.move,
            })),
          },
        }),
      ),
    );
    if (worked) proposal = null;
  }
  type Given = { dial: number | null; sample: string; said: string };
  const finish = (line: Line, task: Task, given: Given) =>
    act.run(() =>
      body(
        api.POST('/api/plan/done', {
          body: { id: crypto.randomUUID(), engine: line.code, task: task.key, ...given },
        }),
      ),
    );
  let finishing = $state('');
  function done() {
    if (!at) return;
    const { line, task } = at;
    if (task.quick === 'work') void finish(line, task, { dial: null, sample: '', said: '' });
    else if (task.quick) {
      pick(line, task);
      finishing = finishing === chosen ? '' : chosen;
    } else void goto(wayOf(line.code, task));
  }
  function filter(name: string, value: string) {
    const to = new URL(page.url);
    if (value) to.searchParams.set(name, value);
    else to.searchParams.delete(name);
    void goto(to, { replaceState: true, keepFocus: true });
  }
  useKeys(
    {
      j: () => step(1),
      k: () => step(-1),
      ArrowDown: () => step(1),
      ArrowUp: () => step(-1),
      ArrowLeft: () => shift(-1),
      ArrowRight: () => shift(1),
      d: done,
      p: () => void propose(),
    },
    [
      { keys: 'j k', does: 'next or previous task' },
      { keys: '← →', does: 'a day sooner or later' },
      { keys: 'd', does: 'say it is done' },
      { keys: 'p', does: 'propose' },
    ],
  );
</script>

<svelte:head><title>Plan · Keen Tracer</title></svelte:head>

{#snippet panel()}
  {#if p && at}
    {#key chosen + wanted}<TaskPanel
        line={at.line}
        task={at.task}
        today={p.today}
        {wanted}
        busy={act.busy}
        onmove={(tasks, to, reason) => moves(at.line, tasks, to, reason)}
        finishing={finishing === id(at.line, at.task)}
        ondone={done}
        onfinish={(given) => finish(at.line, at.task, given)}
      />{/key}
  {/if}
{/snippet}

<main class="plan">
  <div class="left">
    <div class="tools">
      <h1>{depot || 'All depots'}{p ? `, to ${dayYear(p.until)}` : ''}</h1>
      {#if p}<span class="muted"
          >{p.total} {p.total === 1 ? 'engine' : 'engines'}{p.late ? ` · ${p.late} late` : ''}</span
        >{/if}
      <label class="no-print"
        ><span class="sr-only">Depot</span>
        <select class="field" value={depot} onchange={(e) => filter('depot', e.currentTarget.value)}>
          <option value="">All depots</option>
          {#each p?.depots ?? [] as d (d)}<option value={d}>{d}</option>{/each}
        </select></label
      >
      <label class="no-print"
        ><span class="sr-only">Weeks ahead</span>
        <select class="field" value={String(weeks)} onchange={(e) => filter('weeks', e.currentTarget.value)}>
          {#each [1, 2, 4, 8, 12] as n (n)}<option value={String(n)}>{n} {n === 1 ? 'week' : 'weeks'}</option
            >{/each}
        </select></label
      >
      <label class="no-print"
        ><span class="sr-only">Order</span>
        <select
          class="field"
          value={byRisk ? 'risk' : ''}
          onchange={(e) => filter('by', e.currentTarget.value)}
        >
          <option value="">By danger</option>
          <option value="risk">By chance × cost</option>
        </select></label
      >
      <button class="press no-print" disabled={act.busy} onclick={() => void propose()}
        >Propose <kbd>p</kbd></button
      >
      <a
        class="press no-print"
        href="/api/plan.pdf?weeks={weeks}{depot ? `&depot=${encodeURIComponent(depot)}` : ''}"
        target="_blank"
        rel="noopener">Work list (PDF)</a
      >
    </div>
    {#if found.isError}<p role="alert">{found.error.message}</p>{/if}
    {#if p && !p.lines.length}<p>
        No work is due in these weeks. Tasks come by themselves from plans, oil changes and what is raised.
      </p>{/if}
    {#if p && p.lines.length}
      <div class="wide"><Chart plan={p} {chosen} onpick={pick} onmove={ask} /></div>
      <ol class="narrow">
        {#each byDay(p.lines) as [on, tasks] (on)}
          <li>
            <h2>{dayYear(on)}</h2>
            {#each tasks as { line, task } (id(line, task))}
              <p>
                <button class="pick" aria-pressed={at?.task === task} onclick={() => pick(line, task)}
                  ><b>{line.code}</b>
                  {task.what}
                  <span class="muted">{figure(task.hours)} h</span>
                  {#if task.late}<b class="late">{task.late} d late</b>{/if}</button
                >
              </p>
              {#if chosen === id(line, task)}<div class="inline">{@render panel()}</div>{/if}
            {/each}
          </li>
        {/each}
      </ol>
      {#if p.total > p.lines.length}<p class="no-print">
          {p.lines.length} of {p.total} engines, who needs someone first.
          <button class="press" onclick={() => (limit = Math.min(limit + 200, 500))}>Show more</button>
        </p>{/if}
    {/if}
  </div>
  <aside class="right no-print" aria-label="What is chosen">
    {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
    {#if proposal}<Proposal
        {proposal}
        busy={act.busy}
        ontake={() => void take()}
        onleave={() => (proposal = null)}
      />{/if}
    {#if p && at}<div class="wide">{@render panel()}</div>{/if}
    {#if p}<Settings {depot} depots={p.depots} seasons={p.seasons} />{/if}
  </aside>
</main>

<style>
  .plan {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 330px;
    min-height: calc(100vh - 46px);
  }
  .left {
    padding: 10px 14px 20px 18px;
    display: grid;
    gap: 10px;
    align-content: start;
    min-width: 0;
  }
  .right {
    border-left: 1px solid var(--line);
    background: var(--paper-side);
    padding: 12px 16px 30px;
    display: grid;
    gap: 12px;
    align-content: start;
    font-size: 13.5px;
  }
  .tools {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 14px;
    align-items: center;
  }
  .narrow {
    display: none;
  }
  .pick {
    text-align: left;
    min-height: 44px;
    width: 100%;
    cursor: pointer;
  }
  .pick[aria-pressed='true'] {
    outline: 2px solid var(--due);
  }
  .inline {
    border-left: 3px solid var(--due);
    padding: 4px 0 8px 10px;
  }
  .late {
    color: var(--act);
  }
  @media (max-width: 900px) {
    .plan {
      grid-template-columns: minmax(0, 1fr);
    }
    .right {
      border-left: none;
      border-top: 1px solid var(--line);
    }
    .left {
      padding: 8px 12px 20px;
    }
    .left .wide,
    .right .wide {
      display: none;
    }
    .narrow {
      display: grid;
      gap: 8px;
    }
  }
  @media print {
    .plan {
      display: block;
    }
    .wide {
      display: none;
    }
    .narrow {
      display: block;
    }
  }
</style>
