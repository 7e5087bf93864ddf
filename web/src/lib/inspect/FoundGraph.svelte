<script lang="ts">
  import type { Schemas } from '../api/client';
  import { capital } from '../terms';

  interface Props {
    opened: Schemas['OpenedOut'];
    busy: boolean;
    onlink: (cause: string, effect: string, keep: boolean) => void;
  }
  let { opened: o, busy, onlink }: Props = $props();
  let cause = $state('');
  let effect = $state('');

  const said = (id: string) => {
    const f = o.findings.find((x) => x.id === id);
    return f ? `${f.number} ${f.where}, ${f.words}` : id;
  };
  const raised = $derived(o.findings.filter((f) => f.grade > 0));
</script>

{#if raised.length > 1}
  <section aria-label="What led to what">
    <h2>What led to what</h2>
    {#if o.roots.length}
      <p>
        <b>Cause: {capital(said(o.roots[0] ?? ''))}.</b>
        {#if o.roots.length > 1}<span class="muted"
            >Or: {o.roots.slice(1).map(said).join('; ')}. What stands for itself is no consequence of anything
            found.</span
          >{/if}
      </p>
    {:else if o.links.length}<p class="muted">
        They lead to each other in a circle: cut what you doubt.
      </p>{/if}
    <ul>
      {#each o.links as l (l.cause + l.effect)}
        <li>
          <span>{said(l.cause)} <b aria-label="led to">→</b> {said(l.effect)}</span>
          <span class="muted">{l.why || 'drawn by hand'}</span>
          <span class="no-print">
            <button class="plain" disabled={busy} onclick={() => onlink(l.effect, l.cause, true)}
              >turn the arrow</button
            >
            <button class="plain" disabled={busy} onclick={() => onlink(l.cause, l.effect, false)}
              >remove the arrow</button
            >
          </span>
        </li>
      {:else}<li class="muted">The program knows no link between these.</li>{/each}
    </ul>
    {#if o.cut.length}
      <details class="no-print">
        <summary>{o.cut.length} cut</summary>
        {#each o.cut as l (l.cause + l.effect)}<p class="muted">
            {said(l.cause)} → {said(l.effect)}
            <button class="plain" disabled={busy} onclick={() => onlink(l.cause, l.effect, true)}
              >keep it</button
            >
          </p>{/each}
      </details>
    {/if}
    <p class="draw no-print">
      <label
        >Or draw one: <select class="field" bind:value={cause} aria-label="Cause"
          ><option value=""></option>{#each raised as f (f.id)}<option value={f.id}>{said(f.id)}</option
            >{/each}</select
        ></label
      >
      led to
      <select class="field" bind:value={effect} aria-label="Consequence"
        ><option value=""></option>{#each raised as f (f.id)}<option value={f.id}>{said(f.id)}</option
          >{/each}</select
      >
      <button
        class="press"
        disabled={busy || !cause || !effect || cause === effect}
        onclick={() => onlink(cause, effect, true)}>Draw it</button
      >
    </p>
  </section>
{/if}

<style>
  section {
    display: grid;
    gap: 8px;
  }
  li {
    display: grid;
    padding: 5px 0;
    border-bottom: 1px solid var(--line);
  }
  .plain {
    min-height: 32px;
    margin-right: 12px;
  }
  .draw {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
  }
  .draw .field {
    max-width: 260px;
    min-height: 44px;
  }
</style>
