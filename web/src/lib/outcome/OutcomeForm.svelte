<script lang="ts">
  import Amount from '../controls/Amount.svelte';
  import { mine } from '../mine.svelte';
  import { createQuery, useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type ApiError, type Schemas } from '../api/client';
  import { choices } from '../terms';
  import { dayYear, figure } from '../words';

  interface Props {
    engine: string;
    today: string;
    sample?: string;
    /** What it came to as far as the page knows; the person may say otherwise. */
    found?: string;
    note?: string;
  }
  let { engine, today, sample = '', found = '', note = '' }: Props = $props();

  const client = useQueryClient();
  const act = new Act(client);
  const known = createQuery<Schemas['OutcomeOut'][], ApiError>(() => ({
    queryKey: ['outcomes', engine],
    queryFn: () => body(api.GET('/api/engines/{code}/outcomes', { params: { path: { code: engine } } })),
  }));
  // The identity is made here, once: what was found is written down once, however often it is sent.
  const blank = () => ({
    id: crypto.randomUUID() as string,
    on: '', // today, as long as nobody says otherwise
    found,
    confirmed: '' as '' | 'yes' | 'no' | 'unclear',
    hours_down: null as number | null,
    cost: null as number | null,
    saved: null as number | null,
    note,
    piece: '',
  });
  let form = $state(blank());

  async function save(event: SubmitEvent) {
    event.preventDefault();
    const { confirmed } = form;
    if (!confirmed || !form.found) return;
    const done = await act.run(
      () =>
        body(
          api.POST('/api/engines/{code}/outcomes', {
            params: { path: { code: engine } },
            body: { ...form, on: form.on || today, confirmed, sample },
          }),
        ),
      'Written down.',
    );
    if (!done) return;
    form = blank();
    await client.invalidateQueries({ queryKey: ['outcomes', engine] });
  }
</script>

<details class="outcome">
  <summary>What was found{known.data?.length ? ` (${known.data.length})` : ''}</summary>
  <ul>
    {#each known.data ?? [] as o (o.on + o.words + o.by)}
      <li>
        {dayYear(o.on)}: {o.words}, {o.right}{o.sample ? `, sample ${o.sample}` : ''}.
        {o.note}
        <span class="muted"
          >{o.by}{o.hours_down === null ? '' : `, ${figure(o.hours_down)} h down`}{o.cost === null
            ? ''
            : `, cost ${mine.money(o.cost)}`}{o.saved === null
            ? ''
            : `, saved ${mine.money(o.saved)}`}{o.piece ? `, piece: ${o.piece}` : ''}</span
        >
      </li>
    {/each}
  </ul>
  <form onsubmit={save} aria-label="What was found on {engine}">
    <label
      >Found
      <select class="field" bind:value={form.found} required>
        <option value="" disabled>choose</option>
        {#each choices('outcomes') as o (o.code)}<option value={o.code}>{o.words}</option>{/each}
      </select></label
    >
    <div class="ways" role="group" aria-label="Was the alarm right">
      {#each choices('confirmed') as c (c.code)}
        <button
          type="button"
          class="press"
          aria-pressed={form.confirmed === c.code}
          onclick={() => (form.confirmed = c.code)}>{c.words}</button
        >
      {/each}
    </div>
    <label
      >Day <input
        class="field"
        type="date"
        max={today}
        bind:value={() => form.on || today, (on) => (form.on = on)}
        required
      /></label
    >
    <Amount label="Down" unit="h" bind:value={form.hours_down} />
    <Amount label="Cost" unit={mine.currency} bind:value={form.cost} />
    <Amount label="Saved by finding it early" unit={mine.currency} bind:value={form.saved} />
    <label>Where the piece is kept <input class="field" bind:value={form.piece} maxlength="200" /></label>
    <label>Note <input class="field" bind:value={form.note} maxlength="2000" /></label>
    <button class="press" disabled={act.busy || !form.found || !form.confirmed}
      >Write down what was found</button
    >
    {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
    <p role="status">{act.said}</p>
  </form>
</details>

<style>
  .outcome {
    font-size: 13.5px;
  }
  summary {
    cursor: pointer;
    min-height: 32px;
    padding: 6px 0;
  }
  form {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
    gap: 8px;
    max-width: 640px;
    align-items: end;
    padding: 6px 0;
  }
  .ways {
    grid-column: 1 / -1;
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
