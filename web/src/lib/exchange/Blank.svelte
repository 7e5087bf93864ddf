<script lang="ts">
  import { TERMS } from '../terms';

  let table = $state('engines');
  const MOST_ASKED = ['depots', 'models', 'engines', 'oils', 'events', 'samples', 'debris'];
  const all = MOST_ASKED.map((t) => `table=${t}`).join('&');
</script>

<section aria-label="Blank tables">
  <h2>Blank tables to fill in</h2>
  <p class="muted">
    Columns that must be there are bold, cells offer their choices. Filled in, the workbook comes back under
    Bring in. <a href="/exchange/formats">What each column holds</a>
  </p>
  <p class="ways">
    <a class="press" href="/api/blank.xlsx?{all}" download>The usual ones, one workbook</a>
    <label
      ><span class="sr-only">Table</span>
      <select class="field" aria-label="Table" bind:value={table}
        >{#each TERMS.tables as t (t)}<option value={t}>{t}</option>{/each}</select
      ></label
    >
    <a class="press" href="/api/blank.xlsx?table={table}" download>XLSX</a>
    <a class="press" href="/api/blank/{table}.csv" download>CSV</a>
  </p>
</section>

<style>
  section {
    display: grid;
    gap: 8px;
  }
  .ways {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: center;
  }
  a.press {
    text-decoration: none;
    display: inline-block;
  }
</style>
