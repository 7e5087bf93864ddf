<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useEntries } from '$lib/api/queries';
  import Tabs from '$lib/collect/Tabs.svelte';
  import EntryForm from '$lib/fleet/EntryForm.svelte';
  import { PLACES } from '$lib/fleet/fields';
  import OilsForm from '$lib/fleet/OilsForm.svelte';

  const place = $derived(page.url.searchParams.get('place') ?? 'engines');
  const code = $derived(page.url.searchParams.get('entry'));
  const found = useEntries(() => place);
  const e = $derived(found.data?.place === place ? found.data : undefined);
  const entry = $derived(e?.entries.find((x) => x.code === code) ?? null);
  const one = $derived(PLACES.find((p) => p.place === place)?.one ?? 'entry');
  let said = $state('');

  const to = (p: string, c: string | null) =>
    goto(`/fleet?place=${p}${c === null ? '' : `&entry=${encodeURIComponent(c)}`}`, {
      replaceState: true,
      keepFocus: true,
      noScroll: true,
    });
</script>

<svelte:head><title>Fleet record · Keen Tracer</title></svelte:head>

<main class="fleet">
  <Tabs />
  <h1 class="sr-only">Fleet record</h1>
  <div class="places" role="group" aria-label="Part of the record">
    {#each PLACES as p (p.place)}
      <button
        class="press"
        aria-pressed={place === p.place}
        onclick={() => {
          said = '';
          void to(p.place, null);
        }}>{p.word}</button
      >
    {/each}
  </div>
  {#if found.isError}<p role="alert">{found.error.message}</p>{/if}
  {#if said}<p role="status" class="said">{said}</p>{/if}
  {#if place === 'oils'}
    <OilsForm />
  {:else if e}
    <div class="two">
      <ul class="list">
        <li>
          <button class="press" aria-pressed={code === ''} onclick={() => void to(place, '')}
            >+ new {one}</button
          >
        </li>
        {#each e.entries as x (x.code)}
          <li>
            <button aria-pressed={code === x.code} onclick={() => void to(place, x.code)}
              ><b>{x.code}</b> <span class="muted">{x.cells['name'] ?? x.cells['class'] ?? ''}</span></button
            >
          </li>
        {/each}
      </ul>
      {#if entry || code === ''}
        {#key `${place}|${code}|${entry?.version ?? ''}`}
          <EntryForm
            entries={e}
            {entry}
            onsaved={(c) => {
              said = entry ? `${c}: changes kept.` : `${c} added.`;
              void to(place, c);
            }}
          />
        {/key}
      {:else}
        <p class="muted">
          Choose one on the left, or add one. Changing what an engine is judged by judges it again; who
          changed what stays readable.
        </p>
      {/if}
    </div>
  {:else if !found.isError}<p class="muted">Reading…</p>{/if}
</main>

<style>
  .fleet {
    padding: 2px 18px 40px;
    display: grid;
    gap: 10px;
    align-content: start;
    max-width: 1240px;
  }
  .places {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .places .press[aria-pressed='true'] {
    box-shadow: inset 0 -4px 0 var(--ink);
    font-weight: 650;
  }
  .two {
    display: grid;
    grid-template-columns: 240px minmax(0, 1fr);
    gap: 24px;
    align-items: start;
  }
  .list {
    display: grid;
    gap: 2px;
    border-right: 1px solid var(--line);
    padding-right: 10px;
  }
  .list button:not(.press) {
    display: block;
    width: 100%;
    text-align: left;
    padding: 4px 6px;
    cursor: pointer;
  }
  .list button[aria-pressed='true']:not(.press) {
    background: var(--paper-raised);
    box-shadow: inset 3px 0 0 var(--ink);
  }
  @media (max-width: 700px) {
    .two {
      grid-template-columns: 1fr;
    }
    .list {
      border-right: none;
    }
  }
</style>
