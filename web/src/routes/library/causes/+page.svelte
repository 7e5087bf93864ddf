<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body, type Schemas } from '$lib/api/client';
  import { useWeights } from '$lib/api/queries';
  import { typed } from '$lib/library/draft';
  import { addable, keyOf, modesBy, rowsOf, type WeightRow } from '$lib/library/weights';
  import Places from '$lib/library/Places.svelte';
  import { TERMS } from '$lib/terms';
  import { dayYear } from '$lib/words';

  const weights = useWeights();
  const act = new Act(useQueryClient());
  const w = $derived(weights.data);
  let chosen = $state('main_rod_bearing');
  let draft = $state<Record<string, WeightRow>>({});
  let found = $state<Schemas['WeightsTried'] | null>(null);
  let version = $state('');
  let adding = $state('');

  const groups = $derived(modesBy(w?.modes ?? [], TERMS.channels));
  const mode = $derived(w?.modes.find((m) => m.code === chosen));
  const words = $derived(Object.fromEntries(w?.evidence.map((e) => [e.code, e.words]) ?? []));
  const modeWords = (code: string) =>
    code ? (w?.modes.find((m) => m.code === code)?.words ?? code) : 'none leads';
  const here = $derived(mode ? rowsOf(mode, draft) : []);
  const edited = $derived(Object.values(draft));
  const wrong = $derived(
    edited.filter((r) => !Number.isFinite(r.seen) || !Number.isFinite(r.absent) || !r.origin.trim()),
  );

  function edit(row: WeightRow, more: Partial<WeightRow>) {
    draft = { ...draft, [keyOf(row)]: { ...row, ...more } };
    found = null;
  }
  function leave(key: string) {
    draft = Object.fromEntries(Object.entries(draft).filter(([k]) => k !== key));
    found = null;
  }
  function add() {
    edit({ mode: chosen, evidence: adding, seen: 0.5, absent: 0, origin: '' }, {});
    adding = '';
  }
  const tryOut = () =>
    act.run(async () => {
      found = await body(api.POST('/api/library/weights/try', { body: { rows: edited } }));
    });
  const publish = () =>
    act.run(async () => {
      await body(api.POST('/api/library/weights', { body: { rows: edited, name: version } }));
      version = '';
      draft = {};
      found = null;
    }, 'Published. Every engine is judged again.');
</script>

<svelte:head><title>Library, causes · Keen Tracer</title></svelte:head>

<main class="library">
  <Places />
  <h1>Causes{!w ? '' : w.versions.length ? `, version ${w.version}` : ', as shipped'}</h1>
  <p class="muted">
    What each piece of evidence adds to a cause when it is seen, and when it was looked for and is not there.
    The sums order the list; they are no probabilities. 0.7 doubles the odds, 2.3 makes them ten times.
  </p>
  {#if weights.isError}<p role="alert">{weights.error.message}</p>{/if}
  {#if act.said}<p role="status" class="said">{act.said}</p>{/if}
  {#if w && mode}
    <div class="row">
      <label
        >Cause
        <select class="field" bind:value={chosen}>
          {#each groups as g (g.words)}<optgroup label={g.words}
              >{#each g.modes as m (m.code)}<option value={m.code}>{m.words}</option>{/each}</optgroup
            >{/each}
        </select></label
      >
      <span class="muted">
        {mode.needs.length ? `only where: ${mode.needs.join(', ').replaceAll('_', ' ')}` : 'any engine'}{mode
          .never.length
          ? `; never where: ${mode.never.join(', ').replaceAll('_', ' ')}`
          : ''}
      </span>
    </div>
    <table class="plain-table">
      <thead><tr><th>Evidence</th><th>Seen</th><th>Known to be absent</th><th>Source</th><th></th></tr></thead
      >
      <tbody>
        {#each here as { key, row, was } (key)}
          {@const name = row.evidence === 'prior' ? 'before anything is known' : words[row.evidence]}
          <tr class:edited={draft[key]}>
            <td>{name}</td>
            {#each ['seen', 'absent'] as const as side (side)}
              <td>
                {#if side === 'seen' || row.evidence !== 'prior'}<input
                    class="field figure"
                    inputmode="decimal"
                    aria-label="{side === 'seen' ? 'Seen' : 'Absent'}: {name}"
                    aria-invalid={!Number.isFinite(row[side])}
                    value={Number.isFinite(row[side]) ? row[side] : undefined}
                    onchange={(e) => edit(row, { [side]: typed(e.currentTarget.value) ?? NaN })}
                  />{/if}</td
              >
            {/each}
            <td
              ><input
                class="field wide"
                aria-label="Origin: {name}"
                aria-invalid={!row.origin.trim()}
                value={row.origin}
                onchange={(e) => edit(row, { origin: e.currentTarget.value })}
              /></td
            >
            <td
              >{#if draft[key]}<button class="plain" onclick={() => leave(key)}
                  >{was ? `was ${was.seen} / ${was.absent}, leave it` : 'leave it out'}</button
                >{/if}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
    <div class="row">
      <label
        >Add <select class="field" bind:value={adding} aria-label="Evidence to add"
          ><option value=""></option>{#each addable(w.evidence, here) as e (e.code)}<option value={e.code}
              >{e.words}</option
            >{/each}</select
        ></label
      >
      <button class="press" disabled={!adding} onclick={add}>Add evidence</button>
    </div>
    {#if edited.length}
      <div class="row bar">
        <b>{edited.length} changed, not published</b>
        <button class="press" disabled={act.busy || wrong.length > 0} onclick={() => void tryOut()}
          >See what would change</button
        >
        <label>Name of the new version <input class="field" bind:value={version} maxlength="80" /></label>
        <button
          class="press first"
          disabled={act.busy || !version.trim() || !found}
          title={found ? '' : 'See first what would change'}
          onclick={() => void publish()}>Publish</button
        >
        <button class="press" onclick={() => ((draft = {}), (found = null))}
          >Leave everything as it was</button
        >
      </div>
      {#if wrong.length}<p role="alert">
          A number from −10 to 10 and where it comes from, please: {wrong
            .map((r) => `${modeWords(r.mode)}, ${words[r.evidence] ?? 'before anything is known'}`)
            .join('; ')}.
        </p>{/if}
    {/if}
    {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
    {#if found}
      <section aria-label="What would change">
        <h2>
          {found.changed === 0
            ? 'The same cause would lead everywhere'
            : `Another cause would lead in ${found.changed} engine${found.changed === 1 ? '' : 's'}`}
        </h2>
        <p class="muted">By the newest samples of {found.tried} engines. No level depends on weights.</p>
        {#if found.changes.length}
          <table class="plain-table">
            <thead><tr><th>Sample</th><th>Engine</th><th>Leads now</th><th>Would lead</th></tr></thead>
            <tbody>
              {#each found.changes as c (c.sample)}<tr>
                  <td><a href="/judge/{encodeURIComponent(c.sample)}">{c.sample}</a></td>
                  <td>{c.engine}</td>
                  <td>{modeWords(c.was)}</td>
                  <td><b>{modeWords(c.now)}</b></td>
                </tr>{/each}
            </tbody>
          </table>
        {/if}
      </section>
    {/if}
    <section aria-label="Versions">
      <h2>Versions of the weights</h2>
      <ul>
        {#each w.versions as v (v.name)}<li>
            <b>{v.name}</b> <span class="muted">{dayYear(v.published_at)}, {v.published_by}</span>
          </li>{:else}<li class="muted">
            You have no weights of your own. The weights that ship with the program apply.
          </li>{/each}
      </ul>
    </section>
  {:else if !weights.isError}<p class="muted">Reading…</p>{/if}
</main>

<style>
  .library {
    padding: 10px 18px 40px;
    max-width: 1180px;
    display: grid;
    gap: 12px;
    align-content: start;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 14px;
    align-items: center;
  }
  .figure {
    width: 84px;
    text-align: right;
  }
  .wide {
    width: 100%;
  }
  td {
    vertical-align: middle;
  }
  .edited {
    box-shadow: inset 4px 0 0 var(--due);
  }
  .edited td:first-child {
    padding-left: 10px;
  }
  .bar {
    position: sticky;
    bottom: var(--thumb);
    background: var(--paper);
    border-top: 1px solid var(--line);
    padding: 8px 0;
  }
</style>
