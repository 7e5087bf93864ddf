<script lang="ts">
  import type { Schemas } from '../api/client';
  import { capital, TERMS } from '../terms';
  import { heaviest, signed, width } from './balance';

  type Entry = Omit<Schemas['NewCaseEntry'], 'id' | 'on'>;
  interface Props {
    rows: Schemas['ExplanationOut'][];
    closed: boolean;
    busy: boolean;
    onadd: (entry: Entry) => Promise<boolean>;
  }
  let { rows, closed, busy, onadd }: Props = $props();

  let all = $state(false);
  let asiding = $state('');
  let why = $state('');
  let named = $state('');
  let said = $state({ hypothesis: '', words: '', weight: 0 });
  const shown = $derived(rows.filter((r) => all || r.shown));
  const full = $derived(heaviest(shown));

  const blank = { hypothesis: '', said: '', words: '' };
  async function setAside(code: string) {
    if (await onadd({ ...blank, kind: 'set_aside', hypothesis: code, words: why })) {
      asiding = '';
      why = '';
    }
  }
  async function name() {
    if (await onadd({ ...blank, kind: 'hypothesis', words: named })) named = '';
  }
  async function bring() {
    if (await onadd({ ...blank, ...said, kind: 'evidence' }))
      said = { hypothesis: said.hypothesis, words: '', weight: 0 };
  }
  const back = (key: string) => onadd({ ...blank, kind: 'withdraw', withdraws: key });
</script>

{#snippet pieces(list: Schemas['PieceOut'][], side: string)}
  <div class="side {side}">
    {#if list.length}
      <div class="bar" aria-hidden="true">
        {#each list as p (p.words + p.weight)}<i style:width="{width(p.weight, full)}%"></i>{/each}
      </div>
      <ul aria-label={side === 'for' ? 'speaks for it' : 'speaks against it'}>
        {#each list as p (p.words + p.weight)}
          <li>
            {p.words}{#if p.origin}<span class="muted">, {p.origin}</span>{/if}
            <b class="figure">{signed(p.weight)}</b>
          </li>
        {/each}
      </ul>
    {/if}
  </div>
{/snippet}

<section aria-label="The balance" class="balance forms">
  <div class="head muted">
    <span>speaks against</span><span>? not known yet: found / not found</span><span>speaks for</span>
  </div>
  {#each shown as r (r.code)}
    <div class="row" class:aside={r.aside}>
      {@render pieces(r.against, 'against')}
      <div class="middle">
        <b class="name">{capital(r.words)}</b>
        <span class="under">
          <span class="figure score">{signed(r.score)}</span>
          {#if r.aside && !closed}<button
              class="plain no-print"
              disabled={busy}
              onclick={() => void back(r.aside?.key ?? '')}>take it up again</button
            >
          {:else if !closed && r.code !== 'none'}<button
              class="plain no-print"
              aria-expanded={asiding === r.code}
              onclick={() => (asiding = asiding === r.code ? '' : r.code)}>set aside</button
            >{/if}
        </span>
        {#if r.unknown}<span class="unknown" title="Not looked for yet; what it would add"
            >? {r.unknown.words}
            <span class="figure apart">{signed(r.unknown.found)} / {signed(r.unknown.absent)}</span></span
          >{/if}
        {#if r.aside}<span class="muted why">set aside by {r.aside.by}: {r.aside.why}</span>{/if}
      </div>
      {@render pieces(r.speaks_for, 'for')}
      {#if asiding === r.code}
        <form
          class="wide"
          onsubmit={(e) => {
            e.preventDefault();
            void setAside(r.code);
          }}
        >
          <label class="grow"
            >Why is it not {r.words}? <input class="field" bind:value={why} maxlength="400" required /></label
          >
          <button class="press" disabled={busy || !why.trim()}>Set it aside</button>
        </form>
      {/if}
    </div>
  {/each}
  <p class="muted small">
    Weights in log-odds, not probabilities: 0.7 doubles the odds. What people brought carries their name.
    {#if rows.length > shown.length || all}<button class="plain no-print" onclick={() => (all = !all)}
        >{all ? 'Only the first' : `${rows.length - shown.length} more explanations`}</button
      >{/if}
  </p>
  {#if !closed}
    <details class="no-print">
      <summary>Add what I think</summary>
      <form
        onsubmit={(e) => {
          e.preventDefault();
          void name();
        }}
      >
        <label class="grow"
          >An explanation that is not on the list <input
            class="field"
            bind:value={named}
            maxlength="200"
          /></label
        >
        <button class="press" disabled={busy || !named.trim()}>Put it on the list</button>
      </form>
      <form
        onsubmit={(e) => {
          e.preventDefault();
          void bring();
        }}
      >
        <label
          >Evidence about
          <select class="field" bind:value={said.hypothesis} required
            ><option value="" disabled>choose</option>{#each rows as r (r.code)}<option value={r.code}
                >{r.words}</option
              >{/each}</select
          ></label
        >
        <label class="grow">What <input class="field" bind:value={said.words} maxlength="400" /></label>
        <div class="chips" role="group" aria-label="How it speaks">
          {#each TERMS.weighs as w (w.at)}<button
              type="button"
              class="press"
              aria-pressed={said.weight === w.at}
              onclick={() => (said.weight = w.at)}>{w.words}</button
            >{/each}
        </div>
        <button class="press" disabled={busy || !said.hypothesis || !said.words.trim() || !said.weight}
          >Lay it on the balance</button
        >
      </form>
    </details>
  {/if}
</section>

<style>
  .balance {
    display: grid;
    gap: 4px;
  }
  .head,
  .row {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 230px minmax(0, 1fr);
    gap: 2px 10px;
    align-items: start;
  }
  .row {
    padding: 5px 0;
    border-bottom: 1px solid var(--line);
  }
  .head span:nth-child(2) {
    text-align: center;
    font-size: 12px;
  }
  .apart {
    white-space: nowrap;
  }
  .unknown {
    font-size: 12px;
    line-height: 1.25;
    border: 1px dashed var(--edge);
    padding: 1px 6px;
    margin-top: 2px;
  }
  .head span:first-child {
    text-align: right;
  }
  .middle {
    text-align: center;
    display: grid;
    justify-items: center;
  }
  .under {
    display: flex;
    gap: 10px;
    align-items: baseline;
  }
  .score {
    font-size: 15px;
  }
  .side {
    font-size: 12.5px;
    line-height: 1.3;
  }
  .bar {
    display: flex;
    gap: 2px;
    height: 11px;
    margin-bottom: 3px;
  }
  .against .bar {
    flex-direction: row-reverse;
  }
  .against ul {
    text-align: right;
  }
  .bar i {
    background: var(--due);
  }
  .against .bar i {
    background: var(--act);
  }
  .side li {
    display: inline;
  }
  .side li + li::before {
    content: ' · ';
    color: var(--muted);
  }
  .figure {
    font-size: 12px;
  }
  .aside .name {
    text-decoration: line-through;
    color: var(--muted);
    font-weight: 500;
  }
  .aside .bar i {
    opacity: 0.35;
  }
  .why,
  .small {
    font-size: 12.5px;
  }
  .plain {
    justify-self: center;
    font-size: 12.5px;
    min-height: 24px;
  }
  .wide,
  details form {
    grid-column: 1 / -1;
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: end;
    padding: 6px 0;
  }
  .grow {
    flex: 1 1 260px;
  }
  @media (max-width: 760px) {
    .head {
      display: none;
    }
    .row {
      grid-template-columns: minmax(0, 1fr);
    }
    .middle {
      order: -1;
      justify-items: start;
      text-align: left;
    }
    .against .bar {
      flex-direction: row;
    }
    .against ul {
      text-align: left;
    }
    .against ul::before {
      content: 'against: ';
      color: var(--muted);
    }
    .for ul::before {
      content: 'for: ';
      color: var(--muted);
    }
  }
</style>
