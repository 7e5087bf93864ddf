<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body } from '../api/client';

  interface Props {
    engines: string[];
  }
  let { engines }: Props = $props();

  const act = new Act(useQueryClient());
  let spare = $state(2);
  let made = $state<{ id: number; first: number; last: number } | null>(null);

  const print = () =>
    act.run(async () => {
      made = await body(api.POST('/api/labels', { body: { engines, spare } }));
      window.open(`/api/labels/${made.id}.pdf`, '_blank', 'noreferrer');
    });
</script>

<div class="labels no-print">
  <button class="press" disabled={act.busy || engines.length + spare === 0} onclick={() => void print()}
    >Print {engines.length + spare} labels</button
  >
  <label
    >with <input class="field" type="number" min="0" max="100" bind:value={spare} aria-label="Spare labels" /> to
    spare</label
  >
  {#if made}
    <p role="status">
      Numbers {made.first} to {made.last} are handed out:
      <a href="/api/labels/{made.id}.pdf" target="_blank" rel="noreferrer">the sheet as PDF</a>.
    </p>
  {/if}
  {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
</div>

<style>
  .labels {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 14px;
    align-items: center;
  }
  .press,
  .field {
    min-height: 44px;
  }
  .field {
    width: 64px;
  }
</style>
