<script lang="ts">
  import { tick } from 'svelte';
  import { mine } from '$lib/mine.svelte';
  import { page } from '$app/state';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body, type Schemas } from '$lib/api/client';
  import { useCase } from '$lib/api/queries';
  import Balance from '$lib/case/Balance.svelte';
  import { leaders } from '$lib/case/balance';
  import EndCase from '$lib/case/EndCase.svelte';
  import Flush from '$lib/case/Flush.svelte';
  import Isolation from '$lib/case/Isolation.svelte';
  import NotHere from '$lib/state/NotHere.svelte';
  import KnownFaults from '$lib/state/KnownFaults.svelte';
  import TwoLines from '$lib/state/TwoLines.svelte';
  import { capital } from '$lib/terms';
  import WorkList from '$lib/work/WorkList.svelte';
  import { computed, dayYear, figure, levelWord } from '$lib/words';

  const id = $derived(page.params.id ?? '');
  const found = useCase(() => id);
  const k = $derived(found.data?.id === id ? found.data : undefined);
  const act = new Act(useQueryClient());

  type Entry = Omit<Schemas['NewCaseEntry'], 'id' | 'on'>;
  // What was written says something of the engine itself: kept here until somebody says whether it does.
  let asked = $state<{ entry: Entry; says: Record<string, string> } | null>(null);
  let answered = $state(0);
  let askedYes = $state<HTMLButtonElement>();
  async function add(entry: Entry): Promise<boolean> {
    asked = null;
    const worked = await act.run(() =>
      body(
        api.POST('/api/cases/{key}/entries', {
          params: { path: { key: id } },
          body: { ...entry, id: crypto.randomUUID(), on: k?.today ?? '' },
        }),
      ),
    );
    if (act.code === 'says_a_fact') {
      asked = { entry, says: { ...act.fields } };
      act.wrong = '';
      // The question may stand out of view, above what was typed: it is brought before the eyes.
      await tick();
      askedYes?.focus();
    }
    return worked;
  }
  /** The same again, its facts in the log or not. */
  async function answer(facts: string[]) {
    const entry = asked?.entry;
    if (!entry || !(await add({ ...entry, facts }))) return;
    if (entry.kind === 'note') note = '';
    answered += 1;
  }
  const end = (given: Omit<Schemas['NewEnd'], 'id' | 'follows'>) =>
    act.run(() =>
      body(
        api.POST('/api/cases/{key}/end', {
          params: { path: { key: id } },
          body: { ...given, id: crypto.randomUUID(), follows: k?.standing ?? null },
        }),
      ),
    );
  const blank = { hypothesis: '', said: '', words: '' };
  let note = $state('');
  let way = $state({ words: '', amount: null as number | null });
  let rename = $state<{ words: string; since: string } | null>(null);
  let again = $state('');

  async function addNote() {
    if (await add({ ...blank, kind: 'note', words: note })) note = '';
  }
  async function addWay() {
    if (await add({ ...blank, kind: 'way_out', ...$state.snapshot(way) })) way = { words: '', amount: null };
  }
  async function nameAnew() {
    const to = rename;
    if (!to) return;
    const worked = await act.run(() =>
      body(
        api.POST('/api/cases/{key}/entries', {
          params: { path: { key: id } },
          body: { ...blank, kind: 'rename', words: to.words, id: crypto.randomUUID(), on: to.since },
        }),
      ),
    );
    if (worked) rename = null;
  }
  async function reopen() {
    if (await add({ ...blank, kind: 'reopen', words: again, follows: k?.standing ?? null })) again = '';
  }
  const checkWay = (c: Schemas['CaseCheck'], engine: string) =>
    c.form === 'look'
      ? `/inspect/${encodeURIComponent(engine)}`
      : `/collect/${encodeURIComponent(engine)}${c.form === 'check' ? `?log=field_check&check=${c.code}` : ''}`;
</script>

<svelte:head><title>{k ? `${k.engine}, ${k.name}` : 'Case'} · Keen Tracer</title></svelte:head>

<main class="case forms">
  {#if found.isError}<p role="alert">{found.error.message}</p>{/if}
  {#if k}
    <header>
      <h1><a href="/engine/{encodeURIComponent(k.engine)}">{k.engine} {k.engine_name}</a>: {k.name}</h1>
      <span class="muted"
        >since {dayYear(k.since)}, opened from {k.opened_from} by {k.opened_by}, {dayYear(
          k.opened_on,
        )}{#if k.sample}, <a href="/judge/{encodeURIComponent(k.sample)}">sample {k.sample}</a>{/if}</span
      >
      <a
        class="no-print"
        href="/api/cases/{encodeURIComponent(k.id)}/customer.pdf"
        target="_blank"
        rel="noopener">Page for the customer (PDF)</a
      >
      {#if !k.closed && !rename}<button
          class="plain no-print"
          onclick={() => (rename = { words: k.name, since: k.since })}>rename, or change when it began</button
        >{/if}
      {#if rename}
        <form
          class="row no-print"
          onsubmit={(e) => {
            e.preventDefault();
            void nameAnew();
          }}
        >
          <label>Name <input class="field" maxlength="60" bind:value={rename.words} required /></label>
          <label
            >It began <input
              class="field"
              type="date"
              max={k.today}
              bind:value={rename.since}
              required
            /></label
          >
          <button class="press" disabled={act.busy}>Keep it</button>
          <button type="button" class="press" onclick={() => (rename = null)}>Leave it</button>
        </form>
      {/if}
    </header>
    {#if k.closed}
      <p class="said"><b>Closed: {k.ended}.</b></p>
      <form
        class="row no-print"
        onsubmit={(e) => {
          e.preventDefault();
          void reopen();
        }}
      >
        <label>Why open it again? <input class="field" bind:value={again} maxlength="400" /></label>
        <button class="press" disabled={act.busy || !again.trim()}>Open it again</button>
      </form>
    {/if}
    <TwoLines state={k.state} />
    {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
    {#if k.rows.length > 1}<p><b>{capital(leaders(k.rows))}.</b></p>{/if}
    {#if k.known_faults.length}
      <section aria-label="Known faults" class="said">
        Known of this model:<KnownFaults faults={k.known_faults} />
      </section>
    {/if}
    {#if k.before.length}
      <section aria-label="Done shortly before" class="before">
        <h2>Done shortly before it began</h2>
        {#each k.before as b (b.on + b.words)}
          <p class:strong={b.work}>{b.ago}: {b.words} <span class="muted">{dayYear(b.on)}</span></p>
        {/each}
      </section>
    {/if}
    {#if asked}{@const says = Object.values(asked.says)}
      <section aria-label="What this says" class="said">
        <p role="status">
          <b>“{asked.entry.words}”</b> says: {says.join(', ')}. In the log the engine is judged by it; only on
          the balance it is not.
        </p>
        <p class="row">
          <button
            class="press first"
            bind:this={askedYes}
            onclick={() => void answer(Object.keys(asked?.says ?? {}))}>Write it in the log too</button
          >
          <button class="press" disabled={act.busy} onclick={() => void answer([])}
            >It says nothing of the engine</button
          >
        </p>
      </section>{/if}
    {#key answered}<Balance rows={k.rows} closed={k.closed} busy={act.busy} onadd={add} />{/key}
    <div class="three">
      <section aria-label="Next best check" class="checks">
        <h2>Next best check</h2>
        {#each k.checks as c (c.code)}
          <div>
            <p>
              <a href={checkWay(c, k.engine)}><b>{c.words}</b></a>
              <span class="muted">{c.hours} h, {c.at}</span>
            </p>
            {#if c.pulls}<p class="muted">{c.pulls}</p>{/if}
            <p class="caution">{c.caution}</p>
            {#if c.tools}<p class="muted">Needs: {c.tools.toLowerCase()}.</p>{/if}
            <NotHere engine={k.engine} check={c} />
          </div>
        {:else}<p class="muted">No remaining check separates the leading explanations.</p>{/each}
        <details>
          <summary>Coolant in the oil: where it gets in</summary>
          <Isolation isolation={k.isolation} closed={k.closed} busy={act.busy} onadd={add} />
        </details>
      </section>
      <div class="column">
        <WorkList engine={k.engine} work={k.work} asked={k.asked} caseId={k.id} closed={k.closed} />
        <section aria-label="Other ways out" class="ways">
          {#each k.ways_out as w (w.id)}
            <p>
              {w.words} <b class="figure">{mine.money(w.amount)}</b>
              {#if !k.closed}<button
                  class="plain no-print"
                  disabled={act.busy}
                  onclick={() => void add({ ...blank, kind: 'withdraw', withdraws: w.id })}>take back</button
                >{/if}
            </p>
          {/each}
          {#if !k.closed}
            <form
              class="row no-print"
              onsubmit={(e) => {
                e.preventDefault();
                void addWay();
              }}
            >
              <label
                >Another way out <input
                  class="field"
                  placeholder="exchange engine"
                  maxlength="200"
                  bind:value={way.words}
                /></label
              >
              <label
                >Sum <input
                  class="field short"
                  type="number"
                  min="0"
                  step="any"
                  bind:value={way.amount}
                /></label
              >
              <button class="press" disabled={act.busy || !way.words.trim() || way.amount === null}
                >Hold it against</button
              >
            </form>
          {/if}
        </section>
      </div>
      <div class="column">
        <Flush
          flush={k.flush}
          waits={k.flush_waits}
          after={`${k.looked_after_at.map((x) => figure(x)).join(' and ')} ${k.unit}`}
          closed={k.closed}
          busy={act.busy}
          onadd={add}
        />
        {#if k.run_in}
          {@const r = k.run_in}
          <section aria-label="Run-in">
            <h2>Run-in</h2>
            <p>
              {figure(r.at)} of {figure(r.until)}
              {k.unit}; first oil changes at {r.changes.map((x) => figure(x)).join(' and ')}
              {k.unit}.
            </p>
            {#each r.metals as m (m.symbol)}
              <p>
                <b>{m.symbol}</b>
                <span class="figure"
                  >{m.per_100.map((x) => (x === null ? '–' : computed(x))).join(' → ')}</span
                >
                <span class="muted">per 100 {k.unit}</span>
                {#if m.word === 'does_not_fall'}<b>wear is not falling, so run-in no longer excuses it</b>
                {:else if m.word === 'falls'}falls{:else}must fall by a quarter from charge to charge{/if}
              </p>
            {/each}
          </section>
        {/if}
        {#if k.drained}
          {@const d = k.drained}
          <section aria-label="What drained">
            <h2>What drained, {dayYear(d.on)}</h2>
            <p>{mine.says(d.first_l ?? 0, 'L')} came first, then {mine.says(d.then_l ?? 0, 'L')} of oil.</p>
            {#if d.least_in !== null && d.most_in !== null}
              <p>
                <b
                  >{d.most_in < 0.1
                    ? 'No more than was filled.'
                    : `${mine.plain(Math.max(d.least_in, 0), 'L') || 0} to ${mine.says(d.most_in, 'L')} came in.`}</b
                >
                <span class="muted"
                  >{mine.says(d.filled_l ?? 0, 'L')} filled{d.topped_l
                    ? `, ${mine.says(d.topped_l, 'L')} topped up`
                    : ''}; 3 to 10 % stays in filter and cooler.</span
                >
              </p>
            {/if}
            <p class="caution">
              Coolant lies at the bottom and reaches the bearings first: drain it slowly, before anything is
              barred or cranked. A bent stick is an answer where the stick says more than what drained.
            </p>
          </section>
        {/if}
        {#if k.followed}
          <section aria-label="After the work">
            <h2>After the work</h2>
            <p>{k.followed.words}, {dayYear(k.followed.on)}</p>
            {#each k.followed.drawn as d (d.sample)}
              <p class="muted">
                {d.after === null ? '' : `${figure(d.after)} ${k.unit}: `}<a
                  href="/judge/{encodeURIComponent(d.sample)}">{d.sample}</a
                >, {d.level === null ? 'figures out' : levelWord(d.level as 0 | 1 | 2 | 3)}
              </p>
            {/each}
            <p>
              <b>{capital(k.followed.said)}.</b>
              {k.followed.next_at === null
                ? k.followed.word === 'steady'
                  ? ''
                  : 'Next sample at the usual interval.'
                : `Next sample ${figure(k.followed.next_at)} ${k.unit} after the work.`}
            </p>
          </section>
        {/if}
        {#if k.similar.length}
          <section aria-label="Cases like it">
            <h2>Cases like it</h2>
            {#each k.similar as s (s.id)}
              <p>
                <a href="/case/{s.id}">{s.engine}: {s.name}</a>
                <span class="muted">{s.found}, {s.ended}</span>
              </p>
            {/each}
          </section>
        {/if}
      </div>
    </div>
    <section aria-label="Along the time" class="line">
      <h2>Along the time</h2>
      {#if !k.closed}
        <form
          class="row no-print"
          onsubmit={(e) => {
            e.preventDefault();
            void addNote();
          }}
        >
          <label class="grow">Note <input class="field" maxlength="2000" bind:value={note} /></label>
          <button class="press" disabled={act.busy || !note.trim()}>Write it down</button>
          <a class="press" href="/inspect/{encodeURIComponent(k.engine)}">A look</a>
          <a class="press" href="/inspect/{encodeURIComponent(k.engine)}/opened">The opened engine</a>
          <a class="press" href="/collect/{encodeURIComponent(k.engine)}">A bottle, a symptom</a>
        </form>
      {/if}
      <ul>
        {#each k.line as l, n (l.id ?? n)}
          <li class:gone={l.gone}>
            <span class="figure when">{dayYear(l.on)}</span>
            <span
              >{#if l.kind === 'look'}<a href="/inspect/look/{l.id}">{l.words}</a>{:else if l.sample}<a
                  href="/judge/{encodeURIComponent(l.sample)}">{l.words}</a
                >{:else}{l.words}{/if}
              <span class="muted"
                >{l.by}{l.pictures
                  ? `, ${l.pictures} ${l.pictures === 1 ? 'picture' : 'pictures'}`
                  : ''}</span
              >
              {#if l.own && !l.gone && !k.closed && l.id}<button
                  class="plain no-print"
                  disabled={act.busy}
                  aria-label="Take back: {l.words}"
                  onclick={() => void add({ ...blank, kind: 'withdraw', withdraws: l.id })}>take back</button
                >{/if}</span
            >
          </li>
        {/each}
      </ul>
    </section>
    {#if !k.closed}{#key k.found}<EndCase
          model={k.model ?? ''}
          today={k.today}
          found={k.found}
          busy={act.busy}
          onend={end}
        />{/key}{/if}
    <p class="no-print"><button class="press" onclick={() => print()}>Print the job sheet</button></p>
  {:else if !found.isError}<p class="muted">Reading the case…</p>{/if}
</main>

<style>
  .case {
    padding: 10px 18px 60px;
    display: grid;
    gap: 12px;
    max-width: 1400px;
  }
  header {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 14px;
    align-items: baseline;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: end;
  }
  .grow {
    flex: 1 1 260px;
  }
  .short {
    width: 120px;
  }
  .three {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.5fr) minmax(0, 0.9fr);
    gap: 12px 28px;
    align-items: start;
  }
  .checks,
  .column {
    display: grid;
    gap: 14px;
    align-content: start;
  }
  .checks .caution {
    font-size: 13px;
  }
  .before .strong {
    font-weight: 650;
  }
  .line li {
    display: grid;
    grid-template-columns: 104px 1fr;
    gap: 8px;
    padding: 3px 0;
  }
  .line ul {
    border-left: 2px solid var(--due);
    padding-left: 12px;
  }
  .when {
    font-size: 12.5px;
    color: var(--muted);
  }
  .gone {
    text-decoration: line-through;
    color: var(--muted);
  }
  @media (max-width: 900px) {
    .three {
      grid-template-columns: minmax(0, 1fr);
    }
    .case {
      padding: 8px 12px 60px;
    }
    .line li {
      grid-template-columns: minmax(0, 1fr);
      gap: 0;
    }
  }
</style>
