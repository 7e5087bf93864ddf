<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body } from '../api/client';
  import { useOils } from '../api/queries';
  import { TERMS } from '../terms';
  import { dayYear } from '../words';

  const act = new Act(useQueryClient());
  const oils = useOils();
  const FRESH = TERMS.analytes.filter((a) => a.fresh);
  const blank = () => ({ oil: '', grade: '', batch: '', reference_on: '' });
  let head = $state(blank());
  let cells = $state<Record<string, string>>({});

  async function save(event: SubmitEvent) {
    event.preventDefault();
    let waits = false;
    const done = await act.run(async () => {
      waits = (await body(api.POST('/api/fleet/oils', { body: { ...head, cells } }))).waits;
    });
    if (!done) return;
    act.said = waits
      ? `Other fresh figures of this batch are on record; yours wait under Exchange, old → new.`
      : `${head.oil} ${head.grade} ${head.batch} kept.`;
    head = blank();
    cells = {};
  }
</script>

<div class="two">
  <table class="plain-table">
    <thead
      ><tr><th>Oil</th><th>Grade</th><th>Batch</th><th>Fresh figures</th><th class="num">Filled in</th></tr
      ></thead
    >
    <tbody>
      {#each oils.data ?? [] as o (`${o.oil}|${o.grade}|${o.batch}`)}
        <tr>
          <td>{o.oil}</td><td>{o.grade}</td><td>{o.batch}</td>
          <td class:none={!o.readings}
            >{o.readings
              ? `${o.readings}${o.reference_on ? `, ${dayYear(o.reference_on)}` : ''}`
              : 'none'}</td
          >
          <td class="num figure">{o.fills}×</td>
        </tr>
      {:else}<tr><td colspan="5" class="muted">No oil is on record yet.</td></tr>
      {/each}
    </tbody>
  </table>
  <form onsubmit={save} aria-label="New batch">
    <h2>New batch, or fresh figures of one</h2>
    <label>Oil <input class="field" bind:value={head.oil} required maxlength="60" /></label>
    <label>Grade <input class="field" bind:value={head.grade} maxlength="20" placeholder="15W-40" /></label>
    <label>Batch <input class="field" bind:value={head.batch} maxlength="40" /></label>
    <label>Drawn on <input class="field" type="date" bind:value={head.reference_on} /></label>
    {#each FRESH as { column, name, unit } (column)}
      <label class:wrong={act.fields[column]}
        >{name}, {unit}
        <input class="field" bind:value={cells[column]} maxlength="40" />
        {#if act.fields[column]}<span class="why" role="alert">{act.fields[column]}</span>{/if}</label
      >
    {/each}
    {#if act.said}<p role="status" class="wide">{act.said}</p>{/if}
    {#if act.wrong}<p role="alert" class="wide">{act.wrong}</p>{/if}
    <button class="press first" disabled={act.busy}>Keep this batch</button>
  </form>
</div>

<style>
  .two {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 360px;
    gap: 28px;
    align-items: start;
  }
  form {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 6px 12px;
    align-items: end;
  }
  h2,
  .wide,
  form .press {
    grid-column: 1 / -1;
    justify-self: start;
  }
  label {
    display: grid;
    font-size: 13px;
  }
  .none {
    color: var(--act);
  }
  .why {
    color: var(--act);
  }
  .wrong .field {
    border-color: var(--act);
  }
  @media (max-width: 800px) {
    .two {
      grid-template-columns: 1fr;
    }
  }
</style>
