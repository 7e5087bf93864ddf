<script lang="ts">
  import Amount from '../controls/Amount.svelte';
  import { mine } from '../mine.svelte';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { capital, choices, wordsOf } from '../terms';
  import { day, figure } from '../words';

  type Work = Schemas['WorkOut'];
  type Kind = Work['kind'];
  interface Props {
    engine: string;
    work: Schemas['WorkList'];
    asked: Schemas['AskedWork'][];
    caseId?: string;
    closed?: boolean;
  }
  let { engine, work, asked, caseId, closed = false }: Props = $props();
  const act = new Act(useQueryClient());

  const blank = () => ({
    kind: 'renew' as Kind,
    words: '',
    who: '',
    due: '',
    hours: null as number | null,
    estimate: null as number | null,
    cost: null as number | null,
    finding: null as string | null,
  });
  let form = $state(blank());
  let open = $state<Work | null>(null);
  let adding = $state(false);

  const send = (state: Work['state'], w: Work | null, given: ReturnType<typeof blank>) =>
    act.run(() =>
      body(
        api.POST('/api/engines/{code}/work', {
          params: { path: { code: engine } },
          body: {
            ...given,
            id: crypto.randomUUID(),
            due: given.due || null,
            state,
            replaces: w?.id ?? null,
            case: caseId ?? null,
          },
        }),
      ),
    );
  const given = (w: Work) => ({ ...w, due: w.due ?? '', finding: w.finding });
  const plain = (w: ReturnType<typeof given>) => ({
    kind: w.kind,
    words: w.words,
    who: w.who,
    due: w.due,
    hours: w.hours,
    estimate: w.estimate,
    cost: w.cost,
    finding: w.finding,
  });

  function change(w: Work) {
    form = plain(given(w));
    open = w;
    adding = true;
  }
  async function save(state: Work['state']) {
    if (await send(state, open, $state.snapshot(form))) {
      form = blank();
      open = null;
      adding = false;
    }
  }
  const take = (a: Schemas['AskedWork'], state: Work['state'], kind: Kind) =>
    send(state, null, { ...blank(), kind, words: a.words, finding: a.finding });
  const mark = (w: Work, state: Work['state']) => send(state, w, plain(given(w)));
</script>

<section aria-label="Work that follows" class="work forms">
  <h2>Work that follows</h2>
  {#if work.items.length}
    <ul class="list">
      {#each work.items as w (w.id)}
        <li class:gone={w.state === 'dropped'}>
          <span
            ><b>{capital(wordsOf(choices('work_kinds'), w.kind))}</b>: {w.words}
            <span class="muted"
              >{[
                `${wordsOf(choices('work_states'), w.state)} ${day(w.decided_on)}`,
                w.who,
                w.due ? day(w.due) : '',
                w.hours === null ? '' : `${figure(w.hours)} h`,
              ]
                .filter(Boolean)
                .join(', ')}</span
            ></span
          >
          <span class="figure num"
            >{#if w.cost !== null}{mine.money(w.cost)}{:else if w.estimate !== null}<span class="muted"
                >about {mine.money(w.estimate)}</span
              >{:else if w.kind !== 'leave'}?{/if}</span
          >
          <span class="no-print acts">
            {#if w.state === 'open' || w.state === 'decided'}
              {#if w.state === 'open'}<button
                  class="plain"
                  disabled={act.busy}
                  aria-label="Decide: {w.words}"
                  onclick={() => void mark(w, 'decided')}>decide</button
                >{/if}
              <button
                class="plain"
                disabled={act.busy}
                aria-label="Change or done: {w.words}"
                onclick={() => change(w)}>change or done</button
              >
              <button
                class="plain"
                disabled={act.busy}
                aria-label="Drop: {w.words}"
                onclick={() => void mark(w, 'dropped')}>drop</button
              >
            {:else}<button
                class="plain"
                disabled={act.busy}
                aria-label="Open again: {w.words}"
                onclick={() => void mark(w, 'open')}>open again</button
              >{/if}
          </span>
        </li>
      {/each}
    </ul>
    <p class="figure sums">
      first estimate {mine.money(work.first || 0)} · now {mine.money(work.now || 0)}{work.unknown
        ? ` and ${work.unknown} without a figure`
        : ''}{work.hours ? ` · ${figure(work.hours)} h to do` : ''}
    </p>
  {/if}
  {#if asked.length && !closed}
    <ul class="no-print">
      {#each asked as a (a.finding)}
        <li>
          {capital(a.words)}: <b>{wordsOf(choices('work_kinds'), a.kind)}</b>?
          <button class="plain" disabled={act.busy} onclick={() => void take(a, 'decided', a.kind)}
            >yes</button
          >
          {#each choices('work_kinds').filter((k) => k.code !== a.kind) as k (k.code)}
            <button class="plain" disabled={act.busy} onclick={() => void take(a, 'decided', k.code as Kind)}
              >{k.words}</button
            >
          {/each}
        </li>
      {/each}
    </ul>
  {/if}
  {#if adding}
    <form
      class="no-print"
      aria-label="A piece of work"
      onsubmit={(e) => {
        e.preventDefault();
        void save(form.cost === null ? 'decided' : 'done');
      }}
    >
      <label
        >Do <select class="field" bind:value={form.kind}
          >{#each choices('work_kinds') as k (k.code)}<option value={k.code}>{k.words}</option>{/each}</select
        ></label
      >
      <label class="grow">What <input class="field" bind:value={form.words} maxlength="400" required /></label
      >
      <label>Who <input class="field" bind:value={form.who} maxlength="60" /></label>
      <label>When <input class="field" type="date" bind:value={form.due} /></label>
      <Amount label="It takes" unit="h" bind:value={form.hours} />
      <Amount label="Estimate" unit={mine.currency} bind:value={form.estimate} />
      <Amount label="It came to" unit={mine.currency} bind:value={form.cost} />
      <button class="press first" disabled={act.busy || !form.words.trim()}
        >{form.cost === null ? 'Decide it' : 'It is done'}</button
      >
      {#if form.cost === null}<button
          type="button"
          class="press"
          disabled={act.busy || !form.words.trim()}
          onclick={() => void save('open')}>Leave it to decide</button
        >
        {#if open}<button
            type="button"
            class="press"
            disabled={act.busy || !form.words.trim()}
            onclick={() => void save('done')}>Done, without a sum</button
          >{/if}{/if}
    </form>
  {:else if !closed}
    <button class="press no-print" onclick={() => (adding = true)}>Add a piece of work</button>
  {/if}
  {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
</section>

<style>
  .work {
    display: grid;
    gap: 8px;
    justify-items: start;
  }
  .list {
    justify-self: stretch;
  }
  .list li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 0 12px;
    padding: 4px 0;
    border-bottom: 1px solid var(--line);
  }
  .gone {
    text-decoration: line-through;
    color: var(--muted);
  }
  .acts {
    grid-column: 1 / -1;
  }
  .plain {
    margin-right: 10px;
    min-height: 32px;
  }
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: end;
  }
  .grow {
    flex: 1 1 220px;
  }
  .num {
    text-align: right;
  }
  .sums {
    font-size: 13px;
    color: var(--muted);
  }
  ul li {
    padding: 3px 0;
  }
</style>
