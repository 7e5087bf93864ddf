<script lang="ts">
  import Amendments from '$lib/exchange/Amendments.svelte';
  import AnyReport from '$lib/exchange/AnyReport.svelte';
  import Blank from '$lib/exchange/Blank.svelte';
  import ImportBox from '$lib/exchange/ImportBox.svelte';
  import Programs from '$lib/exchange/Programs.svelte';
  import Sources from '$lib/exchange/Sources.svelte';
  import TakeOut from '$lib/exchange/TakeOut.svelte';
  import Waiting from '$lib/exchange/Waiting.svelte';
</script>

<svelte:head><title>Exchange · Keen Tracer</title></svelte:head>

<main class="exchange">
  <h1>Exchange</h1>
  <Amendments />
  <Waiting />
  <AnyReport />
  <ImportBox />
  <Programs />
  <Blank />
  <TakeOut />
  <Sources />
</main>

<style>
  .exchange {
    padding: 10px 18px 40px;
    display: grid;
    gap: 18px;
    max-width: 1100px;
  }
</style>
