<script lang="ts">
  import { useBackups, useSources } from '$lib/api/queries';
  import { dayYear } from '$lib/words';
  import Amendments from '$lib/exchange/Amendments.svelte';
  import AnyReport from '$lib/exchange/AnyReport.svelte';
  import ImportBox from '$lib/exchange/ImportBox.svelte';

  const sources = useSources();
  const backups = useBackups();
  const HOUR = 3_600_000;
  const LATE_H = 48;
  const hours = (at: string) => Math.max(0, Math.floor((Date.now() - Date.parse(at)) / HOUR));
  const age = (at: string) =>
    hours(at) < 1
      ? 'less than an hour'
      : hours(at) < LATE_H
        ? `${hours(at)} h`
        : `${Math.floor(hours(at) / 24)} days`;
  const old = $derived(hours(backups.data?.last_backup ?? '') >= LATE_H);

  const KEY = 'export for a spreadsheet';
  let sheet = $state(localStorage.getItem(KEY) === 'yes');
  const remember = () => localStorage.setItem(KEY, sheet ? 'yes' : 'no');
</script>

<svelte:head><title>Exchange · Keen Tracer</title></svelte:head>

<main class="exchange">
  <h1>Exchange</h1>
  <Amendments />
  <AnyReport />
  <ImportBox />
  <section aria-label="Take out">
    <h2>Take out</h2>
    <p>
      Everything as open files in one archive: depots, models, engines, oils, coolants, plans, limits, events,
      samples, readings, the bottles' way, answers, debris looks, outcomes, peers, weights, policies, verdicts
      and decisions, with a table schema. Imported into an empty program and exported again, the bytes are the
      same.
    </p>
    <p class="take">
      <a class="press" href="/api/export.zip{sheet ? '?spreadsheet=true' : ''}" download>Download all data</a>
      <label>
        <input type="checkbox" bind:checked={sheet} onchange={remember} /> for a spreadsheet: no cell is taken for
        a formula (such a file does not come in again as it was)
      </label>
    </p>
    <p class="muted">
      For a copy that restores the whole program, sign-offs and sources included: <code
        >./keen backup FILE</code
      >. One a day is made while the program serves.
      {#if backups.data?.last_backup}
        <b class:late={old}>Last backup {age(backups.data.last_backup)} ago</b>{backups.data.backup_tried
          ? `, tried ${age(backups.data.backup_tried)} ago: it comes back equal.`
          : ', not tried yet.'}
      {:else}<b class="late">No backup was made yet.</b>{/if}
    </p>
  </section>
  {#if sources.data?.length}
    <section aria-label="Brought in so far">
      <h2>Brought in so far</h2>
      <table class="plain-table">
        <thead
          ><tr
            ><th>File</th><th>Read as</th><th class="num">Size</th><th>When</th><th>By</th><th>SHA-256</th
            ></tr
          ></thead
        >
        <tbody>
          {#each sources.data as s, n (n)}
            <tr>
              <td>{s.name}</td>
              <td>{s.kind}</td>
              <td class="num figure">{Math.max(1, Math.round(s.bytes / 1000)).toLocaleString('en-GB')} kB</td>
              <td>{dayYear(s.imported_at)}</td>
              <td>{s.imported_by}</td>
              <td class="figure">{s.mark}…</td>
            </tr>
          {/each}
        </tbody>
      </table>
    </section>
  {/if}
</main>

<style>
  .exchange {
    padding: 10px 18px 40px;
    display: grid;
    gap: 18px;
    max-width: 1100px;
  }
  section {
    display: grid;
    gap: 8px;
  }
  .take {
    display: flex;
    align-items: center;
    gap: 14px;
    flex-wrap: wrap;
  }
  .late {
    color: var(--act);
  }
  a.press {
    text-decoration: none;
    display: inline-block;
  }
  code {
    background: none;
    color: inherit;
    padding: 0;
  }
</style>
