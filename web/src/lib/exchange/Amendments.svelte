<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { api, ApiError, body, once, UNKNOWN } from '../api/client';
  import { refresh, useAmendments } from '../api/queries';

  const client = useQueryClient();
  const amendments = useAmendments();
  let reason = $state('');
  let wrong = $state('');

  async function answer(report: number, accept: boolean) {
    wrong = '';
    try {
      const sent = { accept, reason };
      await body(
        api.POST('/api/amendments/{report}', {
          params: { path: { report }, header: once(`amendment ${report}`, sent) },
          body: sent,
        }),
      );
      reason = '';
    } catch (error) {
      wrong = error instanceof ApiError ? error.message : UNKNOWN;
    }
    await refresh(client);
  }
</script>

{#if amendments.data?.length}
  <section aria-label="Amended reports">
    <h2>Amended reports, waiting for you</h2>
    {#each amendments.data as a (a.id)}
      <div class="one">
        <p>
          <b>{a.laboratory || 'No laboratory'}, report {a.report}, revision {a.revision}</b>
          {#if a.sample}<a href="/judge/{encodeURIComponent(a.sample)}">sample {a.sample}</a>{:else}fresh oil{/if}
        </p>
        <p class="figure">
          {#each a.readings as r (r.symbol)}<span class="pair">{r.symbol} {r.old} → <b>{r.new}</b></span>
          {:else}the same figures, analysed another day{/each}
        </p>
        <div class="row">
          <input
            class="field"
            bind:value={reason}
            placeholder="Reason, if you want one"
            aria-label="Reason"
          />
          <button class="press first" onclick={() => void answer(a.id, true)}>Accept the new figures</button>
          <button class="press" onclick={() => void answer(a.id, false)}>Keep the old</button>
        </div>
      </div>
    {/each}
    {#if wrong}<p role="alert">{wrong}</p>{/if}
  </section>
{/if}

<style>
  section,
  .one {
    display: grid;
    gap: 6px;
  }
  .one {
    border-left: 4px solid var(--due);
    padding: 4px 0 8px 12px;
  }
  .pair {
    margin-right: 16px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
</style>
