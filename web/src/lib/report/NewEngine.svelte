<script lang="ts">
  import Amount from '../controls/Amount.svelte';
  import { choices } from '../terms';

  interface Props {
    engine: string;
    fresh: { engine_class: string; meter_unit: string; fuel: string; allowed_grades: string };
    sump: number | null;
  }
  let { engine, fresh = $bindable(), sump = $bindable() }: Props = $props();
</script>

<fieldset class="row new">
  <legend>{engine} is new. What is it?</legend>
  <label
    >Class
    <select class="field" required bind:value={fresh.engine_class}
      ><option value="" disabled>choose</option>{#each choices('classes') as c (c.code)}<option value={c.code}
          >{c.words}</option
        >{/each}</select
    ></label
  >
  <label
    >Its meter counts
    <select class="field" bind:value={fresh.meter_unit}
      >{#each choices('meter_units') as m (m.code)}<option value={m.code}>{m.words}</option>{/each}</select
    ></label
  >
  <label
    >Fuel
    <select class="field" bind:value={fresh.fuel}
      ><option value="">not said</option>{#each choices('fuels') as f (f.code)}<option value={f.code}
          >{f.words}</option
        >{/each}</select
    ></label
  >
  <Amount label="Sump" unit="L" bind:value={sump} />
  <label
    >Grades allowed
    <input class="field short" placeholder="15W-40" maxlength="60" bind:value={fresh.allowed_grades} /></label
  >
</fieldset>

<style>
  .new {
    border: 2px solid var(--due);
    padding: 6px 12px 10px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: start;
  }
  .short {
    width: 118px;
  }
</style>
