<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body } from '$lib/api/client';
  import { useSheet } from '$lib/api/queries';
  import { withMyUnits } from '$lib/mine.svelte';
  import FigureGrid from '$lib/bottles/FigureGrid.svelte';
  import { dayYear } from '$lib/words';

  const sample = $derived(page.params.sample ?? '');
  const sheet = useSheet(() => sample);
  const s = $derived(sheet.data?.sample === sample ? sheet.data : undefined);
  const act = new Act(useQueryClient());
  let cells = $state<Record<string, string>>({});
  let laboratory = $state<string | null>(null);
  let report = $state('');
  let analysed = $state('');
  let all = $state(false);
  const shown = $derived(s?.analytes.filter((a) => all || a.usual) ?? []);

  async function save(event: SubmitEvent) {
    event.preventDefault();
    let waits = false;
    const done = await act.run(async () => {
      const answer = await body(
        api.POST('/api/bottles/{sample}/figures', {
          params: { path: { sample } },
          body: {
            laboratory: laboratory ?? s?.laboratory ?? '',
            report,
            analysed_on: analysed || null,
            cells: withMyUnits($state.snapshot(cells)),
          },
        }),
      );
      waits = answer.waits;
    });
    if (done)
      void goto(waits ? '/exchange' : s?.engine ? `/judge/${encodeURIComponent(sample)}` : '/bottles');
  }
</script>

<svelte:head><title>Figures of {sample} · Keen Tracer</title></svelte:head>

<main class="figures">
  <p><a href="/bottles">Bottles</a></p>
  <h1>Figures of bottle {sample}{s?.engine ? `, ${s.engine}` : ', fresh oil'}</h1>
  {#if sheet.isError}<p role="alert">{sheet.error.message}</p>{/if}
  {#if s}
    <form onsubmit={save}>
      <p class="muted">
        {s.drawn_on ? `Drawn ${dayYear(s.drawn_on)}. ` : ''}As it is printed on the paper: 12, &lt;1, ND,
        trace. Leave empty what is not there.
      </p>
      <div class="head">
        <label
          >Laboratory <input
            class="field"
            list="labs"
            value={laboratory ?? s.laboratory}
            oninput={(e) => (laboratory = e.currentTarget.value)}
            maxlength="60"
          /></label
        >
        <datalist id="labs"
          >{#each s.laboratories as l (l)}<option value={l}></option>{/each}</datalist
        >
        <label
          >Report number <input
            class="field"
            bind:value={report}
            placeholder={sample}
            maxlength="60"
          /></label
        >
        <label>Analysed on <input class="field" type="date" bind:value={analysed} /></label>
      </div>
      <FigureGrid analytes={shown} bind:cells wrong={act.fields} />
      {#if !all}<button type="button" class="press" onclick={() => (all = true)}>More analytes</button>{/if}
      {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
      <button class="press first" disabled={act.busy}>Keep these figures</button>
    </form>
  {/if}
</main>

<style>
  .figures {
    padding: 10px 18px 40px;
    max-width: 900px;
    display: grid;
    gap: 8px;
    align-content: start;
  }
  form {
    display: grid;
    gap: 10px;
    justify-items: start;
  }
  .head {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
  }
  .head label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
  }
</style>
