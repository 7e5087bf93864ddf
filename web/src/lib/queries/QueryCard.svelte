<script lang="ts">
  import Amount from '../controls/Amount.svelte';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { choices } from '../terms';
  import { day } from '../words';

  interface Props {
    query: Schemas['QueryOut'];
    /** Name the engine: not needed on its own page. */
    named?: boolean;
    onanswered?: () => void;
  }
  let { query: q, named = false, onanswered }: Props = $props();

  const act = new Act(useQueryClient());
  let said = $state<'stands' | 'corrected' | 'asked' | null>(null);
  let reason = $state('');
  let value = $state('');
  let on = $state('');
  let dial = $state<number | null>(null);
  let id: string = $state(crypto.randomUUID());
  const asks = $derived(q.remedies.includes('asked'));
  const field = $derived(q.remedies.find((r) => r !== 'asked') ?? '');
  const LABEL: Record<string, string> = {
    dial: 'Meter should be',
    oil_change_dial: 'Meter at the oil change',
    oil: 'Oil in it',
    on_date: 'Day it was drawn',
    method: 'Drawn',
  };

  function changes(): Record<string, unknown> {
    if (field === 'dial') return { dial: Number(value), ...(on ? { on_date: on } : {}) };
    if (field === 'oil_change_dial') return { oil_change_dial: Number(value) };
    return { [field]: value };
  }

  const exchange = () =>
    act.run(() =>
      body(
        api.POST('/api/swap', {
          body: {
            one: q.sample,
            other: q.exchanged_with,
            reason: "each bottle's figures fit the other engine",
          },
        }),
      ),
    );

  async function answer(event: SubmitEvent) {
    event.preventDefault();
    if (!said) return;
    const choice = said;
    const event_ =
      choice === 'corrected' && field === 'oil_change'
        ? { id: crypto.randomUUID() as string, on, kind: 'oil_change', dial, note: reason }
        : null;
    const fix =
      choice === 'corrected' && !event_
        ? { id: crypto.randomUUID() as string, reason, changes: changes() }
        : null;
    const done = await act.run(() =>
      body(
        api.POST('/api/engines/{code}/queries', {
          params: { path: { code: q.engine } },
          body: {
            id,
            key: q.key,
            said: choice,
            reason,
            log: fix ? q.log : null,
            fix: fix as Schemas['NewCorrection'] | null,
            event: event_ as Schemas['NewEvent'] | null,
          },
        }),
      ),
    );
    if (done) {
      id = crypto.randomUUID();
      onanswered?.();
    }
  }
</script>

<article>
  <p>
    {#if named}<a href="/engine/{encodeURIComponent(q.engine)}"><b>{q.engine}</b> {q.name}</a>{/if}
    {#if q.sample}<a href="/judge/{encodeURIComponent(q.sample)}">sample {q.sample}</a>{/if}
    {#if q.on_date}<span class="muted">{day(q.on_date)}</span>{/if}
  </p>
  <p class="words">{q.words}</p>
  <p class="muted">{q.settles}</p>
  <div class="chips" role="group" aria-label="Answer">
    {#if q.exchanged_with}<button class="press first" disabled={act.busy} onclick={() => void exchange()}
        >Exchange {q.sample} and {q.exchanged_with}</button
      >{/if}
    {#if field}<button class="press" aria-pressed={said === 'corrected'} onclick={() => (said = 'corrected')}
        >{field === 'oil_change' ? 'It was changed' : 'Correct it'}</button
      >{/if}
    {#if asks}<button class="press" aria-pressed={said === 'asked'} onclick={() => (said = 'asked')}
        >Laboratory asked</button
      >{/if}
    <button class="press" aria-pressed={said === 'stands'} onclick={() => (said = 'stands')}
      >Leave as it is</button
    >
  </div>
  {#if said}
    <form onsubmit={answer}>
      {#if said === 'corrected'}
        {#if field === 'oil_change'}
          <label>Changed on <input class="field" type="date" bind:value={on} required /></label>
          <Amount label="At meter" unit={q.unit} bind:value={dial} required />
        {:else if field === 'method'}
          <label
            >{LABEL[field]}
            <select class="field" bind:value required
              ><option value="" disabled>choose</option>
              {#each choices('methods') as m (m.code)}<option value={m.code}>{m.words}</option>{/each}</select
            ></label
          >
        {:else}
          <label
            >{LABEL[field] ?? field}
            <input
              class="field"
              type={field === 'on_date' ? 'date' : field === 'oil' ? 'text' : 'number'}
              step="any"
              bind:value
              required
            /></label
          >
        {/if}
      {/if}
      <label class="wide"
        >How do you know? <input class="field" bind:value={reason} required maxlength="500" /></label
      >
      <button class="press first" disabled={act.busy}>Answer</button>
      {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
    </form>
  {/if}
</article>

<style>
  article {
    display: grid;
    gap: 4px;
    border-left: 4px solid var(--due);
    padding: 4px 0 8px 12px;
  }
  .words {
    font-size: 15px;
  }
  .chips,
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: end;
  }
  .press,
  .field {
    min-height: 44px;
  }
  .press[aria-pressed='true'] {
    box-shadow: inset 0 -4px 0 var(--ink);
    font-weight: 650;
  }
  form label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
  }
  .wide {
    flex: 1 1 220px;
  }
</style>
