<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { choices, TERMS } from '../terms';
  import { meter } from '../words';
  import { remember } from './last.svelte';

  interface Props {
    stop: Schemas['Stop'];
    today: string;
    ondone: () => void;
  }
  let { stop, today, ondone }: Props = $props();

  interface Count {
    type: string;
    size_class: string;
    count: number | null;
  }
  const act = new Act(useQueryClient());
  const id: string = crypto.randomUUID();
  // svelte-ignore state_referenced_locally
  let form = $state({ on: today, dial: null as number | null, place: '', tool: '', share: 100, note: '' });
  let counts = $state<Count[]>([]);
  const unfinished = $derived(counts.some((c) => !c.count));

  const told = $derived({
    ...form,
    id,
    share: form.share / 100,
    counts: counts.map((c) => ({ ...c, count: c.count ?? 0 })),
  });
  let says = $state<string[]>([]);

  // What it will say is asked of the server, which knows this engine's earlier looks.
  $effect(() => {
    const sent = $state.snapshot(told);
    if (!sent.place || !sent.on || unfinished) {
      says = [];
      return;
    }
    let old = false;
    void body(
      api.POST('/api/engines/{code}/look', { params: { path: { code: stop.code } }, body: sent }),
    ).then(
      (found) => {
        if (!old) says = found;
      },
      () => {
        if (!old) says = [];
      },
    );
    return () => (old = true);
  });

  function add(type: string) {
    counts = [...counts, { type, size_class: '', count: null }];
  }

  async function save(event: SubmitEvent) {
    event.preventDefault();
    await act.run(async () => {
      const recorded = await body(
        api.POST('/api/engines/{code}/looks', {
          params: { path: { code: stop.code } },
          body: told,
        }),
      );
      remember(`Look at ${stop.code} written down.`, recorded);
      ondone();
    });
  }
</script>

<form onsubmit={save} aria-label="Look at filter, plug or pan">
  <p class="caution">
    Drained, gloved, a roller cutter: a saw adds its own chips. Hot oil and sharp edges. Keep what you find.
  </p>
  <div class="chips" role="group" aria-label="Where">
    {#each choices('debris_places') as p (p.code)}
      <button
        type="button"
        class="press"
        aria-pressed={form.place === p.code}
        onclick={() => (form.place = p.code)}>{p.words}</button
      >
    {/each}
  </div>
  <label>Day <input class="field" type="date" bind:value={form.on} max={today} required /></label>
  <label
    >Meter ({stop.unit}{stop.dial === null ? '' : `, last ${meter(stop.dial, '').trim()}`})
    <input class="field" type="number" step="any" min="0" bind:value={form.dial} />
  </label>
  <label
    >Opened with
    <select class="field" bind:value={form.tool}>
      <option value="">not said</option>
      {#each choices('tools') as t (t.code)}<option value={t.code}>{t.words}</option>{/each}
    </select></label
  >
  <label
    >Seen of it, % <input
      class="field"
      type="number"
      min="1"
      max="100"
      bind:value={form.share}
      required
    /></label
  >
  <div class="chips" role="group" aria-label="What was in it">
    {#each TERMS.debris_types as t (t.code)}
      <button type="button" class="press" onclick={() => add(t.code)}>{t.words}</button>
    {/each}
  </div>
  {#each counts as c, n (n)}
    {@const kind = TERMS.debris_types.find((t) => t.code === c.type)}
    <div class="count">
      <b>{kind?.words}</b>
      <label
        >Largest of these
        <select class="field" bind:value={c.size_class}>
          <option value="">not measured</option>
          {#each choices('debris_sizes') as s (s.code)}<option value={s.code}>{s.words}</option>{/each}
        </select></label
      >
      <label>How many <input class="field" type="number" min="1" bind:value={c.count} required /></label>
      <button type="button" class="press" onclick={() => (counts = counts.filter((_, i) => i !== n))}
        >Not this</button
      >
      <p class="muted">{kind?.hint}</p>
    </div>
  {/each}
  <p aria-live="polite">
    {#each says as said (said)}<b class="said">{said}</b>{/each}
    {#if counts.length && !unfinished && form.place && !says.length}This raises nothing.{/if}
  </p>
  {#if !counts.length}<p class="muted">Nothing counted: written down as clean.</p>{/if}
  <label>Note <input class="field" bind:value={form.note} maxlength="2000" /></label>
  <button class="press first" disabled={act.busy || !form.place || unfinished}
    >{counts.length ? 'Log the look' : 'Log the look: nothing in it'}</button
  >
  {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
</form>

<style>
  form {
    display: grid;
    gap: 8px;
  }
  .chips {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .said {
    display: block;
  }
  .count {
    display: grid;
    grid-template-columns: 1.4fr 1fr auto;
    gap: 4px 8px;
    align-items: end;
    border-left: 4px solid var(--line);
    padding-left: 8px;
  }
  .count b,
  .count p {
    grid-column: 1 / -1;
  }
  .press,
  .field {
    min-height: 44px;
    min-width: 0;
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
