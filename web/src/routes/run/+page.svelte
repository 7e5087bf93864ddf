<script lang="ts">
  import CaseLink from '$lib/case/CaseLink.svelte';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useRuns, useState } from '$lib/api/queries';
  import Stick from '$lib/draw/Stick.svelte';
  import { useKeys } from '$lib/frame/keys';
  import OutcomeForm from '$lib/outcome/OutcomeForm.svelte';
  import DecideForm from '$lib/run/DecideForm.svelte';
  import Fold from '$lib/state/Fold.svelte';
  import { dayYear, meter } from '$lib/words';

  const who = useState();
  const STEP = 200;
  let find = $state('');
  let limit = $state(STEP);
  const runs = useRuns(() => ({ find: find.trim(), limit }));
  const chosen = $derived(page.url.searchParams.get('engine'));
  const listed = $derived(runs.data?.rows ?? []);
  // Another place may have led to an engine beyond the window: it is asked for by name.
  const missing = $derived(!find && runs.data && chosen && !listed.some((r) => r.code === chosen));
  const one = useRuns(() => (missing && chosen ? { find: chosen, limit: 20 } : null));
  const rows = $derived(
    missing ? [...(one.data?.rows.filter((r) => r.code === chosen) ?? []), ...listed] : listed,
  );
  const at = $derived(rows.findIndex((r) => r.code === chosen));
  let form = $state<DecideForm>();

  function choose(code: string | undefined) {
    const to = code && code !== chosen ? `/run?engine=${encodeURIComponent(code)}` : '/run';
    void goto(to, { keepFocus: true, noScroll: true, replaceState: true });
  }
  function move(step: 1 | -1) {
    const next = rows[Math.max(0, Math.min(rows.length - 1, at < 0 ? 0 : at + step))];
    if (next && next.code !== chosen) choose(next.code);
  }
  // The chosen line has to be in view when another place led here.
  function intoView(node: HTMLElement) {
    node.scrollIntoView({ block: 'nearest' });
  }
  useKeys(
    {
      ArrowDown: () => move(1),
      ArrowUp: () => move(-1),
      h: () => form?.want('hold'),
      t: () => form?.want('restrict'),
      l: () => form?.want('release'),
      Escape: () => choose(undefined),
    },
    [
      { keys: '↑ ↓', does: 'engine' },
      { keys: 'h', does: 'hold it' },
      { keys: 't', does: 'let it run until a meter' },
      { keys: 'l', does: 'release it' },
    ],
  );
</script>

<svelte:head><title>Run · Keen Tracer</title></svelte:head>

<main class="run">
  <div class="tools">
    <h1>May it run?</h1>
    <input class="field no-print" placeholder="Name contains" aria-label="Name contains" bind:value={find} />
    <span class="muted no-print"
      >Every decision here is signed. Only a signed release lifts a Stop, and it names what was found and what
      was done.</span
    >
  </div>
  {#if runs.isError}<p role="alert">{runs.error.message}</p>{/if}
  {#if runs.data && !runs.data.total && !find}
    <p>No engines yet. Bring them in under <a href="/exchange">Exchange</a>.</p>
  {/if}
  <ul>
    {#each rows as r (r.code)}
      <li class:open={r.code === chosen}>
        <button
          class="line"
          class:halt={['do_not_run', 'past_its_time', 'not_judged'].includes(r.state.may_run)}
          aria-expanded={r.code === chosen}
          onclick={() => choose(r.code)}
        >
          <Stick level={r.level} height={28} />
          <span class="name"
            ><b>{r.code}</b>
            {r.name}
            <span class="muted">{r.depot ?? ''}{r.cases[0] ? `, case: ${r.cases[0].name}` : ''}</span></span
          >
          <span class="may">{r.state.may_run_words}</span>
          <span class="muted who"
            >{r.state.run ? `${r.state.run.by}, ${dayYear(r.state.run.on)}` : 'nobody decided'}</span
          >
          <span class="muted figure dial">{r.dial === null ? '' : meter(r.dial, r.unit)}</span>
        </button>
        {#if r.code === chosen}
          <div use:intoView>
            <DecideForm bind:this={form} row={r} person={who.data?.person ?? null} />
            <Fold engine={r.code} state={r.state} />
            <CaseLink engine={r.code} from="run" />
            <OutcomeForm engine={r.code} today={who.data?.today ?? ''} />
            <p class="links">
              <a href="/engine/{encodeURIComponent(r.code)}">History of {r.code}</a>
              {#if r.sample}<a href="/judge/{encodeURIComponent(r.sample)}">Sample {r.sample}</a>{/if}
            </p>
          </div>
        {/if}
      </li>
    {/each}
  </ul>
  {#if runs.data && runs.data.total > listed.length}
    <p class="no-print">
      {listed.length} of {runs.data.total} engines, who needs someone first.
      {#if limit < 500}<button class="press" onclick={() => (limit = 500)}>Show more</button>
      {:else}Type a part of a name to find another.{/if}
    </p>
  {/if}
</main>

<style>
  .run {
    padding: 10px 18px 40px;
  }
  .tools {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 14px;
    align-items: center;
    padding-bottom: 6px;
  }
  .line {
    display: grid;
    grid-template-columns: 34px minmax(180px, 1.2fr) minmax(150px, 1fr) minmax(140px, 1fr) 110px;
    align-items: center;
    width: 100%;
    min-height: 44px;
    text-align: left;
    cursor: pointer;
    border-bottom: 1px solid var(--line);
  }
  .line.halt .may {
    color: var(--stop);
    font-weight: 700;
    border-left: 5px solid var(--stop);
    padding-left: 8px;
  }
  .may {
    font-weight: 600;
  }
  .who,
  .dial {
    font-size: 13px;
  }
  .dial {
    text-align: right;
  }
  .links {
    display: flex;
    gap: 18px;
    padding: 8px 12px 12px;
  }
  @media (max-width: 700px) {
    .line {
      grid-template-columns: 34px 1fr;
      padding: 6px 0;
    }
    .may,
    .who,
    .dial {
      grid-column: 2;
      text-align: left;
    }
  }
</style>
