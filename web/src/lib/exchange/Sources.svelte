<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { useSources } from '../api/queries';
  import { count, dayYear } from '../words';

  const NAMED = 5; // engines that are named
  type Source = Schemas['SourceOut'];

  const sources = useSources();
  const act = new Act(useQueryClient());
  let asked = $state<number | null>(null);
  let rests = $state<Schemas['TakenBack'] | null>(null);
  let reason = $state('');
  let done = $state('');

  /** The files that came in together, newest first. */
  const imports = $derived(
    [...new Set((sources.data ?? []).map((s) => s.together))].map((id) => ({
      id,
      files: (sources.data ?? []).filter((s) => s.together === id),
    })),
  );

  /** What one import is, in a sentence's words. */
  function brought(r: Schemas['TakenBack']): string {
    const parts = [
      count(r.events, 'row of the log', 'rows of the log'),
      count(r.samples, 'sample', 'samples'),
      count(r.looks, 'look', 'looks'),
      count(r.figures, 'figure', 'figures'),
    ].filter((_, n) => [r.events, r.samples, r.looks, r.figures][n]);
    return parts.length
      ? `${parts.join(', ')} of ${count(r.engines.length, 'engine', 'engines')}`
      : 'nothing';
  }

  function what(r: Schemas['TakenBack'], files: number): string {
    const named = r.engines.slice(0, NAMED).join(', ') + (r.engines.length > NAMED ? ', …' : '');
    const together = files > 1 ? `, of ${files} files that came in together` : '';
    return `Takes back ${brought(r)}${named && ` (${named})`}${together}.`;
  }

  async function ask(id: number) {
    done = '';
    reason = '';
    rests = null;
    asked = id;
    await act.run(async () => {
      rests = await body(
        api.GET('/api/exchange/sources/{source}/rests', { params: { path: { source: id } } }),
      );
    });
  }

  async function takeBack(event: SubmitEvent, id: number) {
    event.preventDefault();
    const taken = await act.run(async () => {
      const said = await body(
        api.POST('/api/exchange/sources/{source}/take-back', {
          params: { path: { source: id } },
          body: { reason },
        }),
      );
      done = `Taken back: ${brought(said)}. The same files can come in again.`;
    });
    if (taken) asked = null;
  }

  const size = (s: Source) => `${Math.max(1, Math.round(s.bytes / 1000)).toLocaleString('en-GB')} kB`;
</script>

{#if sources.data?.length}
  <section aria-label="Brought in so far">
    <h2>Brought in so far</h2>
    <div class="across">
      <table class="plain-table">
        <thead
          ><tr
            ><th>File</th><th>Read as</th><th class="num wide">Size</th><th>When</th><th>By</th><th
              class="wide">SHA-256</th
            ><th></th></tr
          ></thead
        >
        <tbody>
          {#each imports as one (one.id)}
            {#each one.files as s, n (s.id)}
              <tr class:gone={s.taken_by}>
                <td>{s.name}</td>
                <td>{s.kind}</td>
                <td class="num figure wide">{size(s)}</td>
                <td>{dayYear(s.imported_at)}</td>
                <td>{s.imported_by}</td>
                <td class="figure wide">{s.mark}…</td>
                <td class="kept">
                  {#if n === 0 && s.taken_by && s.taken_at}
                    Taken back by {s.taken_by}, {dayYear(s.taken_at)}: “{s.reason}”
                  {:else if n === 0 && asked !== one.id}
                    <button class="press" disabled={act.busy} onclick={() => void ask(one.id)}
                      >Take back…</button
                    >
                  {/if}
                </td>
              </tr>
            {/each}
            {#if asked === one.id}
              <tr>
                <td colspan="7" class="kept">
                  {#if rests?.in_the_way.length}
                    <p><b>This import cannot be taken back whole:</b></p>
                    <ul>
                      {#each rests.in_the_way as x (x.words)}<li>{x.words}</li>{/each}
                    </ul>
                    <p class="muted">You can still correct single rows in the engine's log.</p>
                    <button class="press" type="button" onclick={() => (asked = null)}>Close</button>
                  {:else if rests}
                    <form onsubmit={(e) => void takeBack(e, one.id)}>
                      <p>
                        {what(rests, one.files.length)}
                        {#if rests.stays.length}What stays: {rests.stays.join(', ')}.{/if} Nothing is erased. A
                        Stop that it raised stands until it is released.
                      </p>
                      <div class="row">
                        <label
                          >Why <input
                            class="field"
                            required
                            maxlength="2000"
                            bind:value={reason}
                            placeholder="lead and tin were exchanged"
                          /></label
                        >
                        <button class="press first" disabled={act.busy || !reason.trim()}>Take it back</button
                        >
                        <button class="press" type="button" onclick={() => (asked = null)}>Keep it</button>
                      </div>
                    </form>
                  {/if}
                  {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
                </td>
              </tr>
            {/if}
          {/each}
        </tbody>
      </table>
    </div>
    {#if done}<p role="status">{done}</p>{/if}
  </section>
{/if}

<style>
  section,
  form {
    display: grid;
    gap: 8px;
  }
  .gone td:not(.kept) {
    color: var(--muted);
    text-decoration: line-through;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: end;
  }
  @media (max-width: 600px) {
    .wide {
      display: none;
    }
  }
  label {
    flex: 1;
    display: grid;
  }
</style>
