<script lang="ts">
  import type { Schemas } from '../api/client';

  interface Props {
    rows: Schemas['OutlookOut'][];
    oil: Schemas['OilLifeOut'] | null;
  }
  let { rows, oil }: Props = $props();

  // What reaches a limit, or surely changes from charge to charge, is shown at once; the rest on demand.
  let all = $state(false);
  const shown = $derived(all ? rows : rows.filter((r) => r.telling));
</script>

<section aria-label="Outlook">
  <h2>Outlook</h2>
  {#if oil}
    <p><b>{oil.words}</b></p>
    {#if all}<ul class="muted">
        {#each oil.ageing as a (a)}<li>{a}</li>{/each}
      </ul>{/if}
  {/if}
  {#if rows.length && !shown.length}<p class="muted">
      Nothing reaches its next limit before the oil goes.
    </p>{/if}
  {#if shown.length}
    <dl>
      {#each shown as r (r.column)}
        <dt>{r.symbol}</dt>
        <dd>
          {[r.crossing, r.drain].filter(Boolean).join('; ')}
          {#if r.across}<span class="muted">Rate {r.across}.</span>{/if}
        </dd>
      {/each}
    </dl>
  {/if}
  {#if rows.length}
    <button class="plain no-print" onclick={() => (all = !all)}
      >{all ? 'only what is telling' : `all ${rows.length}`}</button
    >
    <p class="muted small">
      Line of this charge with its 95 % prediction interval; rates by Theil–Sen with Kendall's test.
    </p>
  {:else}<p class="muted">No figures yet.</p>{/if}
</section>

<style>
  section {
    display: grid;
    gap: 4px;
  }
  h2 {
    border-top: 1px solid var(--line);
    padding-top: 8px;
  }
  dl {
    display: grid;
    grid-template-columns: 66px 1fr;
    gap: 2px 8px;
  }
  dt {
    font-weight: 650;
  }
  .small {
    font-size: 12px;
  }
</style>
