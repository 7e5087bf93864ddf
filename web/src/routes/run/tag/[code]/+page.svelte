<script lang="ts">
  import { page } from '$app/state';
  import { useEngine } from '$lib/api/queries';
  import Stick from '$lib/draw/Stick.svelte';
  import { dayYear, meter } from '$lib/words';

  const engine = useEngine(() => page.params.code ?? '');
  const e = $derived(engine.data);
</script>

<svelte:head><title>Tag {page.params.code} · Keen Tracer</title></svelte:head>

<main class="tag">
  {#if e?.state.may_run === 'do_not_run'}
    <section aria-label="Tag">
      <Stick level={3} height={96} />
      <h1>Do not run</h1>
      <p class="engine">{e.code} {e.name}</p>
      <p>{meter(e.dial, e.unit)} · {e.depot ?? ''}</p>
      <p class="why">{e.state.what}</p>
      <p>
        {#if e.state.run?.state === 'hold'}Held by {e.state.run.by}, {dayYear(e.state.run.on)}.{/if}
        Only a signed release lifts this.
      </p>
    </section>
    <button class="press first no-print" onclick={() => print()}>Print the tag</button>
  {:else if e}
    <p>
      {e.code} may run: there is no tag to print.
      <a href="/run?engine={encodeURIComponent(e.code)}">Back to Run</a>
    </p>
  {:else if engine.isError}
    <p role="alert">{engine.error.message}</p>
  {/if}
</main>

<style>
  .tag {
    padding: 24px;
    display: grid;
    gap: 16px;
    justify-items: center;
  }
  section {
    border: 6px solid var(--stop);
    padding: 28px 40px;
    max-width: 560px;
    text-align: center;
    display: grid;
    gap: 10px;
    justify-items: center;
    font-size: 18px;
  }
  h1 {
    font-size: 52px;
    color: var(--stop);
  }
  .engine {
    font-size: 30px;
    font-weight: 700;
  }
  .why {
    border-top: 1px solid var(--edge);
    border-bottom: 1px solid var(--edge);
    padding: 8px 0;
  }
</style>
