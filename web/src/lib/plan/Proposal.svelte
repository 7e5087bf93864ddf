<script lang="ts">
  import type { Schemas } from '../api/client';
  import { day } from '../words';

  interface Props {
    proposal: Schemas['ProposalOut'];
    busy: boolean;
    ontake: () => void;
    onleave: () => void;
  }
  let { proposal: p, busy, ontake, onleave }: Props = $props();
</script>

<section aria-label="Proposal" class="proposal forms">
  <h2>A proposal</h2>
  {#if p.moves.length}
    <ul>
      {#each p.moves as m (m.engine + m.key)}
        <li>{m.engine}: {m.what} <span class="muted">{day(m.was)} → {m.to ? day(m.to) : ''}</span></li>
      {/each}
    </ul>
  {:else}<p>Nothing would lie better than it does.</p>{/if}
  {#if p.out.length}
    <h3>Does not fit</h3>
    <ul>
      {#each p.out as m (m.engine + m.key)}
        <li>{m.engine}: {m.what} <span class="muted">{m.risks}</span></li>
      {/each}
    </ul>
  {/if}
  <p class="muted">
    Packed by danger, then lateness, then the way; at most {(100 * p.gap).toFixed(1)} % from the best{p.by_week
      ? ', week by week'
      : ''}. No hold, no latest day and no day's hours are broken; what somebody placed stays there.
  </p>
  <p class="row">
    <button class="press first" disabled={busy || !p.moves.length} onclick={ontake}
      >Take {p.moves.length} {p.moves.length === 1 ? 'move' : 'moves'} over</button
    >
    <button class="press" onclick={onleave}>Leave it</button>
  </p>
</section>

<style>
  .proposal {
    display: grid;
    gap: 8px;
  }
  ul {
    max-height: 260px;
    overflow-y: auto;
    font-size: 13px;
  }
  h3 {
    font-size: 13px;
    font-weight: 650;
  }
  .row {
    display: flex;
    gap: 8px;
  }
</style>
