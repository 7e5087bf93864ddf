<script lang="ts">
  import { page } from '$app/state';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body } from '$lib/api/client';
  import { useOpened, useStop } from '$lib/api/queries';
  import { figuresOf } from '$lib/inspect/map';
  import { emptyRows, filled, findingsOf, markTheRest } from '$lib/inspect/sheet';
  import { capital, choices, TERMS, wordsOf } from '$lib/terms';
  import { dayYear } from '$lib/words';

  const code = $derived(page.params.engine ?? '');
  const opened = useOpened(() => code);
  const stop = useStop(() => code);
  const o = $derived(opened.data?.engine === code ? opened.data : undefined);
  const act = new Act(useQueryClient());

  let chosen = $state('rod_bearing');
  let cylinders = $state(6);
  let unit = $state('');
  let source = $state('');
  let limits = $state<Record<string, string>>({});
  const part = $derived(TERMS.parts.find((p) => p.code === chosen) ?? TERMS.parts[0]);
  const scale = $derived(TERMS.conditions.filter((c) => c.scale === part.scale));
  const layout = $derived(o?.layout ?? { kind: 'line' as const, cylinders });
  let rows = $state(emptyRows('cylinder', { kind: 'line', cylinders: 6 }));
  $effect.pre(() => {
    rows = emptyRows(part.many, layout);
    limits = {};
  });
  const readings = $derived(
    part.measured.map((name) => ({
      name,
      words: TERMS.details.find((d) => d.name === name)?.words ?? name,
    })),
  );
  const ready = $derived(rows.filter(filled).length);
  // The columns of conditions: one for each side of the part, else one.
  const sides = $derived(part.sides.length ? part.sides : ['']);
  const heading = (side: string): string => (side ? `Condition, ${side}` : 'Condition');

  const save = () =>
    act.run(async () => {
      let order = o?.findings.length ?? 0;
      for (const row of rows.filter(filled)) {
        let first = true;
        for (const details of findingsOf($state.snapshot(row), unit, $state.snapshot(limits), order + 1)) {
          order += 1;
          await body(
            api.POST('/api/engines/{code}/log', {
              params: { path: { code } },
              body: {
                id: crypto.randomUUID(),
                kind: 'finding',
                on: stop.data?.on ?? '',
                part: part.code,
                note: first ? row.note : '',
                details: { ...details, ...(source.trim() ? { limit_source: source.trim() } : {}) },
                ...{ oil: '', grade: '', batch: '' },
              },
            }),
          );
          // What is written down leaves the sheet: sent again it cannot stand twice.
          first = false;
          if (details['condition'] !== 'unseen') row.conditions[details['side'] ?? ''] = '';
        }
        row.conditions = {};
        row.note = '';
        row.readings = {};
      }
    }, 'Written down, in the order of the sheet.');
</script>

<svelte:head><title>{code}, bench sheet · Keen Tracer</title></svelte:head>

<main class="sheet forms">
  {#if opened.isError}<p role="alert">{opened.error.message}</p>{/if}
  {#if o}
    <h1>{o.engine} {o.engine_name}, bench sheet: {part.words}</h1>
    <p class="muted no-print">
      Print it and fill it by hand, or type along: Tab goes from cell to cell, several readings stand with a
      space between. A row left empty is not written down; of a row without a condition the figures are
      judged, and nothing is said of how it looks.
    </p>
    <div class="row no-print">
      <label
        >Part <select class="field" bind:value={chosen}
          >{#each TERMS.parts as p (p.code)}<option value={p.code}>{p.words}</option>{/each}</select
        ></label
      >
      {#if !o.layout}<label
          >Cylinders <input
            class="field short"
            type="number"
            min="1"
            max="16"
            bind:value={cylinders}
          /></label
        >{/if}
      <label
        >Measured in <select class="field" bind:value={unit}
          >{#each choices('length_units') as u (u.code)}<option value={u.code === 'mm' ? '' : u.code}
              >{u.words}</option
            >{/each}</select
        ></label
      >
      <label class="grow"
        >From which manual, page <input class="field" maxlength="120" bind:value={source} /></label
      >
    </div>
    <p class="only-print">
      Engine {o.engine}
      {o.engine_name} · {stop.data ? dayYear(stop.data.on) : ''} · measured in ________ · by ____________ · manual,
      page ________________
    </p>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="wide" tabindex="0" role="region" aria-label="The sheet">
      <table class="plain-table" aria-label="Readings">
        <thead>
          <tr
            ><th>No.</th>{#each sides as side (side)}<th
                >{heading(side)}
                <select
                  class="field no-print"
                  aria-label="{heading(side)}, of all rows without one"
                  value=""
                  onchange={(e) => {
                    markTheRest(rows, side, e.currentTarget.value);
                    e.currentTarget.value = '';
                  }}
                  ><option value="">all the rest …</option>{#each scale as c (c.code)}<option value={c.code}
                      >{c.words}</option
                    >{/each}</select
                ></th
              >{/each}{#each readings as r (r.name)}<th>{r.words}</th>{/each}<th>Note</th></tr
          >
        </thead>
        <tbody>
          {#each rows as row, n (n)}
            <tr>
              <td class="figure">{row.position ?? ''}</td>
              {#each sides as side (side)}<td
                  ><select
                    class="field no-print"
                    aria-label="{heading(side)}, {row.position ?? part.words}"
                    bind:value={row.conditions[side]}
                    ><option value={undefined}></option>{#each scale as c (c.code)}<option value={c.code}
                        >{c.words}</option
                      >{/each}</select
                  ></td
                >{/each}
              {#each readings as r (r.name)}
                <td
                  ><input
                    class="field"
                    inputmode="decimal"
                    aria-label="{r.words}, {row.position ?? part.words}"
                    bind:value={row.readings[r.name]}
                  /></td
                >
              {/each}
              <td
                ><input
                  class="field"
                  aria-label="Note, {row.position ?? part.words}"
                  bind:value={row.note}
                /></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    <p class="only-print muted">Conditions: {scale.map((c) => c.words).join(' · ')}</p>
    <div class="row">
      {#each figuresOf(part.measured) as f (f)}
        <span class="limit"
          >{capital(wordsOf(choices('measures'), f))}
          <label
            >at least <input
              class="field short"
              inputmode="decimal"
              aria-label="{wordsOf(choices('measures'), f)}, at least"
              bind:value={limits[`${f}_low`]}
            /></label
          >
          <label
            >at most <input
              class="field short"
              inputmode="decimal"
              aria-label="{wordsOf(choices('measures'), f)}, at most"
              bind:value={limits[`${f}_high`]}
            /></label
          ></span
        >
      {/each}
    </div>
    <p class="row no-print">
      <button class="press first" disabled={act.busy || !ready} onclick={() => void save()}
        >Write down {ready} {ready === 1 ? 'row' : 'rows'}</button
      >
      <button class="press" onclick={() => print()}>Print the sheet</button>
      <a href="/inspect/{encodeURIComponent(code)}/opened">The opened engine</a>
    </p>
    {#if act.said}<p role="status" class="said">{act.said}</p>{/if}
    {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
  {/if}
</main>

<style>
  .sheet {
    padding: 10px 18px 60px;
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    gap: 12px;
    max-width: 1400px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 18px;
    align-items: end;
  }
  .limit {
    display: flex;
    gap: 8px;
    align-items: end;
  }
  .grow {
    flex: 1 1 220px;
  }
  .wide {
    overflow-x: auto;
  }
  .limit {
    flex-wrap: wrap;
  }
  th .field {
    font-weight: 400;
  }
  td .field {
    width: 100%;
    min-width: 84px;
  }
  .short {
    width: 92px;
  }
  .only-print {
    display: none;
  }
  @media print {
    .only-print {
      display: block;
    }
    td {
      height: 11mm;
      border: 1px solid var(--edge);
    }
    .field {
      border: none;
      background: none;
    }
    .short {
      border-bottom: 1px solid var(--edge);
    }
  }
  @media (max-width: 900px) {
    .sheet {
      padding: 8px 12px 60px;
    }
  }
</style>
