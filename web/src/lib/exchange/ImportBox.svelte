<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { api, ApiError, body, upload, type Schemas, UNKNOWN } from '../api/client';
  import { refresh } from '../api/queries';
  import Result from './Result.svelte';

  const client = useQueryClient();
  let chosen = $state<Schemas['Uploaded'][]>([]);
  let result = $state<Schemas['ImportReport'] | null>(null);
  let accept = $state(false);
  let step = $state<'choose' | 'reading' | 'preview' | 'writing' | 'done'>('choose');
  let wrong = $state('');
  let over = $state(false);

  async function attempt(does: () => Promise<void>, back: typeof step) {
    wrong = '';
    try {
      await does();
    } catch (error) {
      wrong = error instanceof ApiError ? error.message : UNKNOWN;
      step = back;
    }
  }

  const request = () => ({ body: { tokens: chosen.map((f) => f.token), accept } });

  async function read(files: FileList | null | undefined) {
    if (!files?.length) return;
    const list = [...files];
    step = 'reading';
    result = null;
    accept = false;
    chosen = [];
    await attempt(async () => {
      for (const file of list) chosen.push(await upload(file));
      result = await body(api.POST('/api/exchange/preview', request()));
      step = 'preview';
    }, 'choose');
  }

  async function write() {
    step = 'writing';
    await attempt(async () => {
      result = await body(api.POST('/api/exchange/import', request()));
      step = result.written ? 'done' : 'preview';
      await refresh(client);
    }, 'preview');
  }

  // How far a long one is; asked only while it runs.
  const busy = $derived(step === 'reading' || step === 'writing');
  let rows = $state(0);
  $effect(() => {
    if (!busy) return;
    rows = 0;
    const timer = setInterval(() => {
      body(api.GET('/api/exchange/progress')).then(
        (p) => (rows = p.running ? p.rows : rows),
        () => undefined,
      );
    }, 1000);
    return () => clearInterval(timer);
  });
  const far = $derived(rows ? ` ${rows.toLocaleString('en').replaceAll(',', '\u202f')} rows read` : '');

  async function stop() {
    await body(api.POST('/api/exchange/stop')).catch(() => undefined);
  }

  function again() {
    step = 'choose';
    result = null;
    chosen = [];
    wrong = '';
  }
  const added = $derived(result?.files.reduce((n, f) => n + f.added, 0) ?? 0);
  const writable = $derived(
    result !== null &&
      !result.problem_count &&
      (added > 0 || result.amendments.length > 0 || (accept && result.change_count > 0)),
  );
</script>

<section aria-label="Bring in">
  <h2>Bring in</h2>
  {#if step === 'choose' || step === 'reading'}
    <label
      class="drop"
      class:over
      ondragover={(e) => {
        e.preventDefault();
        over = true;
      }}
      ondragleave={() => (over = false)}
      ondrop={(e) => {
        e.preventDefault();
        over = false;
        void read(e.dataTransfer?.files);
      }}
    >
      <span class="pick">{step === 'reading' ? `Reading…${far}` : 'Choose files, or drop them here'}</span>
      <span class="muted">
        Our open files as CSV, a filled-in workbook, or a zipped export. Several at once are one import: all
        or nothing. Up to 50 MB and 200 000 rows a file; larger ones with ./keen import.
      </span>
      <input
        class="sr-only"
        type="file"
        multiple
        accept=".csv,.zip,.xlsx,text/csv"
        disabled={step === 'reading'}
        onchange={(e) => void read(e.currentTarget.files)}
      />
    </label>
  {/if}
  {#if result}
    {#if step === 'done'}
      <p role="status" class="done">
        <b>Written.</b>
        {added} new rows, {result.engines} engines to judge again.
      </p>
    {:else}<p class="muted">Preview. Nothing is written yet.</p>{/if}
    <Result {result} done={step === 'done'} />
    <div class="row">
      {#if step !== 'done'}
        {#if result.change_count}
          <label><input type="checkbox" bind:checked={accept} /> take these changes</label>
        {/if}
        <button class="press first" disabled={!writable || step === 'writing'} onclick={() => void write()}>
          {step === 'writing' ? `Writing…${far}` : added ? `Import ${added} new rows` : 'Import'}
        </button>
      {/if}
      <button class="press" disabled={step === 'writing'} onclick={again}
        >{step === 'done' ? 'Bring in more' : 'Other files'}</button
      >
      {#if step === 'done'}<a href="/wall">See the Wall</a>{/if}
    </div>
  {/if}
  {#if busy && rows}<button class="press" onclick={stop}>Stop; nothing is written</button>{/if}
  {#if wrong}<p role="alert" class="wrong">{wrong}</p>{/if}
</section>

<style>
  section {
    display: grid;
    gap: 8px;
    align-content: start;
  }
  .drop {
    display: grid;
    gap: 8px;
    justify-items: start;
    border: 1.5px dashed var(--edge);
    border-radius: 3px;
    padding: 22px;
    background: var(--paper-raised);
  }
  .drop:focus-within {
    outline: 2px solid var(--due);
  }
  .pick {
    text-decoration: underline;
    cursor: pointer;
    font-weight: 650;
  }
  .drop.over {
    border-color: var(--ink);
    border-style: solid;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: center;
  }
  .wrong {
    border-left: 4px solid var(--act);
    padding-left: 8px;
  }
  .done {
    border-left: 4px solid var(--due);
    padding-left: 8px;
  }
</style>
