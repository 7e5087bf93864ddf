<script lang="ts">
  import FigureGrid from '../bottles/FigureGrid.svelte';
  import { TERMS } from '../terms';

  interface Props {
    oil: string;
    fresh: { grade: string; figures: Record<string, string>; typical: boolean };
    wrong: Record<string, string>;
  }
  let { oil, fresh = $bindable(), wrong }: Props = $props();
  let open = $state(false);
  const analytes = TERMS.analytes.filter((a) => a.fresh);
</script>

<details bind:open>
  <summary>Figures of the oil before it was filled, if you have them</summary>
  <div class="row">
    <label
      >Grade of {oil || 'the oil'}
      <input class="field short" maxlength="20" placeholder="15W-40" bind:value={fresh.grade} />
      {#if wrong['grade']}<span class="why" role="alert">{wrong['grade']}</span>{/if}</label
    >
    <label class="tick"
      ><input type="checkbox" bind:checked={fresh.typical} /> not known: take the middle of its grade for its thickness
      (SAE J300), and say so</label
    >
  </div>
  {#if open && !fresh.typical}<FigureGrid
      of=" of the fresh oil"
      {analytes}
      bind:cells={fresh.figures}
      {wrong}
    />{/if}
  <p class="muted">
    Without either, thickness is held against the grades the engine allows, and the rise of silicon, sodium
    and potassium cannot be told from what the oil brought.
  </p>
</details>

<style>
  details {
    display: grid;
    gap: 8px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 10px 18px;
    align-items: end;
  }
  .short {
    width: 118px;
  }
  .why {
    color: var(--act);
    font-size: 12.5px;
    display: block;
  }
</style>
