<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { useDial } from '../api/queries';
  import { dayYear } from '../words';
  import { typed } from './draft';

  const dial = useDial();
  const act = new Act(useQueryClient());
  let wanted = $state('1');
  let found = $state<Schemas['DialTried'] | null>(null);
  const rate = $derived(typed(wanted));
  const readable = $derived(rate !== null && rate > 0 && rate <= 10);

  const tryOut = () =>
    act.run(async () => {
      found = await body(api.POST('/api/library/dial/try', { body: { per_100: rate ?? 1 } }));
    });
  const keep = (per_100: number | null) =>
    act.run(async () => {
      await body(api.POST('/api/library/dial', { body: { per_100 } }));
      found = null;
    }, 'Kept. Every engine is judged again.');
  const share = (x: number) => x.toFixed(x < 1 ? 2 : 1);
  const FAULTS: Record<string, string> = {
    bearing: 'Bearings',
    rings: 'Rings and liner',
    dirt: 'Dirt',
    coolant: 'Coolant',
  };
</script>

<section aria-label="False alarms">
  <h2>False alarms</h2>
  <p class="muted">
    How many Acts in 100 quiet samples can this site live with? They are counted on its own quiet samples, and
    so is what it costs: faults planted in them that stay under every fixed limit. It moves the thresholds of
    the expectation; fixed limits, looks and what stops an engine stay as they are.
  </p>
  {#if dial.data}
    <p>
      {#if dial.data.wanted}
        <b>{dial.data.wanted} in 100</b>: every threshold × {dial.data.strictness}, counted on {dial.data
          .quiet}
        quiet samples.
        <span class="muted">{dial.data.by}{dial.data.on ? `, ${dayYear(dial.data.on)}` : ''}</span>
      {:else}<b>As shipped.</b>{/if}
    </p>
  {/if}
  {#if act.said}<p role="status" class="said">{act.said}</p>{/if}
  {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
  <div class="row">
    <label
      >False Acts in 100 <input
        class="field short"
        inputmode="decimal"
        bind:value={wanted}
        oninput={() => (found = null)}
        aria-invalid={!readable}
      /></label
    >
    <button class="press" disabled={act.busy || !readable} onclick={() => void tryOut()}
      >{act.busy ? 'Counting…' : 'Count it on this fleet'}</button
    >
    {#if found}<button class="press first" disabled={act.busy} onclick={() => void keep(rate)}
        >Keep × {found.chosen.strictness}</button
      >{/if}
    {#if dial.data?.wanted}<button class="press" disabled={act.busy} onclick={() => void keep(null)}
        >Back to as shipped</button
      >{/if}
  </div>
  {#if found}
    {#if !found.kept}<p role="alert">
        Even the strictest raises more than {found.wanted} in 100 here: look at what those samples have in common.
      </p>{/if}
    <table class="plain-table">
      <caption class="muted">
        {found.quiet} quiet samples; of each fault the share at Act by its third sample. 95 % in brackets.
      </caption>
      <thead
        ><tr
          ><th>Thresholds</th><th>False Acts in 100</th>
          {#each found.chosen.found as f (f.fault)}<th>{FAULTS[f.fault] ?? f.fault}, {f.planted}</th>{/each}
        </tr></thead
      >
      <tbody>
        {#each found.steps as s (s.strictness)}
          <tr class:chosen={s.strictness === found.chosen.strictness}>
            <td class="figure"
              >× {s.strictness.toFixed(2)}{s.strictness === 1 ? ', as shipped' : ''}{s.strictness ===
              found.chosen.strictness
                ? ', this one'
                : ''}</td
            >
            <td class="figure"
              >{share(s.per_100)} <span class="muted">({share(s.low)} to {share(s.high)})</span></td
            >
            {#each s.found as f (f.fault)}<td class="figure"
                >{Math.round((100 * f.found) / Math.max(f.planted, 1))} %</td
              >{/each}
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
</section>

<style>
  section {
    display: grid;
    gap: 6px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 14px;
    align-items: center;
  }
  .short {
    width: 64px;
  }
  caption {
    text-align: left;
    padding-bottom: 4px;
  }
  .chosen td {
    font-weight: 650;
    background: var(--zone-clear);
  }
</style>
