<script lang="ts">
  import BoxDoor from '../frame/BoxDoor.svelte';
  import { useBackups, useEntries, useState } from '../api/queries';
  import { now } from '../clock';
  import { addDays } from '../plan/plan';

  const backups = useBackups();
  const frame = useState();
  const depots = useEntries(() => 'depots');
  const HOUR = 3_600_000;
  const LATE_H = 48;
  const hours = (at: string) => Math.max(0, Math.floor((now() - Date.parse(at)) / HOUR));
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

  const today = $derived(frame.data?.today ?? '');
  // As long as nobody chose another: a week back, and this month.
  let chosenSince = $state('');
  let chosenMonth = $state('');
  const since = $derived(chosenSince || (today && addDays(today, -7)));
  const month = $derived(chosenMonth || today.slice(0, 7));
  let depot = $state('');
  const where = $derived(depot ? `&depot=${encodeURIComponent(depot)}` : '');
</script>

<section aria-label="Take out">
  <h2>Take out</h2>
  <p>
    Everything as open files in one archive, with a table schema and the photographs: imported into an empty
    program and exported again, the bytes are the same. Any table or chart of a page leaves by <b
      >Download or copy</b
    >, at the top.
  </p>
  <p class="take">
    <a class="press" href="/api/export.zip{sheet ? '?spreadsheet=true' : ''}" download>Download all data</a>
    <label>
      <input type="checkbox" bind:checked={sheet} onchange={remember} /> for a spreadsheet: no cell is taken for
      a formula (such a file does not come in again as it was)
    </label>
    <a class="press" href="/api/export.xlsx" download>as one workbook</a>
    <a class="press" href="/api/export.json" download>as JSON</a>
  </p>
  <form class="take" aria-label="On paper" onsubmit={(e) => e.preventDefault()}>
    <label
      >Depot
      <select class="field" bind:value={depot}
        ><option value="">whole fleet</option>{#each depots.data?.entries ?? [] as d (d.code)}<option
            value={d.code}>{d.code}</option
          >{/each}</select
      ></label
    >
    <label
      >Signed since <input
        class="field"
        type="date"
        required
        bind:value={() => since, (on) => (chosenSince = on)}
      /></label
    >
    <a class="press" href="/api/letters.pdf?since={since}{where}" target="_blank" rel="noopener"
      >Letters of all of them (PDF)</a
    >
    <label
      >Month <input
        class="field"
        type="month"
        required
        bind:value={() => month, (of) => (chosenMonth = of)}
      /></label
    >
    <a class="press" href="/api/month.pdf?first={month}-01{where}" target="_blank" rel="noopener"
      >Report of the month (PDF)</a
    >
  </form>
  <p class="muted">
    For a copy that restores the whole program, sign-offs and sources included: <code>./keen backup FILE</code
    >. One a day is made while the program serves.
    {#if backups.data?.last_backup}
      <b class:late={old}>Last backup {age(backups.data.last_backup)} ago</b>{backups.data.backup_tried
        ? `, tried ${age(backups.data.backup_tried)} ago: it comes back equal.`
        : ', not tried yet.'}
    {:else}<b class="late">No backup was made yet.</b>{/if}
  </p>
  <p class="take"><BoxDoor offered={false} /></p>
</section>

<style>
  section {
    display: grid;
    gap: 8px;
  }
  .take {
    display: flex;
    align-items: end;
    gap: 10px 14px;
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
