<script lang="ts">
  import { goto } from '$app/navigation';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body } from '../api/client';

  const act = new Act(useQueryClient());
  let at = $state(-1);
  const STEPS = [
    {
      path: '/wall',
      words:
        'The Wall: who needs somebody first, for what, by when. Worst at the top; j and k move, Enter opens an engine.',
    },
    {
      path: '/engine/P-03',
      words:
        'One engine: its figures as strips, shaded where they were expected. s shows its sisters, m lays the fills of oil over one another.',
    },
    {
      path: '/judge',
      words:
        'Judge: what the program proposes and every step behind it, worst first. A press on a figure tells how it was reached; a signs.',
    },
    {
      path: '/collect',
      words:
        'Collect and Inspect are for the engine: bottles, what was seen and smelt, filters and plugs. An engine that sends no bottle is judged by them.',
    },
    {
      path: '/report',
      words:
        'Your own report comes in here: paste it, take it from a PDF, or type it. Files, paper and everything out again are under Exchange.',
    },
  ];
  const step = $derived(STEPS[at]);

  function go(n: number) {
    at = n;
    const to = STEPS[n];
    if (to) void goto(to.path);
  }
  const never = () =>
    act.run(async () => {
      await body(api.PUT('/api/me/{what}', { params: { path: { what: 'tour' } }, body: { chosen: 'seen' } }));
      at = -1;
    });
</script>

<button class="quiet" onclick={() => go(0)}>Tour</button>
{#if step}
  <aside aria-label="Tour" class="tour">
    <p><b>{at + 1} of {STEPS.length}</b> {step.words}</p>
    <p class="ways">
      {#if at + 1 < STEPS.length}<button class="press first" onclick={() => go(at + 1)}>Next</button>{/if}
      <button class="press" onclick={() => (at = -1)}>Close</button>
      <button class="press" disabled={act.busy} onclick={() => void never()}>Do not offer it again</button>
    </p>
  </aside>
{/if}

<style>
  .quiet {
    white-space: nowrap;
    color: var(--muted);
    cursor: pointer;
    font-size: 13px;
    min-height: 30px;
  }
  /* A tour is for the desk. */
  @media (max-width: 480px) {
    .quiet {
      display: none;
    }
  }
  .tour {
    position: fixed;
    z-index: 25;
    left: 18px;
    bottom: calc(18px + var(--thumb));
    width: min(420px, calc(100vw - 36px));
    padding: 12px 16px;
    background: var(--paper-raised);
    border: 2px solid var(--due);
    border-radius: 3px;
    display: grid;
    gap: 10px;
  }
  .ways {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
</style>
