<script lang="ts">
  import type { Schemas } from '../api/client';

  interface Props {
    result: Schemas['ImportReport'];
    done: boolean;
  }
  let { result, done }: Props = $props();
  const added = $derived(result.files.reduce((n, f) => n + f.added, 0));
  const nothing = $derived(
    !result.problem_count && !added && !result.change_count && !result.amendments.length,
  );
</script>

<table class="plain-table files">
  <thead>
    <tr
      ><th>File</th><th>Read as</th><th class="num">Rows</th><th class="num">New</th><th class="num">Known</th
      ><th>Remarks</th></tr
    >
  </thead>
  <tbody>
    {#each result.files as f (f.name)}
      <tr>
        <td>{f.name}</td>
        <td>{f.table}</td>
        <td class="num figure">{f.rows}</td>
        <td class="num figure">{f.added}</td>
        <td class="num figure">{f.known}</td>
        <td>
          <span class="note">{f.note}</span>
          {#if f.ignored.length}<b>Columns not read: {f.ignored.join(', ')}</b>{/if}
        </td>
      </tr>
    {/each}
  </tbody>
</table>

{#if result.problem_count}
  <h2 class="bad">
    {result.problem_count} problem{result.problem_count === 1 ? '' : 's'}; nothing {done ? 'was' : 'will be'} written
  </h2>
  {#if result.problem_count > result.problems.length}
    <p class="muted">The first {result.problems.length} are shown.</p>
  {/if}
  <div class="scroll">
    <table class="plain-table">
      <thead
        ><tr><th>File</th><th class="num">Row</th><th>Column</th><th>What is wrong</th><th>What to do</th></tr
        ></thead
      >
      <tbody>
        {#each result.problems as p, n (n)}
          <tr>
            <td>{p.file}</td>
            <td class="num figure">{p.row ?? ''}</td>
            <td>{p.column ?? ''}</td>
            <td>{p.what}</td>
            <td>{p.fix}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
{/if}

{#if result.change_count}
  <h2>{result.change_count} on record otherwise</h2>
  <p class="muted">The record is not changed unless you tick “take these changes”.</p>
  <div class="scroll">
    <table class="plain-table">
      <thead><tr><th>What</th><th>On record</th><th>In the file</th><th>Where</th></tr></thead>
      <tbody>
        {#each result.changes as c, n (n)}
          <tr
            ><td>{c.what}</td><td>{c.old || 'empty'}</td><td>{c.new || 'empty'}</td><td
              >{c.file}, row {c.row}</td
            ></tr
          >
        {/each}
      </tbody>
    </table>
  </div>
{/if}

{#if result.unmatched.length}
  <p>
    <b
      >No bottle is registered as {result.unmatched.slice(0, 8).join(', ')}{result.unmatched.length > 8
        ? ` and ${result.unmatched.length - 8} more`
        : ''}.</b
    >
    The figures are kept and wait under <a href="/bottles">Bottles</a> for the bottle they belong to.
  </p>
{/if}
{#if result.amendments.length}
  <h2>{result.amendments.length} amended report{result.amendments.length === 1 ? '' : 's'}</h2>
  <p class="muted">
    These reports are known with other figures. They come in as a new revision that counts only once a person
    accepts it.
  </p>
  <div class="scroll">
    <table class="plain-table">
      <thead><tr><th>Report</th><th>Old → new</th><th>Where</th></tr></thead>
      <tbody>
        {#each result.amendments as c, n (n)}
          <tr><td>{c.what}</td><td>{c.new}</td><td>{c.file}, row {c.row}</td></tr>
        {/each}
      </tbody>
    </table>
  </div>
{/if}

{#if nothing}<p role="status"><b>Nothing new:</b> everything in these files is already on record.</p>{/if}

<style>
  .scroll {
    max-height: 340px;
    overflow: auto;
    border-bottom: 1px solid var(--line);
  }
  .note {
    white-space: pre-line;
  }
  .bad {
    color: var(--act);
  }
  h2 {
    margin-top: 10px;
  }
</style>
