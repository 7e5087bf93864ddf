<script lang="ts">
  import FileButton from '$lib/controls/FileButton.svelte';
  import { page } from '$app/state';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { api, ApiError, body, PICTURES, sendPhoto, type Schemas } from '../api/client';
  import { refresh } from '../api/queries';
  import { detailsOf, filled } from './details';
  import Earlier from './Earlier.svelte';
  import Details from './Details.svelte';
  import FieldCheck from './FieldCheck.svelte';
  import Symptoms from './Symptoms.svelte';
  import Amount from '../controls/Amount.svelte';
  import { mine } from '../mine.svelte';
  import { remember } from './last.svelte';
  import { capital, TERMS, wordsOf } from '../terms';

  interface Props {
    stop: Schemas['Stop'];
    today: string;
  }
  let { stop, today }: Props = $props();

  const client = useQueryClient();
  const blank = () => ({
    id: crypto.randomUUID() as string,
    on: today,
    dial: null as number | null,
    dial_new: null as number | null,
    litres_in: null as number | null,
    litres_drained: null as number | null,
    oil: '',
    grade: '',
    batch: '',
    part: '',
    note: '',
    details: {} as Record<string, string>,
  });
  let typed = $state({ litres_in: '', litres_drained: '' });
  let photo = $state<File | null>(null);
  // Another place may have led here to answer a check.
  const asked = page.url.searchParams;
  let kind = $state<string | null>(asked.get('log'));
  let form = $state({ ...blank(), part: asked.get('check') ?? '' });
  let busy = $state(false);
  let wrong = $state('');
  const wanted = $derived(detailsOf(kind ?? '', form.part));
  const lacking = $derived(
    (kind === 'symptom' && !form.part) ||
      (kind === 'field_check' &&
        !Object.keys(filled(form.details, [...wanted, { name: 'result' }])).some(
          (k) => k !== 'pressure_unit',
        )),
  );
  const word = $derived(kind ? wordsOf(TERMS.events, kind) : '');

  function pick(what: string) {
    kind = kind === what ? null : what;
    form = blank();
    typed = { litres_in: '', litres_drained: '' };
    photo = null;
    wrong = '';
  }

  async function save(event: SubmitEvent) {
    event.preventDefault();
    if (!kind) return;
    busy = true;
    wrong = '';
    try {
      const recorded = await body(
        api.POST('/api/engines/{code}/log', {
          params: { path: { code: stop.code } },
          body: {
            ...form,
            kind,
            typed: filled(typed, [{ name: 'litres_in' }, { name: 'litres_drained' }]),
            details: filled(form.details, kind === 'field_check' ? [...wanted, { name: 'result' }] : wanted),
          },
        }),
      );
      if (photo) await sendPhoto(form.id, photo, '');
      remember(`${capital(word)} of ${stop.code} logged.`, recorded);
      kind = null;
      await refresh(client);
    } catch (error) {
      // The identity stays, so that sending again records it once.
      wrong =
        error instanceof ApiError ? error.message : 'That did not work. Send again; it is recorded once.';
    }
    busy = false;
  }
</script>

<section aria-label="Log something else">
  <h2>Something else happened</h2>
  <div class="chips">
    <a class="press" href="/inspect/{encodeURIComponent(stop.code)}">Look at filter, plug, pan</a>
    <a class="press" href="/inspect/{encodeURIComponent(stop.code)}/opened">The engine is opened</a>
    {#each TERMS.events.filter((x) => x.code !== 'finding') as e (e.code)}
      <button type="button" class="press" aria-pressed={kind === e.code} onclick={() => pick(e.code)}
        >{capital(e.words)}</button
      >
    {/each}
  </div>
  {#if kind}
    <form onsubmit={save}>
      <label>Day <input class="field" type="date" bind:value={form.on} max={today} required /></label>
      <Amount
        label={kind === 'meter_replaced' ? 'Old meter, last figure' : 'Meter'}
        unit={stop.unit}
        hint={stop.dial === null ? '' : `last ${mine.plain(stop.dial, stop.unit)}`}
        bind:value={form.dial}
        required={kind === 'meter_replaced' || kind === 'meter_reading'}
      />
      {#if kind === 'meter_replaced'}
        <Amount label="New meter, first figure" unit={stop.unit} bind:value={form.dial_new} required />
      {/if}
      {#if kind === 'oil_change'}
        <p class="caution">
          Hot oil: gloves. Draw the sample before the oil goes. Oil and filter by local rules.
        </p>
        <label
          >Oil <input
            class="field"
            bind:value={form.oil}
            maxlength="60"
            placeholder={stop.oil}
            required
          /></label
        >
        <label>Grade <input class="field" bind:value={form.grade} maxlength="20" /></label>
        <label>Batch <input class="field" bind:value={form.batch} maxlength="40" /></label>
        <Amount label="Drained" unit="L" bind:value={form.litres_drained} bind:typed={typed.litres_drained} />
      {/if}
      {#if kind === 'coolant_top_up'}<p class="caution">
          Never open a hot radiator cap. Coolant poisons people and animals.
        </p>{/if}
      {#if kind === 'oil_change' || kind === 'top_up' || kind === 'coolant_top_up'}
        <Amount
          label="Put in"
          unit="L"
          bind:value={form.litres_in}
          bind:typed={typed.litres_in}
          required={kind === 'top_up'}
        />
      {/if}
      {#if kind === 'symptom'}
        <Symptoms bind:part={form.part} />
      {:else if kind === 'field_check'}
        <FieldCheck engine={stop.code} bind:check={form.part} bind:details={form.details} />
        {#if form.part === 'blotter'}<Earlier engine={stop.code} />{/if}
        <FileButton
          label="Photograph"
          accept={PICTURES}
          camera
          chosen={photo ? [photo.name] : []}
          take={([one]) => (photo = one ?? null)}
        />
      {:else if kind === 'rebuild'}
        <p class="caution">A rebuild opens a new life: its own history and its run-in begin here.</p>
      {:else if kind === 'repair' || kind === 'filter_change'}
        <label>Part <input class="field" bind:value={form.part} maxlength="60" /></label>
      {/if}
      {#if kind !== 'field_check' && wanted.length}<Details {wanted} bind:details={form.details} />{/if}
      <label>Note <input class="field" bind:value={form.note} maxlength="2000" /></label>
      <button class="press first" disabled={busy || lacking}>Log {word}</button>
      {#if wrong}<p role="alert" class="caution">{wrong}</p>{/if}
    </form>
  {/if}
</section>

<style>
  section,
  form {
    display: grid;
    gap: 8px;
  }
  .chips {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .press,
  .field {
    min-height: 44px;
  }
  .press[aria-pressed='true'] {
    box-shadow: inset 0 -4px 0 var(--ink);
    font-weight: 650;
  }
  label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
  }
</style>
