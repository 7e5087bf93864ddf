<script lang="ts">
  import type { ReadAs } from '../readas';

  interface Props {
    fresh: ReadAs['fresh'];
    /** The oils on record, to choose from. */
    oils: string[];
    /** Row → oil, as somebody types it. */
    named: Record<number, string>;
  }
  let { fresh, oils, named = $bindable() }: Props = $props();
</script>

<section aria-label="Fresh oil">
  <h2>{fresh.length} {fresh.length === 1 ? 'row is' : 'rows are'} of fresh oil</h2>
  <p class="muted">
    Its figures become the reference for this oil: samples of the oil are compared with them. A row without a
    name is left out.
  </p>
  {#each fresh as f (f.row)}
    <label
      >Row {f.row}, {f.figures} figures, is
      <input
        class="field"
        list="fresh-oils"
        maxlength="60"
        value={named[f.row] ?? f.oil}
        oninput={(e) => (named[f.row] = e.currentTarget.value)}
        placeholder="the oil's name, as it stands on the drum"
      /></label
    >
  {/each}
  <datalist id="fresh-oils"
    >{#each oils as o (o)}<option value={o}></option>{/each}</datalist
  >
</section>

<style>
  section {
    display: grid;
    gap: 6px;
  }
  label {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: center;
  }
</style>
