<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body, type Schemas } from '$lib/api/client';
  import { useLimits } from '$lib/api/queries';
  import { BASIS_WORDS, keyOf, sendable, typed, type Sent } from '$lib/library/draft';
  import Places from '$lib/library/Places.svelte';
  import Policy from '$lib/library/Policy.svelte';
  import TryOut from '$lib/library/TryOut.svelte';
  import { dayYear } from '$lib/words';

  const limits = useLimits();
  const act = new Act(useQueryClient());
  const l = $derived(limits.data);
  let scope = $state<'class' | 'model' | 'engine'>('class');
  let name = $state('heavy_diesel');
  let draft = $state<Record<string, Sent>>({});
  let found = $state<Schemas['TriedOut'] | null>(null);
  let version = $state('');
  let added = $state({ analyte: '', basis: 'conc' as Sent['basis'] });

  const names = $derived.by(() => {
    const known = l?.scopes[scope] ?? [];
    if (scope !== 'class') return known;
    const used = new Set(l?.rows.filter((r) => r.scope === 'class').map((r) => r.scope_name));
    return known.filter((n) => used.has(n) || !n.includes('+'));
  });
  const edited = $derived(Object.values(draft));
  const here = $derived.by(() => {
    const order = l?.analytes.map((a) => a.column) ?? [];
    const rows = (l?.rows ?? [])
      .filter((r) => r.scope === scope && r.scope_name === name)
      .toSorted((a, b) => order.indexOf(a.analyte) - order.indexOf(b.analyte));
    const known = new Set(rows.map(keyOf));
    const fresh = Object.entries(draft)
      .filter(([k, r]) => !known.has(k) && r.scope === scope && r.scope_name === name)
      .map(([key, r]) => ({ key, row: r, was: null as Sent | null }));
    return [
      ...rows.map((r) => ({ key: keyOf(r), row: draft[keyOf(r)] ?? r, was: r as Sent | null })),
      ...fresh,
    ];
  });
  const nameOf = (column: string) => l?.analytes.find((a) => a.column === column)?.name ?? column;
  const unitOf = (column: string) => l?.analytes.find((a) => a.column === column)?.unit ?? '';

  function edit(key: string, row: Sent, more: Partial<Sent>) {
    const { scope, scope_name, analyte, basis, watch, act, unit, origin } = { ...row, ...more };
    draft = { ...draft, [key]: { scope, scope_name, analyte, basis, watch, act, unit, origin } };
    found = null;
  }
  function leave(key: string) {
    draft = Object.fromEntries(Object.entries(draft).filter(([k]) => k !== key));
    found = null;
  }
  function add() {
    const unit = added.basis === 'pct_fresh' ? '%' : unitOf(added.analyte);
    const row: Sent = { scope, scope_name: name, ...added, watch: null, act: null, unit, origin: '' };
    edit(`new ${crypto.randomUUID()}`, row, {});
    added = { analyte: '', basis: 'conc' };
  }
  const readable = $derived(sendable(edited));

  const tryOut = () =>
    act.run(async () => {
      found = await body(api.POST('/api/library/limits/try', { body: { rows: readable.rows } }));
    });
  const publish = async () => {
    const done = await act.run(async () => {
      const { engines } = await body(
        api.POST('/api/library/limits', { body: { rows: readable.rows, name: version } }),
      );
      version = '';
      draft = {};
      found = null;
      return engines;
    }, `Published. The engines it bears on are judged again.`);
    return done;
  };
</script>

<svelte:head><title>Library, limits · Keen Tracer</title></svelte:head>

<main class="library">
  <Places />
  <h1>Fixed limits{l ? `, version ${l.version}` : ''}</h1>
  {#if limits.isError}<p role="alert">{limits.error.message}</p>{/if}
  {#if act.said}<p role="status" class="said">{act.said}</p>{/if}
  {#if l}
    <div class="row">
      <label
        >Of
        <select
          class="field"
          aria-label="Scope"
          bind:value={scope}
          onchange={() => (name = scope === 'class' ? 'heavy_diesel' : (l.scopes[scope]?.[0] ?? ''))}
        >
          <option value="class">a class</option>
          <option value="model">a model</option>
          <option value="engine">an engine</option>
        </select></label
      >
      <label
        ><span class="sr-only">Which</span>
        <select class="field" bind:value={name} aria-label="Which"
          >{#each names as n (n)}<option value={n}>{n.replaceAll('_', ' ').replace('+', ', ')}</option
            >{/each}</select
        ></label
      >
      <span class="muted"
        >A limit for one engine overrides the limit of its model, and a model's limit overrides its class's
        limit.</span
      >
    </div>
    {#if scope !== 'model' && name}<Policy limits={l} {scope} {name} />{/if}
    {#if found}<TryOut {found} />{/if}
    <table class="plain-table">
      <thead
        ><tr
          ><th>Analyte</th><th>Held against</th><th>Watch</th><th>Act</th><th>Unit</th><th>Source</th><th
          ></th></tr
        ></thead
      >
      <tbody>
        {#each here as { key, row, was } (key)}
          <tr class:edited={draft[key]}>
            <td>{nameOf(row.analyte)}</td>
            <td class="muted">{BASIS_WORDS[row.basis]}</td>
            {#each ['watch', 'act'] as const as mark (mark)}
              <td
                ><input
                  class="field figure"
                  aria-label="{mark === 'watch' ? 'Watch' : 'Act'} of {nameOf(row.analyte)}"
                  aria-invalid={Number.isNaN(row[mark])}
                  value={Number.isNaN(row[mark]) ? undefined : (row[mark] ?? '')}
                  onchange={(e) => edit(key, row, { [mark]: typed(e.currentTarget.value) })}
                /></td
              >
            {/each}
            <td class="muted">{row.unit}</td>
            <td
              ><input
                class="field wide"
                aria-label="Origin of {nameOf(row.analyte)}"
                value={row.origin}
                onchange={(e) => edit(key, row, { origin: e.currentTarget.value })}
              /></td
            >
            <td
              >{#if draft[key]}<button class="plain" onclick={() => leave(key)}
                  >{was
                    ? `was ${was.watch ?? 'none'} / ${was.act ?? 'none'}, leave it`
                    : 'leave it out'}</button
                >{/if}</td
            >
          </tr>
        {:else}<tr><td colspan="7" class="muted">None of its own: the wider limits hold.</td></tr>
        {/each}
      </tbody>
    </table>
    <div class="row">
      <label
        >Add <select class="field" bind:value={added.analyte} aria-label="Analyte to add"
          ><option value=""></option>{#each l.analytes as a (a.column)}<option value={a.column}
              >{a.name}</option
            >{/each}</select
        ></label
      >
      <select class="field" bind:value={added.basis} aria-label="Held against"
        >{#each Object.entries(BASIS_WORDS) as [k, w] (k)}<option value={k}>{w}</option>{/each}</select
      >
      <button class="press" disabled={!added.analyte || !name} onclick={add}>Add a limit</button>
    </div>
    {#if edited.length}
      <div class="row bar">
        <b>{edited.length} changed, not published</b>
        <button class="press" disabled={act.busy || readable.wrong.length > 0} onclick={() => void tryOut()}
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
      {#if readable.wrong.length}<p role="alert">
          Not a number: {readable.wrong.map(nameOf).join(', ')}. Write digits, or leave it empty for no limit.
        </p>{/if}
    {/if}
    {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
    <section aria-label="Versions">
      <h2>Versions of the limits</h2>
      <ul>
        {#each l.versions as v (v.name)}<li>
            <b>{v.name}</b> <span class="muted">{dayYear(v.published_at)}, {v.published_by}</span>
          </li>{/each}
      </ul>
    </section>
  {:else if !limits.isError}<p class="muted">Reading…</p>{/if}
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
