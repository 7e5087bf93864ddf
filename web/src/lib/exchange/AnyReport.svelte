<script lang="ts">
  import FileButton from '$lib/controls/FileButton.svelte';
  import { goto } from '$app/navigation';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { upload } from '../api/client';

  const act = new Act(useQueryClient());
  let pasted = $state('');

  const send = (file: File | undefined) =>
    act.run(async () => {
      if (!file) return;
      const { token } = await upload(file);
      await goto(`/exchange/read?file=${token}`);
    });
</script>

<section aria-label="A laboratory's report">
  <h2>A laboratory's report</h2>
  <p class="muted">
    CSV or XLSX as the laboratory sends it, or a table pasted from a document. The next page shows how it is
    read before anything is written, and remembers it for the next one.
  </p>
  {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
  <div class="ways">
    <FileButton
      label="Choose a file"
      words={act.busy ? 'Sending…' : 'Choose a file'}
      accept=".csv,.txt,.tsv,.xlsx"
      disabled={act.busy}
      take={([one]) => void send(one)}
    />
    <form
      onsubmit={(e) => {
        e.preventDefault();
        void send(new File([pasted], 'pasted table.csv', { type: 'text/csv' }));
      }}
    >
      <label
        ><span class="sr-only">A table, pasted with its headings</span><textarea
          class="field"
          rows="2"
          placeholder="or paste a table with its headings"
          bind:value={pasted}
        ></textarea></label
      >
      <button class="press" disabled={act.busy || !pasted.trim()}>Read it</button>
    </form>
    <a class="press" href="/report">Type one report</a>
  </div>
</section>

<style>
  section {
    display: grid;
    gap: 8px;
  }
  a.press {
    text-decoration: none;
    display: inline-block;
  }
  textarea {
    width: min(440px, calc(100vw - 60px));
  }
  .ways,
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: center;
  }
</style>
