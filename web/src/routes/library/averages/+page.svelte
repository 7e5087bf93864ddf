<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body } from '$lib/api/client';
  import { useAverages, useLimits } from '$lib/api/queries';
  import FigureGrid from '$lib/bottles/FigureGrid.svelte';
  import LaboratoryField from '$lib/controls/LaboratoryField.svelte';
  import Places from '$lib/library/Places.svelte';
  import { TERMS } from '$lib/terms';
  import { dayYear, figure } from '$lib/words';

  const act = new Act(useQueryClient());
  const held = useAverages();
  const limits = useLimits();
  const models = $derived(limits.data?.scopes.model ?? []);
  const nameOf = (column: string) => {
    const of = TERMS.analytes.find((a) => a.column === column);
    return of ? `${of.name}, ${of.unit}` : column;
  };

  let laboratory = $state('');
  let model = $state('');
  let origin = $state('');
  let onOil = $state<number | null>(null);
  let cells = $state<Record<string, string>>({});
  let wrong = $state<Record<string, string>>({});

  async function save() {
    const typed = Object.entries(cells).filter(([, said]) => said.trim());
    wrong = Object.fromEntries(
      typed
        .filter(([, said]) => !Number.isFinite(Number(said)) || Number(said) < 0)
        .map(([column]) => [column, 'an average is a plain figure, such as 14 or 0.4']),
    );
    if (Object.keys(wrong).length > 0) return;
    const averages = Object.fromEntries(typed.map(([column, said]) => [column, Number(said)]));
    const sent = { laboratory, model, origin, at_meter: onOil, averages };
    const done = await act.run(
      () => body(api.POST('/api/library/averages', { body: sent })),
      `Kept: ${typed.length} averages of ${laboratory} for ${model}.`,
    );
    if (done) cells = {};
  }
</script>

<svelte:head><title>Library, laboratory averages · Keen Tracer</title></svelte:head>

<main class="library forms">
  <Places />
  <h1>Laboratory averages</h1>
  <p class="muted">
    What a laboratory prints on its sheets as usual for a model. It stands beside a reading, for information:
    it raises nothing and lowers nothing.
  </p>
  <form
    onsubmit={(e) => {
      e.preventDefault();
      void save();
    }}
  >
    <div class="row">
      <LaboratoryField bind:value={laboratory} />
      <label
        >Model
        <select class="field" required bind:value={model}
          ><option value="" disabled>choose</option>{#each models as m (m)}<option value={m}>{m}</option
            >{/each}</select
        ></label
      >
      <label
        >On the oil for <input
          class="field short"
          type="number"
          min="1"
          step="any"
          placeholder="not said"
          bind:value={onOil}
        /></label
      >
      <label>Where it stands <input class="field" maxlength="200" bind:value={origin} /></label>
    </div>
    <FigureGrid analytes={TERMS.analytes.filter((a) => a.usual)} bind:cells {wrong} />
    <p class="row"><button class="press first" disabled={act.busy}>Keep them</button></p>
    {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
    {#if act.said}<p role="status">{act.said}</p>{/if}
  </form>
  {#if held.data?.length}
    <div class="across">
      <table class="plain-table">
        <thead
          ><tr
            ><th>Model</th><th>Laboratory</th><th>Figure</th><th>Average</th><th>On the oil</th><th
              >Where it stands</th
            ><th>By</th></tr
          ></thead
        >
        <tbody>
          {#each held.data as a (a.model + '/' + a.laboratory + '/' + a.analyte)}
            <tr>
              <td>{a.model}</td><td>{a.laboratory}</td><td>{nameOf(a.analyte)}</td>
              <td class="figure">{figure(a.average)}</td>
              <td class="figure">{a.at_meter === null ? '' : figure(a.at_meter)}</td>
              <td>{a.origin}</td><td>{a.said_by}, {dayYear(a.said_at)}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  {:else if held.data}<p class="muted">
      None yet. Type a sheet above, or bring in averages.csv under Exchange.
    </p>{/if}
</main>

<style>
  .library {
    padding: 14px 18px 40px;
    display: grid;
    gap: 12px;
    align-content: start;
    max-width: 1040px;
  }
  form {
    display: grid;
    gap: 10px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: end;
  }
  .short {
    width: 118px;
  }
</style>
