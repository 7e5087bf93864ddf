<script lang="ts">
  import type { Schemas } from '../api/client';

  interface Props {
    parts: Schemas['PartOut'][];
    checks: Schemas['NextCheck'][];
  }
  let { parts, checks }: Props = $props();
  let open = $state<string | null>(null);

  const best = $derived(parts[0]?.score ?? 0);
  const signed = (x: number) => `${x > 0 ? '+' : '−'}${Math.abs(x).toFixed(1)}`;
  // How far behind the leading one, as a bar: a mode 4 behind has hardly anything left.
  const share = (x: number) => Math.max(4, 100 - (best - x) * 24);
</script>

<div>
  <h3 class="muted">Likely parts <span class="small">weights, not probabilities</span></h3>
  <ul class="parts">
    {#each parts as p (p.mode)}
      <li>
        <button
          class="part"
          aria-expanded={open === p.mode}
          onclick={() => (open = open === p.mode ? null : p.mode)}
        >
          <span>{p.words}</span><b class="figure">{signed(p.score)}</b>
          <i style:width="{share(p.score)}%"></i>
        </button>
        {#if open === p.mode}
          <dl>
            <dt>Before any evidence</dt>
            <dd class="figure">{signed(p.prior)}</dd>
            {#each [...p.speaks_for, ...p.against] as e (e.words)}
              <dt class:against={e.weight < 0}>{e.words}</dt>
              <dd class="figure">{signed(e.weight)}</dd>
            {/each}
          </dl>
        {/if}
      </li>
    {/each}
  </ul>
  {#if checks.length}
    <h3 class="muted">Next best check</h3>
    <ol>
      {#each checks as c (c.words)}
        <li>
          {c.words}
          <span class="muted">{c.hours} h, {c.at}, {c.helps}</span>
          <span class="muted small">{c.caution}</span>
        </li>
      {/each}
    </ol>
  {/if}
</div>

<style>
  .parts {
    display: grid;
    gap: 2px;
  }
  .part {
    display: grid;
    grid-template-columns: 1fr auto;
    width: 100%;
    text-align: left;
    cursor: pointer;
    gap: 2px 8px;
    padding: 3px 0;
  }
  .part i {
    grid-column: 1 / -1;
    height: 3px;
    background: var(--due);
  }
  dl {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 1px 8px;
    padding: 2px 0 8px 12px;
    font-size: 13px;
  }
  .against {
    color: var(--muted);
  }
  ol {
    padding-left: 18px;
    list-style: decimal;
  }
  .small {
    font-weight: 400;
    font-size: 12px;
  }
</style>
