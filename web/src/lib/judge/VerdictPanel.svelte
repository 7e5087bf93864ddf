<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Schemas } from '../api/client';
  import CaseLink from '../case/CaseLink.svelte';
  import Stick from '../draw/Stick.svelte';
  import OutcomeForm from '../outcome/OutcomeForm.svelte';
  import TwoLines from '../state/TwoLines.svelte';
  import Parts from './Parts.svelte';
  import { dayYear, levelWord } from '../words';

  interface Props {
    sample: Schemas['SampleOut'];
    lit: string | null;
    today: string;
    onlight: (analyte: string | null) => void;
    children: Snippet;
  }
  let { sample, lit, today, onlight, children }: Props = $props();

  const v = $derived(sample.verdict);
  const signed = $derived(sample.decision?.kind === 'sign_off' ? sample.decision : null);
  const said = $derived(v?.said.filter((s) => s.level > 0) ?? []);
  const beside = $derived(sample.ladders.filter((l) => l.average?.side === 'above'));
  const remarks = $derived(v?.said.filter((s) => s.level === 0) ?? []);
</script>

<aside class="panel" aria-label="Verdict">
  <div class="head">
    <Stick level={signed?.level ?? v?.level ?? null} signed={signed !== null} height={34} />
    <div>
      <span class="muted">{signed ? 'Signed' : 'Proposed'}</span>
      <h2 class="level">{levelWord(signed?.level ?? v?.level)}</h2>
    </div>
    <div class="may">
      <span class="muted">May it run</span>
      <b>{sample.state.may_run_words}</b>
    </div>
  </div>
  {#if signed}
    <p class="muted">
      {signed.decided_by}, {dayYear(signed.decided_at)}{#if signed.level !== signed.proposed}, proposed was {levelWord(
          signed.proposed,
        )}{/if}.
      {#if signed.reason}“{signed.reason}”{/if}
      {#if signed.note}Note: “{signed.note}”{/if}
    </p>
  {/if}
  <TwoLines state={sample.state} />
  <CaseLink engine={sample.engine} from="sample" sample={sample.sample} />
  <p class="no-print">
    <a href="/api/samples/{encodeURIComponent(sample.sample)}/letter.pdf" target="_blank" rel="noopener"
      >Letter to hand over (PDF)</a
    >
    · <a href="/report?sample={encodeURIComponent(sample.sample)}">Correct the report</a>
  </p>
  {#if sample.basis_changed}<p class="changed" role="status">{sample.basis_changed}</p>{/if}
  {#if v}
    <p>{v.summary}</p>
    {#if said.length}
      <ul class="reasons">
        {#each said as s, n (n)}
          <li>
            <Stick level={s.level} label={levelWord(s.level)} height={16} />
            <span>{s.sentence} <span class="muted origin">{s.origin}</span></span>
          </li>
        {/each}
      </ul>
      <div>
        <h3 class="muted">Evidence</h3>
        {#each said as s, n (n)}
          {@const tone = ['', 'watch', 'act', 'stop'][s.level]}
          {#if s.analyte === null}
            <span class="chip {tone}">{s.chip}</span>
          {:else}
            <button
              class="chip {tone}"
              aria-pressed={lit === s.analyte}
              onclick={() => onlight(lit === s.analyte ? null : s.analyte)}>{s.chip}</button
            >
          {/if}
        {/each}
      </div>
    {/if}
    {#if sample.queries.length}
      <div>
        <h3 class="muted">Does not fit</h3>
        {#each sample.queries as q (q.key)}<p>{q.words}</p>{/each}
        <a href="/engine/{encodeURIComponent(sample.engine)}/log">Answer it</a>
      </div>
    {/if}
    {#each beside as l (l.column)}<p class="muted remark">
        {l.name}
        {l.text}
        {l.unit}: {l.average?.words}.
      </p>{/each}
    {#each remarks as s, n (n)}<p class="muted remark">{s.sentence}</p>{/each}
    {#if v.actions.length}
      <div>
        <h3 class="muted">Do</h3>
        <ul class="actions">
          {#each v.actions as a (a.words)}
            <li>
              <span class:over={a.became.startsWith('withdrawn')}>{a.words}</span>
              {#if a.became}<span class="muted">{a.became}</span>
              {:else if a.ends}<b class="figure">before {a.ends}</b>{/if}
              <span class="muted small">{a.caution}</span>
            </li>
          {/each}
        </ul>
      </div>
    {/if}
    {#if sample.parts.length}<Parts parts={sample.parts} checks={sample.checks} />{/if}
    <p class="muted remark">Would change this: {v.would_change}</p>
    <p class="muted small">
      Policy {v.policy} · rules {v.rules} · limits {v.limits}{v.peers
        ? ` · ${v.peers}`
        : ' · no peers published'}
    </p>
  {:else}
    <p>There is no verdict yet: no figure has come in that has a limit.</p>
  {/if}
  {#if v?.level === 3}
    <p class="stop">
      Signing does not close a Stop. <a href="/run?engine={encodeURIComponent(sample.engine)}"
        >Decide whether it may run.</a
      >
    </p>
  {/if}
  <OutcomeForm engine={sample.engine} {today} sample={sample.sample} />
  {@render children()}
</aside>

<style>
  .panel {
    border-left: 1px solid var(--line);
    padding: 14px 18px;
    overflow: auto;
    display: grid;
    gap: 10px;
    align-content: start;
  }
  .head {
    display: flex;
    gap: 12px;
    align-items: center;
    font-size: 13px;
  }
  .level {
    font-size: 20px;
    line-height: 1.1;
  }
  .may {
    margin-left: auto;
    text-align: right;
    display: grid;
    max-width: 170px;
  }
  h3 {
    font-size: 13px;
    font-weight: 500;
    margin-bottom: 4px;
  }
  .reasons {
    display: grid;
    gap: 6px;
  }
  .reasons li {
    display: grid;
    grid-template-columns: 20px 1fr;
    align-items: start;
  }
  .origin {
    font-size: 11.5px;
  }
  .chip {
    border: 1px solid var(--edge);
    border-radius: 2px;
    padding: 2px 7px;
    margin: 0 5px 5px 0;
    font-size: 12.5px;
  }
  button.chip {
    cursor: pointer;
  }
  span.chip {
    display: inline-block;
  }
  .chip.watch {
    border-color: var(--watch);
  }
  .chip.act {
    border-color: var(--act);
  }
  .chip.stop {
    border-color: var(--stop);
    border-width: 2px;
  }
  .chip[aria-pressed='true'] {
    background: var(--paper-raised);
    box-shadow: inset 0 -2px 0 var(--due);
  }
  .actions li {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    gap: 0 12px;
    padding: 3px 0;
    border-bottom: 1px solid var(--line);
  }
  .actions b {
    white-space: nowrap;
    font-size: 12.5px;
  }
  .remark {
    font-size: 13px;
  }
  .small {
    font-size: 12px;
  }
  .stop {
    border-left: 5px solid var(--stop);
    padding-left: 10px;
    color: var(--stop);
  }
  .changed {
    border-left: 4px solid var(--due);
    padding-left: 8px;
  }
  .over {
    text-decoration: line-through;
  }
</style>
