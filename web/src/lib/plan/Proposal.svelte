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
  {:else}<p>No better plan was found.</p>{/if}
  {#if p.out.length}
    <h3>Does not fit</h3>
    <ul>
      {#each p.out as m (m.engine + m.key)}
        <li>{m.engine}: {m.what} <span class="muted">{m.risks}</span></li>
      {/each}
    </ul>
  {/if}
  <p class="muted">
    Dangerous tasks come first, then late ones, then the shortest way. The plan is within {(
      100 * p.gap
    ).toFixed(1)} % of the best possible one{p.by_week ? ', week by week' : ''}. It breaks no hold, no latest
    day and no day's hours, and moves no task that a person placed.
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
