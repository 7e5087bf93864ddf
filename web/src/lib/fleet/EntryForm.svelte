<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { useChanges, useEntries } from '../api/queries';
  import { dayYear } from '../words';
  import { changed, FIELD_WORDS, fieldWord } from './fields';

  interface Props {
    entries: Schemas['Entries'];
    entry: Schemas['EntryOut'] | null;
    onsaved: (code: string) => void;
  }
  let { entries, entry, onsaved }: Props = $props();

  const act = new Act(useQueryClient());
  // svelte-ignore state_referenced_locally
  let cells = $state<Record<string, string>>({
    ...Object.fromEntries(entries.fields.map((f) => [f.name, ''])),
    ...(entry?.cells ?? {}),
  });
  // svelte-ignore state_referenced_locally
  const was = entry?.cells ?? {};
  // svelte-ignore state_referenced_locally
  const version = entry?.version ?? null;
  // What an engine leaves empty it has from its model.
  const models = useEntries(() => 'models');
  const inherited = (field: string): string => {
    if (entries.place !== 'engines') return '';
    const of = models.data?.entries.find((m) => m.code === cells['model']);
    const value = of?.cells[field] ?? '';
    return value ? `${value}, from the model` : '';
  };
  const history = useChanges(() => (entry ? { place: entries.place, code: entry.code } : null));

  async function save(event: SubmitEvent) {
    event.preventDefault();
    const sent = entry ? changed(cells, was, entries.key) : $state.snapshot(cells);
    const done = await act.run(() =>
      body(
        api.POST('/api/fleet/{place}', {
          params: { path: { place: entries.place } },
          body: { cells: sent, version },
        }),
      ),
    );
    if (done) onsaved(cells[entries.key] ?? '');
  }
</script>

<form onsubmit={save} aria-label={entry ? entry.code : 'New entry'}>
  <div class="grid">
    {#each entries.fields as f (f.name)}
      <label class:wrong={act.fields[f.name]}>
        <span
          >{fieldWord(f.name)}
          {#if FIELD_WORDS[f.name]?.hint}<span class="muted">{FIELD_WORDS[f.name]?.hint}</span>{/if}</span
        >
        {#if f.choices && f.name !== 'features'}
          <select
            class="field"
            bind:value={cells[f.name]}
            required={f.required}
            disabled={Boolean(entry) && f.name === entries.key}
          >
            <option value=""></option>
            {#each f.choices as c (c)}<option value={c}>{c.replaceAll('_', ' ')}</option>{/each}
          </select>
        {:else}
          <input
            class="field"
            bind:value={cells[f.name]}
            required={f.required}
            readonly={Boolean(entry) && f.name === entries.key}
            maxlength="400"
            placeholder={inherited(f.name)}
            aria-invalid={Boolean(act.fields[f.name])}
          />
        {/if}
        {#if act.fields[f.name]}<span class="why" role="alert">{act.fields[f.name]}</span>{/if}
      </label>
    {/each}
  </div>
  {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
  <button class="press first" disabled={act.busy}>{entry ? 'Keep the changes' : 'Add it'}</button>
  {#if entries.place === 'engines' && entry}
    <p>
      <a href="/engine/{encodeURIComponent(entry.code)}">History of {entry.code}</a> ·
      <a href="/engine/{encodeURIComponent(entry.code)}/log">Sampling plans</a>
    </p>
  {/if}
  {#if history.data?.length}
    <h2>Changed so far</h2>
    <ul class="muted">
      {#each history.data as h, n (n)}
        <li>
          {dayYear(h.at)}
          {h.by}: {fieldWord(h.field)}
          {h.old ? `${h.old} → ` : ''}{h.new || 'emptied'}
        </li>
      {/each}
    </ul>
  {/if}
</form>

<style>
  form {
    display: grid;
    gap: 10px;
    justify-items: start;
    align-content: start;
  }
  .grid {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
    gap: 6px 18px;
    width: 100%;
  }
  label {
    display: grid;
    align-content: start;
    font-size: 13px;
  }
  .field {
    width: 100%;
    font-size: 14px;
  }
  .field:read-only:not(select),
  .field:disabled {
    border-color: var(--line);
    color: var(--muted);
    opacity: 1;
  }
  .wrong .field {
    border-color: var(--act);
  }
  .why {
    color: var(--act);
  }
</style>
