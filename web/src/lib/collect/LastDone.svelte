<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { api, ApiError, body } from '../api/client';
  import { refresh } from '../api/queries';
  import QueryCard from '../queries/QueryCard.svelte';
  import TwoLines from '../state/TwoLines.svelte';
  import { last } from './last.svelte';

  const client = useQueryClient();
  let wrong = $state('');

  // What came of it stands at the top of the page, the form that wrote it far below.
  let line = $state<HTMLElement>();
  $effect(() => {
    if (last.words) line?.scrollIntoView({ block: 'start' });
  });

  async function undo() {
    if (!last.id) return;
    try {
      await body(api.POST('/api/log/{key}/undo', { params: { path: { key: last.id } } }));
      last.words = `Taken back: ${last.words}`;
      last.id = null;
      last.state = null;
      wrong = '';
    } catch (error) {
      wrong = error instanceof ApiError ? error.message : 'That did not work. Nothing was changed.';
    }
    await refresh(client);
  }
</script>

{#if last.words}
  <p class="last" role="status" bind:this={line}>
    {last.words}
    {#if last.id}<button class="press" onclick={() => void undo()}>Undo</button>{/if}
  </p>
{/if}
{#if last.state && last.state.may_run !== 'unknown'}<TwoLines state={last.state} />{/if}
{#if last.id}
  {#each last.queries as q (q.key)}<QueryCard
      query={q}
      onanswered={() => (last.queries = last.queries.filter((x) => x.key !== q.key))}
    />{/each}
{/if}
{#if wrong}<p role="alert">{wrong}</p>{/if}

<style>
  .last {
    display: flex;
    justify-content: space-between;
    align-items: center;
    gap: 10px;
    border-left: 4px solid var(--due);
    padding: 4px 4px 4px 10px;
  }
  .press {
    min-height: 44px;
  }
</style>
