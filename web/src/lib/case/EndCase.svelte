<script lang="ts">
  import Amount from '../controls/Amount.svelte';
  import { mine } from '../mine.svelte';
  import type { Schemas } from '../api/client';
  import { capital, choices } from '../terms';

  type End = Omit<Schemas['NewEnd'], 'id' | 'follows'>;
  interface Props {
    today: string;
    /** The model of the engine, whose known faults may keep the lesson; empty where it has none. */
    model: string;
    /** What stands at the root of the opened engine, as far as it is known. */
    found: string;
    busy: boolean;
    onend: (end: End) => Promise<boolean>;
  }
  let { today, model, found, busy, onend }: Props = $props();

  const blank = () => ({
    end: '' as '' | Schemas['NewEnd']['end'],
    on: '',
    found,
    hours_down: null as number | null,
    cost: null as number | null,
    saved: null as number | null,
    note: '',
    piece: '',
    lesson: '',
  });
  let form = $state(blank());
  const nothing = $derived(['nothing_found', 'unresolved', 'by_mistake'].includes(form.end));

  async function save() {
    const end = form.end;
    if (!end) return;
    const what = form.found || (nothing ? 'nothing' : '');
    if (what && (await onend({ ...$state.snapshot(form), end, found: what, on: form.on || today })))
      form = blank();
  }
</script>

<details class="end no-print forms">
  <summary>End the case</summary>
  <form
    aria-label="End the case"
    onsubmit={(e) => {
      e.preventDefault();
      void save();
    }}
  >
    <div class="chips" role="group" aria-label="How it ended">
      {#each choices('case_ends') as c (c.code)}
        <button
          type="button"
          class="press"
          aria-pressed={form.end === c.code}
          onclick={() => (form.end = c.code as typeof form.end)}>{capital(c.words)}</button
        >
      {/each}
    </div>
    <label
      >What it was
      <select class="field" bind:value={form.found} required={!nothing}>
        <option value="">{nothing ? 'nothing was found' : 'choose'}</option>
        {#each choices('outcomes') as o (o.code)}<option value={o.code}>{o.words}</option>{/each}
      </select></label
    >
    <label
      >Day <input
        class="field"
        type="date"
        max={today}
        bind:value={() => form.on || today, (on) => (form.on = on)}
      /></label
    >
    <Amount label="Down" unit="h" bind:value={form.hours_down} />
    <Amount label="Cost" unit={mine.currency} bind:value={form.cost} />
    <Amount label="It would have cost" unit={mine.currency} bind:value={form.saved} />
    <label
      >Where the piece lies <input
        class="field"
        maxlength="200"
        required={form.end === 'unresolved'}
        bind:value={form.piece}
      /></label
    >
    <label class="grow">In a sentence <input class="field" maxlength="2000" bind:value={form.note} /></label>
    {#if model && form.end && !nothing}<label class="grow"
        >To be known of every {model}
        <input
          class="field"
          maxlength="200"
          placeholder="the weak part, which of them have it, what to do in time"
          bind:value={form.lesson}
        /></label
      >{/if}
    <button class="press first" disabled={busy || !form.end || (!form.found && !nothing)}>Close it</button>
    <p class="muted">
      Earlier samples are labelled with this finding. A closed case can be opened again; closing it lifts no
      Stop.
    </p>
  </form>
</details>

<style>
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: end;
    padding: 6px 0;
  }
  .chips {
    flex-basis: 100%;
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .grow {
    flex: 1 1 260px;
  }
</style>
