<script lang="ts">
  import { useLimits } from '$lib/api/queries';
  import Dial from '$lib/library/Dial.svelte';
  import Peers from '$lib/library/Peers.svelte';
  import Places from '$lib/library/Places.svelte';

  const limits = useLimits();
</script>

<svelte:head><title>Library, what is expected · Keen Tracer</title></svelte:head>

<main class="library">
  <Places />
  <h1>What is expected</h1>
  {#if limits.isError}<p role="alert">{limits.error.message}</p>{/if}
  <Dial />
  {#if limits.data}<Peers versions={limits.data.peers} waits={limits.data.peers_wait} />{/if}
</main>

<style>
  .library {
    padding: 10px 18px 40px;
    max-width: 1180px;
    display: grid;
    gap: 16px;
    align-content: start;
  }
</style>
