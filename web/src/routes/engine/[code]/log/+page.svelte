<script lang="ts">
  import { page } from '$app/state';
  import { useLogbook } from '$lib/api/queries';
  import Balance from '$lib/log/Balance.svelte';
  import CorrectForm from '$lib/log/CorrectForm.svelte';
  import Photos from '$lib/log/Photos.svelte';
  import Plans from '$lib/log/Plans.svelte';
  import QueryCard from '$lib/queries/QueryCard.svelte';
  import { dayYear, meter } from '$lib/words';

  const code = $derived(page.params.code ?? '');
  const logbook = useLogbook(() => code);
  const b = $derived(logbook.data?.engine === code ? logbook.data : undefined);
  let open = $state<string | null>(null);
  let said = $state('');
  let shown = $state(25);
  const SAID = { stands: 'left as it is', corrected: 'corrected', asked: 'laboratory asked' } as const;
</script>

<svelte:head><title>{code}, log · Keen Tracer</title></svelte:head>

<main class="log">
  <p><a href="/engine/{encodeURIComponent(code)}">{code}, history</a></p>
  <h1>{code}, log</h1>
  {#if logbook.isError}<p role="alert">{logbook.error.message}</p>{/if}
  {#if said}<p role="status" class="said">{said}</p>{/if}
  {#if b}
    {#if b.queries.length}
      <section aria-label="Records that do not fit">
        <h2>Records that do not fit</h2>
        {#each b.queries as q (q.key)}<QueryCard query={q} />{/each}
      </section>
    {/if}
    <Balance book={b} />
    <Plans engine={code} unit={b.unit} />
    <Photos photos={b.photos} />
    <section aria-label="Log">
      <h2>Log</h2>
      <table class="plain-table">
        <thead><tr><th>Day</th><th class="num">Meter</th><th>What</th><th>By</th><th></th></tr></thead>
        <tbody>
          {#each b.rows.slice(0, shown) as r (r.id)}
            <tr>
              <td class="nowrap">{dayYear(r.on_date)}</td>
              <td class="num figure nowrap">{r.dial === null ? '' : meter(r.dial, b.unit)}</td>
              <td
                >{#if r.sample && !r.step.match(/lost|broken/)}<a href="/judge/{encodeURIComponent(r.sample)}"
                    >{r.words}</a
                  >{:else}{r.words}{/if}{r.corrected ? ' · corrected' : ''}</td
              >
              <td class="muted">{r.recorded_by}</td>
              <td class="num"
                ><button
                  class="plain no-print"
                  aria-expanded={open === r.id}
                  aria-label="Correct: {r.words}, {dayYear(r.on_date)}"
                  onclick={() => (open = open === r.id ? null : r.id)}>Correct</button
                ></td
              >
            </tr>
            {#if open === r.id}
              <tr
                ><td colspan="5"
                  ><CorrectForm
                    row={r}
                    engine={code}
                    unit={b.unit}
                    ondone={(words) => {
                      said = words;
                      open = null;
                    }}
                  /></td
                ></tr
              >
            {/if}
          {:else}<tr><td colspan="5" class="muted">Nothing is on record yet.</td></tr>
          {/each}
        </tbody>
      </table>
      {#if b.rows.length > shown}<button class="press no-print" onclick={() => (shown += 100)}
          >Older, {b.rows.length - shown} more</button
        >{/if}
    </section>
    {#if b.corrections.length || b.answers.length}
      <section aria-label="Corrections so far">
        <h2>Corrections so far</h2>
        <ul>
          {#each b.corrections as k, n (n)}
            <li>
              <span class="muted">{dayYear(k.at)}</span>
              {k.by}: {k.sample ? `bottle ${k.sample}` : k.kind.replaceAll('_', ' ')} of {dayYear(k.on)}, {k.words}{k.reason
                ? `, “${k.reason}”`
                : ''}
            </li>
          {/each}
          {#each b.answers as a (a.key)}
            <li>
              <span class="muted">{dayYear(a.at)}</span>
              {a.by}: {a.words} <b>{SAID[a.said as keyof typeof SAID]}</b>, “{a.reason}”
            </li>
          {/each}
        </ul>
      </section>
    {/if}
  {:else if !logbook.isError}<p class="muted">Reading…</p>{/if}
</main>

<style>
  .log {
    padding: 10px 18px 40px;
    max-width: 980px;
    display: grid;
    gap: 16px;
    align-content: start;
  }
  section {
    display: grid;
    gap: 6px;
  }
  .nowrap {
    white-space: nowrap;
  }
</style>
