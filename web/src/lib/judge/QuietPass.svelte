<script lang="ts">
  import { SvelteMap } from 'svelte/reactivity';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { api, ApiError, body, once, type Schemas } from '../api/client';
  import { refresh } from '../api/queries';
  import { day, dayYear } from '../words';

  interface Props {
    queue: Schemas['QueueRow'][];
    onclose: () => void;
  }
  let { queue, onclose }: Props = $props();

  const client = useQueryClient();
  const steady = $derived(queue.filter((r) => r.level === 0 && !r.queried));
  // What somebody ticked or unticked; untouched, a sample is ticked where nothing asks for a look first.
  const touched = new SvelteMap<string, boolean>();
  let done = $state(0);
  let busy = $state(false);
  let wrong = $state('');
  const ticked = (r: Schemas['QueueRow']) => touched.get(r.sample) ?? !r.look_first;
  const chosen = $derived(steady.filter(ticked));

  /** One sign-off a sample, each on the verdict that was in the list: what changed meanwhile is refused. */
  async function sign() {
    busy = true;
    wrong = '';
    done = 0;
    const list = chosen;
    for (const r of list) {
      try {
        const sent = {
          level: 0 as const,
          basis: r.basis,
          supersedes: r.standing,
          reason: '',
          note: 'quiet pass',
        };
        await body(
          api.POST('/api/samples/{code}/sign', {
            params: { path: { code: r.sample }, header: once(`sign ${r.sample}`, sent) },
            body: sent,
          }),
        );
        done += 1;
      } catch (error) {
        wrong = `${r.sample}: ${error instanceof ApiError ? error.message : 'that did not work'}`;
        break;
      }
    }
    await refresh(client);
    busy = false;
    if (!wrong) onclose();
  }
</script>

<main class="pass">
  <h1>Quiet pass</h1>
  <p class="muted">
    Samples in which every measured channel is Steady. Ticked are those whose wear and debris were measured,
    of engines that nothing was raised on since; untick what you want to look at.
  </p>
  {#if steady.length}
    <table class="plain-table">
      <thead>
        <tr
          ><th></th><th>Engine</th><th>Sample</th><th>Drawn</th><th>Depot</th><th>Not measured</th><th
            >Look first</th
          ></tr
        >
      </thead>
      <tbody>
        {#each steady as r (r.sample)}
          <tr>
            <td>
              <input
                type="checkbox"
                checked={ticked(r)}
                onchange={() => touched.set(r.sample, !ticked(r))}
                aria-label="Sign {r.sample} of {r.engine}"
              />
            </td>
            <td><b>{r.engine}</b> {r.name}</td>
            <td><a href="/judge/{encodeURIComponent(r.sample)}" onclick={onclose}>{r.sample}</a></td>
            <td title={dayYear(r.on)}>{day(r.on)}</td>
            <td>{r.depot ?? ''}</td>
            <td>{r.not_measured.join(', ') || 'nothing'}</td>
            <td>{r.look_first}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  {:else}
    <p>No all-Steady sample waits.</p>
  {/if}
  <div class="row">
    <button class="press first" disabled={busy || !chosen.length} onclick={() => void sign()}>
      {busy ? `Signing ${done} of ${chosen.length}` : `Sign ${chosen.length} as Steady`}
    </button>
    {#if chosen.length < steady.length}<button
        class="press"
        disabled={busy}
        onclick={() => steady.forEach((r) => touched.set(r.sample, true))}>Tick all {steady.length}</button
      >{/if}
    <button class="press" onclick={onclose}>Back <kbd>Esc</kbd></button>
  </div>
  {#if wrong}<p role="alert">{wrong}</p>{/if}
</main>

<style>
  .pass {
    grid-column: 2 / -1;
    padding: 14px 22px;
    overflow: auto;
    display: grid;
    gap: 10px;
    align-content: start;
    max-width: 900px;
  }
  .row {
    display: flex;
    gap: 8px;
  }
</style>
