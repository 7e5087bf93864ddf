<script lang="ts">
  import { mine } from '../mine.svelte';

  interface Props {
    analytes: readonly { column: string; symbol: string; name: string; unit: string }[];
    cells: Record<string, string>;
    wrong: Record<string, string>;
    /** What the figures are of, where a page has two such grids. */
    of?: string;
  }
  let { analytes, cells = $bindable(), wrong, of = '' }: Props = $props();
</script>

<div class="grid">
  {#each analytes as a (a.column)}
    <label class:wrong={wrong[a.column]}>
      <span>{a.name} <span class="muted">{a.symbol === a.name ? '' : a.symbol}</span></span>
      <input
        class="field figure"
        aria-label="{a.name}{of}, {mine.unit(a.unit)}"
        aria-invalid={Boolean(wrong[a.column])}
        bind:value={cells[a.column]}
        maxlength="40"
        autocomplete="off"
      />
      <span class="muted unit">{mine.unit(a.unit)}</span>
      {#if wrong[a.column]}<span class="why" role="alert">{wrong[a.column]}</span>{/if}
    </label>
  {/each}
</div>

<style>
  .grid {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(290px, 1fr));
    gap: 4px 24px;
    width: 100%;
  }
  label {
    display: grid;
    grid-template-columns: 1fr 96px 70px;
    gap: 2px 6px;
    align-items: center;
  }
  .field {
    text-align: right;
    width: 100%;
  }
  .unit {
    font-size: 12px;
  }
  .wrong .field {
    border-color: var(--act);
  }
  .why {
    grid-column: 1 / -1;
    color: var(--act);
    font-size: 12.5px;
  }
</style>
