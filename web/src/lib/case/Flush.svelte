<script lang="ts">
  import Amount from '../controls/Amount.svelte';
  import { mine } from '../mine.svelte';
  import type { Schemas } from '../api/client';
  import { computed, figure } from '../words';
  import { atMost, barHeight, flushSays } from './flush';

  type Entry = Omit<Schemas['NewCaseEntry'], 'id' | 'on'>;
  interface Props {
    flush: Schemas['FlushOut'] | null;
    waits: Schemas['CaseOut']['flush_waits'];
    after: string;
    closed: boolean;
    busy: boolean;
    onadd: (entry: Entry) => Promise<boolean>;
  }
  let { flush, waits, after, closed, busy, onadd }: Props = $props();

  const blank = () => ({
    words: '',
    litres_new: null as number | null,
    litres_trapped: null as number | null,
    measured: '',
    target: null as number | null,
    filter_changed: true,
  });
  let form = $state(blank());
  let wrong = $state('');
  async function save() {
    const started = flush !== null;
    const litres_new = form.litres_new ?? flush?.planned_l ?? null;
    const litres_trapped = form.litres_trapped ?? flush?.trapped_l ?? null;
    const measured = atMost(form.measured);
    if (measured === undefined) {
      wrong = 'Type a figure, or <5 for what the laboratory could not see: it counts as 5.';
      return;
    }
    wrong = '';
    const entry = { ...$state.snapshot(form), measured, litres_new, litres_trapped, hypothesis: '' };
    if (await onadd({ ...entry, kind: 'fill', said: started ? 'fill' : 'start' })) form = blank();
  }
  const most = $derived(
    flush
      ? Math.max(flush.start, ...flush.stages.map((s) => Math.max(s.measured ?? 0, s.computed)), 1e-9)
      : 1,
  );
</script>

<section aria-label="Flush" class="flush forms">
  <h2>Flush, once it is tight</h2>
  {#if flush}
    {#if flush.wrong}<p role="alert">{flush.wrong}</p>{:else}
      <svg
        viewBox="0 0 {90 + 70 * (flush.stages.length + 1)} 120"
        role="img"
        aria-label={flushSays(flush, after)}
      >
        <line x1="8" x2="100%" y1="100" y2="100" class="base" />
        <rect
          x="14"
          y={100 - barHeight(flush.start, most)}
          width="44"
          height={barHeight(flush.start, most)}
          class="measured"
        />
        <text x="36" y="115">start</text>
        <text x="36" y={94 - barHeight(flush.start, most)}>{figure(flush.start)}</text>
        {#each flush.stages as s, n (s.key)}
          {@const x = 84 + 70 * n}
          <rect
            {x}
            y={100 - barHeight(s.computed, most)}
            width="44"
            height={barHeight(s.computed, most)}
            class="computed"
          />
          {#if s.measured !== null}
            <circle cx={x + 22} cy={100 - barHeight(s.measured, most)} r="4.5" class="dot" />
            <text x={x + 22} y={90 - barHeight(Math.max(s.measured, s.computed), most)}
              >{figure(s.measured)}</text
            >
          {/if}
          <text x={x + 22} y="115">fill {n + 1}</text>
        {/each}
        <line
          x1="8"
          x2="100%"
          y1={100 - barHeight(flush.target, most)}
          y2={100 - barHeight(flush.target, most)}
          class="target"
        />
      </svg>
      <p><b>{flushSays(flush, after)}</b></p>
      <p class="muted">
        {flush.what}{flush.what ? ': ' : ''}{figure(flush.start)} at the start, stop under {figure(
          flush.target,
        )}. Of each fill {computed(100 * flush.share)} % stays. So far {mine.says(flush.litres, 'L')} of oil and
        {flush.filters}
        {flush.filters === 1 ? 'filter' : 'filters'}{flush.litres_more
          ? `; ${mine.says(flush.litres_more, 'L')} more`
          : ''}.
      </p>
    {/if}
  {:else}<p class="muted">
      After coolant, stop-leak, fuel or swarf: how many fills it takes, what each must leave, and when to
      stop.
    </p>{/if}
  {#if !closed && waits}<p class="caution">
      {waits === 'turned'
        ? 'A flush waits: every fill is run warm, and this engine may not be turned.'
        : 'A flush waits for the repair: every fill is contaminated again while it leaks. Log the work once it is done.'}
    </p>{:else if !closed}
    <details class="no-print">
      <summary>{flush ? 'A fill was run and drained' : 'Begin a flush'}</summary>
      <p class="caution">
        Only once it is tight: every fill is contaminated again while it leaks. Warm it up at idle so that
        dead legs mix; hot oil, gloves; oil, coolant and filters go by local rules.
      </p>
      <form
        onsubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        {#if !flush}<label class="grow"
            >What is to come out, by which figure <input
              disabled={busy}
              class="field"
              placeholder="coolant, potassium in ppm"
              bind:value={form.words}
              maxlength="60"
            /></label
          >{/if}
        <label
          >{flush ? 'Measured in what came out' : 'Measured now'}
          <input
            disabled={busy}
            class="field short"
            inputmode="decimal"
            placeholder="12, or <5"
            bind:value={form.measured}
          /></label
        >
        {#if !flush}<Amount label="Stop under" unit="" bind:value={form.target} disabled={busy} />{/if}
        <Amount
          label="New oil of a fill"
          unit="L"
          bind:value={form.litres_new}
          disabled={busy}
          placeholder={flush ? mine.plain(flush.planned_l, 'L') : ''}
        />
        <Amount
          label="Stays in it at a drain"
          unit="L"
          bind:value={form.litres_trapped}
          disabled={busy}
          placeholder={flush ? mine.plain(flush.trapped_l, 'L') : ''}
        />
        {#if flush}<label class="tick"
            ><input disabled={busy} type="checkbox" bind:checked={form.filter_changed} /> filter changed with it</label
          >{/if}
        <button class="press" disabled={busy}>{flush ? 'Write the fill down' : 'Begin'}</button>
        {#if wrong}<p role="alert" class="caution">{wrong}</p>{/if}
      </form>
      {#if flush}<button
          class="plain"
          disabled={busy}
          onclick={() =>
            void onadd({
              kind: 'withdraw',
              hypothesis: '',
              said: '',
              words: '',
              withdraws: flush.stages.at(-1)?.key ?? flush.key,
            })}>Take the last one back</button
        >{/if}
    </details>
  {/if}
</section>

<style>
  .flush {
    display: grid;
    gap: 6px;
    align-content: start;
  }
  svg {
    max-width: 100%;
    height: 130px;
  }
  text {
    font-size: 11px;
    fill: var(--muted);
    text-anchor: middle;
  }
  .base {
    stroke: var(--edge);
  }
  .measured {
    fill: none;
    stroke: var(--due);
    stroke-width: 2;
  }
  .computed {
    fill: none;
    stroke: var(--due);
    stroke-dasharray: 4 3;
    stroke-width: 2;
  }
  .dot {
    fill: var(--ink);
  }
  .target {
    stroke: var(--act);
    stroke-dasharray: 6 4;
  }
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: end;
  }
  .tick {
    display: flex;
    gap: 6px;
    align-items: center;
    min-height: 44px;
  }
  .grow {
    flex: 1 1 220px;
  }
  .short {
    width: 110px;
  }
</style>
