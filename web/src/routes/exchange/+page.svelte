<script lang="ts">
  import { useSources } from '$lib/api/queries';
  import { dayYear } from '$lib/words';
  import Amendments from '$lib/exchange/Amendments.svelte';
  import AnyReport from '$lib/exchange/AnyReport.svelte';
  import Blank from '$lib/exchange/Blank.svelte';
  import ImportBox from '$lib/exchange/ImportBox.svelte';
  import Programs from '$lib/exchange/Programs.svelte';
  import TakeOut from '$lib/exchange/TakeOut.svelte';
  import Waiting from '$lib/exchange/Waiting.svelte';

  const sources = useSources();
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
  {#if sources.data?.length}
    <section aria-label="Brought in so far">
      <h2>Brought in so far</h2>
      <div class="across">
        <table class="plain-table">
          <thead
            ><tr
              ><th>File</th><th>Read as</th><th class="num">Size</th><th>When</th><th>By</th><th>SHA-256</th
              ></tr
            ></thead
          >
          <tbody>
            {#each sources.data as s, n (n)}
              <tr>
                <td>{s.name}</td>
                <td>{s.kind}</td>
                <td class="num figure"
                  >{Math.max(1, Math.round(s.bytes / 1000)).toLocaleString('en-GB')} kB</td
                >
                <td>{dayYear(s.imported_at)}</td>
                <td>{s.imported_by}</td>
                <td class="figure">{s.mark}…</td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
    </section>
  {/if}
</main>

<style>
  .exchange {
    padding: 10px 18px 40px;
    display: grid;
    gap: 18px;
    max-width: 1100px;
  }
  section {
    display: grid;
    gap: 8px;
  }
</style>
