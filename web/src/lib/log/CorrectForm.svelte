<script lang="ts">
  import Amount from '../controls/Amount.svelte';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';

  interface Props {
    row: Schemas['LogRowOut'];
    engine: string;
    unit: string;
    ondone: (words: string) => void;
  }
  let { row, engine, unit, ondone }: Props = $props();

  const act = new Act(useQueryClient());
  const id: string = crypto.randomUUID();
  const isSample = $derived(row.kind === 'sample');
  const oily = $derived(row.kind === 'oil_change' || row.kind === 'top_up' || row.kind === 'rebuild');
  // svelte-ignore state_referenced_locally
  let form = $state({
    engine,
    on_date: row.on_date,
    dial: row.dial,
    oil_change_dial: row.oil_change_dial,
    oil: row.oil,
    grade: row.grade,
    batch: row.batch,
    litres_in: row.litres_in,
    litres_drained: row.litres_drained,
    method: row.method ?? '',
    note: row.note,
  });
  let reason = $state('');
  let other = $state('');

  /** Only what the person changed goes along. */
  function changes(): Schemas['Changes'] {
    const was: Record<string, unknown> = { ...row, method: row.method ?? '' };
    const now = Object.entries(form).filter(([k, v]) => k !== 'engine' && v !== was[k]);
    return Object.fromEntries(now) as Schemas['Changes'];
  }

  async function save(event: SubmitEvent) {
    event.preventDefault();
    const done = await act.run(() =>
      body(
        api.POST('/api/log/{key}/correct', {
          params: { path: { key: row.id } },
          body: { id, reason, engine: form.engine === engine ? null : form.engine, changes: changes() },
        }),
      ),
    );
    if (done) ondone(form.engine === engine ? 'Corrected.' : `Moved to ${form.engine}.`);
  }

  async function withdraw() {
    const done = await act.run(() =>
      body(api.POST('/api/log/{key}/withdraw', { params: { path: { key: row.id } }, body: { reason } })),
    );
    if (done) ondone('Taken out of the log; it stays in the trail.');
  }

  async function swap() {
    const done = await act.run(() =>
      body(api.POST('/api/swap', { body: { one: row.sample ?? '', other, reason } })),
    );
    if (done) ondone(`Labels of ${row.sample} and ${other} exchanged.`);
  }
</script>

<form onsubmit={save} aria-label="Correct the record">
  <label>Engine <input class="field" bind:value={form.engine} required maxlength="60" /></label>
  <label>Day <input class="field" type="date" bind:value={form.on_date} required /></label>
  <Amount label="Meter" {unit} bind:value={form.dial} required={isSample} />
  {#if isSample}
    <Amount label="Meter at the oil change" {unit} bind:value={form.oil_change_dial} />
  {/if}
  {#if isSample || oily}<label>Oil <input class="field" bind:value={form.oil} maxlength="60" /></label>{/if}
  {#if oily}
    <label>Grade <input class="field short" bind:value={form.grade} maxlength="20" /></label>
    <label>Batch <input class="field short" bind:value={form.batch} maxlength="40" /></label>
    <Amount label="Put in" unit="L" bind:value={form.litres_in} />
    <Amount label="Drained" unit="L" bind:value={form.litres_drained} />
  {/if}
  <label class="wide">Note <input class="field" bind:value={form.note} maxlength="2000" /></label>
  <label class="wide"
    >Why <input
      class="field"
      bind:value={reason}
      required
      maxlength="500"
      placeholder="how you know"
    /></label
  >
  <div class="wide buttons">
    <button class="press first" disabled={act.busy}>Save the correction</button>
    <button type="button" class="press" disabled={act.busy || !reason.trim()} onclick={() => void withdraw()}
      >{isSample ? 'Registered twice, take out' : 'Never happened, take out'}</button
    >
    {#if isSample}
      <label class="inline"
        >or labels exchanged with <input class="field short" bind:value={other} maxlength="60" /></label
      >
      <button
        type="button"
        class="press"
        disabled={act.busy || !reason.trim() || !other.trim()}
        onclick={() => void swap()}>Exchange the two</button
      >
    {/if}
  </div>
  {#if act.wrong}<p role="alert" class="wide">{act.wrong}</p>{/if}
</form>

<style>
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 12px;
    padding: 8px 0 12px 12px;
    border-left: 4px solid var(--due);
  }
  label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
  }
  .wide {
    flex-basis: 100%;
  }
  .buttons {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: center;
  }
  .inline {
    display: flex;
    gap: 6px;
    align-items: center;
  }
  .short {
    width: 92px;
  }
</style>
