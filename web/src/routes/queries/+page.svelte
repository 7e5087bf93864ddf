<script lang="ts">
  import { useQueries } from '$lib/api/queries';
  import Tabs from '$lib/collect/Tabs.svelte';
  import QueryCard from '$lib/queries/QueryCard.svelte';

  const queries = useQueries();
  const found = $derived(queries.data ?? []);
</script>

<svelte:head><title>Queries · Keen Tracer</title></svelte:head>

<main class="queries">
  <Tabs />
  <h1>Records that do not fit{found.length ? `, ${found.length}` : ''}</h1>
  {#if queries.isError}<p role="alert">{queries.error.message}</p>{/if}
  {#if found.length > 1}<p class="muted">
      The oldest of each engine comes first: correcting it may settle the others.
    </p>{/if}
  {#each found as q (q.engine + q.key)}
    <QueryCard query={q} named />
  {:else}
    {#if queries.isSuccess}<p>
        Everything fits. What does not, such as a falling meter or an oil change nobody wrote down, is asked
        here.
      </p>{/if}
  {/each}
</main>

<style>
  .queries {
    padding: 2px 18px 40px;
    max-width: 760px;
    display: grid;
    gap: 12px;
    align-content: start;
  }
</style>
