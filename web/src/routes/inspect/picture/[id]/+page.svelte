<script lang="ts">
  import { page } from '$app/state';
  import { usePicture } from '$lib/api/queries';
  import Pair from '$lib/inspect/Pair.svelte';
  import { capital } from '$lib/terms';
  import { dayYear } from '$lib/words';

  const id = $derived(page.params.id ?? '');
  const found = usePicture(() => id);
  const p = $derived(found.data?.picture.id === id ? found.data : undefined);
</script>

<svelte:head><title>{p ? `${p.engine}, ${p.words}` : 'Picture'} · Keen Tracer</title></svelte:head>

<main class="picture">
  {#if found.isError}<p role="alert">{found.error.message}</p>{/if}
  {#if p}
    <h1><a href="/engine/{encodeURIComponent(p.engine)}">{p.engine} {p.engine_name}</a>: {p.words}</h1>
    <p class="muted">{dayYear(p.on)}, by {p.picture.taken_by}{p.note ? ` · ${p.note}` : ''}</p>
    <Pair
      picture={p.picture}
      words={capital(p.words)}
      others={p.others.map((o) => ({ picture: o, words: o.place, on: o.on_date }))}
    />
    <p><a href="/inspect/{encodeURIComponent(p.engine)}/opened">The opened engine</a></p>
  {/if}
</main>

<style>
  .picture {
    padding: 10px 18px 40px;
    display: grid;
    gap: 10px;
    max-width: 1400px;
  }
</style>
