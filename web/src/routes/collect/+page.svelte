<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useRound } from '$lib/api/queries';
  import NewOil from '$lib/bottles/NewOil.svelte';
  import Labels from '$lib/collect/Labels.svelte';
  import LastDone from '$lib/collect/LastDone.svelte';
  import Parked from '$lib/collect/Parked.svelte';
  import Tabs from '$lib/collect/Tabs.svelte';
  import { dueWord } from '$lib/collect/register';
  import { choices, wordsOf } from '$lib/terms';
  import Stick from '$lib/draw/Stick.svelte';
  import { day, meter } from '$lib/words';

  const depot = $derived(page.url.searchParams.get('depot'));
  const on = $derived(page.url.searchParams.get('on'));
  const round = useRound(
    () => depot,
    () => on,
  );
  const r = $derived(round.data);
  // Every caution of the methods on this round, once: it goes along on paper.
  const cautions = $derived([
    ...new Set(r?.stops.flatMap((s) => s.steps.filter((x) => x.caution).map((x) => x.text)) ?? []),
  ]);
  function choose(code: string, day: string) {
    const query = new URLSearchParams({ ...(code ? { depot: code } : {}), ...(day ? { on: day } : {}) });
    void goto(query.size ? `/collect?${query}` : '/collect', { replaceState: true, keepFocus: true });
  }
  const length = (mm: number) => `${(Math.ceil(mm / 10) / 100).toFixed(2)} m`;
</script>

<svelte:head><title>Collect · Keen Tracer</title></svelte:head>

<main class="round">
  <Tabs />
  <div class="head">
    <div>
      <label class="muted"
        >Round
        <select
          class="field no-print"
          value={depot ?? ''}
          onchange={(e) => choose(e.currentTarget.value, on ?? '')}
        >
          <option value="">all depots</option>
          {#each r?.depots ?? [] as d (d.code)}<option value={d.code}>{d.name || d.code}</option>{/each}
        </select></label
      >
      <label class="muted no-print"
        >on <input
          class="field"
          type="date"
          value={r?.on ?? ''}
          onchange={(e) => choose(depot ?? '', e.currentTarget.value)}
          aria-label="Day of the round"
        /></label
      >
      <h1>
        {#if r}{day(r.on)}, {r.stops.length} engine{r.stops.length === 1 ? '' : 's'}{:else}…{/if}
      </h1>
    </div>
    <button class="press no-print" onclick={() => print()}>Print</button>
  </div>
  <LastDone />
  {#if round.isError}<p role="alert">{round.error.message}</p>{/if}
  {#if r && !r.stops.length}
    <p>
      Nobody is due here in the next days. Any engine can be opened by its name, above, and sampled from its
      page.
    </p>
  {/if}
  <ol>
    {#each r?.stops ?? [] as s (s.code)}
      <li>
        <a href="/collect/{encodeURIComponent(s.code)}" class:halt={s.state.may_run === 'past_its_time'}>
          <Stick level={s.level} signed={s.signed} height={28} />
          <span class="what">
            <b>{s.code}</b>
            {s.name} <span class="muted">{depot ? '' : (s.depot ?? '')}</span>
            <span class="why muted"
              >{s.state.may_run === 'past_its_time' ? `${s.state.may_run_words}. ` : ''}{s.why}</span
            >
            <span class="why"
              >{wordsOf(choices('methods'), s.method)}{s.tube_mm
                ? `, tube ${length(s.tube_mm)}`
                : ''}{s.dial === null ? '' : ` · last ${meter(s.dial, s.unit)}`}</span
            >
          </span>
          <b class="due" class:late={(s.due?.overdue ?? 0) > 0}>{dueWord(s, r?.on ?? '')}</b>
        </a>
      </li>
    {/each}
  </ol>
  {#if r?.stops.length}
    <p class="kit"><b>Kit</b> {r.kit}. Labels from {r.next_label} on.</p>
    <ul class="mind" aria-label="Cautions">
      {#each cautions as caution (caution)}<li class="caution">{caution}</li>{/each}
    </ul>
    <Labels engines={r.stops.map((s) => s.code)} />
  {/if}
  {#if r?.waiting.length}
    <p class="muted">Over the day's capacity of {r.capacity}, for another day: {r.waiting.join(', ')}.</p>
  {/if}
  {#if r}
    <NewOil batches={r.new_oil} today={r.on} />
    <Parked today={r.on} label={r.next_label} />
  {/if}
</main>

<style>
  .round {
    padding: 10px 16px 40px;
    max-width: 760px;
    display: grid;
    gap: 8px;
  }
  label {
    white-space: nowrap;
  }
  .head {
    display: flex;
    justify-content: space-between;
    align-items: end;
  }
  h1 {
    font-size: 21px;
  }
  .field,
  .press {
    min-height: 44px;
  }
  li a {
    display: grid;
    grid-template-columns: 34px 1fr auto;
    align-items: center;
    min-height: 72px;
    padding: 6px 0;
    border-bottom: 1px solid var(--line);
    text-decoration: none;
    font-size: 16px;
  }
  .mind {
    display: grid;
    gap: 2px;
  }
  .why {
    display: block;
    font-size: 13px;
  }
  .halt .what b {
    color: var(--stop);
  }
  .due {
    padding-left: 10px;
    font-size: 14px;
  }
  .due.late {
    color: var(--act);
  }
</style>
