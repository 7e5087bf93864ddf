<script lang="ts">
  import { goto } from '$app/navigation';
  import { api, body, type Schemas } from '$lib/api/client';
  import { useLooks } from '$lib/api/queries';
  import { choices, wordsOf } from '$lib/terms';
  import { dayYear, meter } from '$lib/words';

  const looks = useLooks(() => null);
  let text = $state('');
  let found = $state<Schemas['Found'][]>([]);
  const engines = $derived(found.filter((f) => f.kind !== 'sample'));

  async function look() {
    const wanted = text;
    const answer = wanted.trim()
      ? await body(api.GET('/api/find', { params: { query: { q: wanted } } })).catch(() => [])
      : [];
    if (wanted === text) found = answer;
  }
  const open = (engine: string) => void goto(`/inspect/${encodeURIComponent(engine)}`);
</script>

<svelte:head><title>Inspect · Keen Tracer</title></svelte:head>

<main class="inspect">
  <h1>Inspect</h1>
  <form
    onsubmit={(e) => {
      e.preventDefault();
      if (engines[0]) open(engines[0].engine);
    }}
  >
    <label
      >Whose filter, plug or pan is it?
      <input
        class="field"
        bind:value={text}
        oninput={() => void look()}
        placeholder="engine, by any part of its name"
        autocomplete="off"
      /></label
    >
    <ul aria-label="Engines">
      {#each engines as f (f.engine)}
        <li>
          <button type="button" class="press" onclick={() => open(f.engine)}
            ><b>{f.engine}</b> <span class="muted">{f.detail}</span></button
          >
        </li>
      {/each}
    </ul>
  </form>
  <section aria-label="Newest looks">
    <h2>Newest looks</h2>
    {#if looks.isError}<p role="alert">{looks.error.message}</p>{/if}
    <ul>
      {#each looks.data ?? [] as l (l.id)}
        <li>
          <a href="/inspect/look/{l.id}">
            <span><b>{l.engine}</b> {l.engine_name}, {wordsOf(choices('debris_places'), l.place)}</span>
            <span class="muted"
              >{dayYear(l.on_date)}{l.dial === null ? '' : `, ${meter(l.dial, '').trim()}`}, {l.by}{l.pictures
                ? `, ${l.pictures} picture${l.pictures === 1 ? '' : 's'}`
                : ''}</span
            >
            <span>{l.found}</span>
          </a>
        </li>
      {:else}{#if looks.data}<li class="muted">
            No look yet. Choose an engine above; what was in its filter judges it without any bottle.
          </li>{/if}{/each}
    </ul>
  </section>
</main>

<style>
  .inspect {
    padding: 10px 16px 40px;
    max-width: 760px;
    display: grid;
    gap: 14px;
  }
  label {
    display: grid;
    gap: 4px;
  }
  .field,
  .press {
    min-height: 48px;
    width: 100%;
    text-align: left;
  }
  li a {
    display: grid;
    gap: 2px;
    padding: 8px 0;
    border-bottom: 1px solid var(--line);
    text-decoration: none;
    min-height: 48px;
  }
</style>
