<script lang="ts">
  import type { Schemas } from '../api/client';
  import Stick from '../draw/Stick.svelte';

  interface Props {
    queue: Schemas['QueueRow'][];
    sample: string | null;
  }
  let { queue, sample }: Props = $props();
  const quiet = $derived(queue.filter((r) => r.level === 0 && !r.queried).length);
  let list = $state<HTMLElement>();

  $effect(() => {
    list?.querySelector(`[data-sample="${CSS.escape(sample ?? '')}"]`)?.scrollIntoView({ block: 'nearest' });
  });
</script>

<nav class="queue no-print" aria-label="Waiting, worst first" bind:this={list}>
  <p class="muted head">Waiting, worst first</p>
  <ol>
    {#each queue as r (r.sample)}
      <li>
        <a
          href="/judge/{encodeURIComponent(r.sample)}"
          class:here={r.sample === sample}
          aria-current={r.sample === sample ? 'true' : undefined}
          data-sample={r.sample}
        >
          <Stick level={r.level} height={22} />
          <span>
            <b>{r.engine}</b>
            {r.sample}<br />
            <span class="muted">
              {r.depot ?? 'no depot'} · {r.age_days} d{#if r.was_signed !== null}, rose since signed{/if}
            </span>
          </span>
        </a>
      </li>
    {/each}
  </ol>
  {#if !queue.length}<p class="muted head">Nothing waits.</p>{/if}
  <p class="keys muted">
    <kbd>j</kbd> <kbd>k</kbd> move · <kbd>a</kbd> accept<br />
    <kbd>0</kbd>–<kbd>3</kbd> level · <kbd>n</kbd> note<br />
    <kbd>u</kbd> undo · <kbd>e</kbd> unfold all<br />
    <kbd>q</kbd> quiet pass: {quiet}
  </p>
</nav>

<style>
  .queue {
    background: var(--paper-side);
    border-right: 1px solid var(--line);
    overflow: auto;
    padding: 10px 0;
  }
  .head {
    padding: 0 14px 6px;
    font-size: 13px;
  }
  a {
    display: flex;
    align-items: center;
    gap: 10px;
    padding: 5px 14px 5px 11px;
    text-decoration: none;
    font-size: 13px;
    border-left: 3px solid transparent;
  }
  a.here {
    background: var(--paper-raised);
    border-left-color: var(--ink);
  }
  .keys {
    padding: 14px;
    font-size: 12.5px;
    line-height: 1.8;
  }
</style>
