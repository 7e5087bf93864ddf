<script lang="ts">
  import FileButton from '$lib/controls/FileButton.svelte';
  import { api, body, type Schemas } from '../api/client';
  import type { Act } from '../api/act.svelte';
  import { choices } from '../terms';

  interface Props {
    act: Act;
    onread: (read: Schemas['ReportRead']) => Promise<void>;
  }
  let { act, onread }: Props = $props();

  let pasted = $state('');
  let read = $state.raw<Schemas['ReportRead'] | null>(null);
  let file = $state<File | null>(null);

  // What was answered of this text holds until another one is read.
  let decimal = $state<'point' | 'comma' | ''>('');
  const paste = (sample: number | null = null) =>
    act.run(async () => {
      read = await body(api.POST('/api/report/read', { body: { text: pasted, decimal, sample } }));
      await onread(read);
    });
  function again(mark: 'point' | 'comma' | '' = '') {
    decimal = mark;
    return paste();
  }
  async function pdf(chosen: File | undefined) {
    if (!chosen) return;
    file = chosen;
    await act.run(async () => {
      const found = await readPdf(chosen);
      pasted = found.text;
    });
    if (pasted) await again();
  }
  async function readPdf(chosen: File): Promise<Schemas['PdfText']> {
    return body(
      api.POST('/api/report/pdf', {
        body: chosen as unknown as never,
        bodySerializer: (x: unknown) => x as BodyInit,
        headers: { 'Content-Type': 'application/pdf' },
      }),
    );
  }
</script>

<details open>
  <summary>Paste its figures, take them from a PDF, or type them below</summary>
  <textarea
    class="field"
    rows="3"
    aria-label="Figures as they were copied"
    placeholder="Iron 14&#10;Viscosity @ 100 °C 14.1 cSt&#10;or a table with its headings"
    bind:value={pasted}
  ></textarea>
  <p class="row">
    <button class="press" disabled={act.busy || !pasted.trim()} onclick={() => void again()}
      >Read what I pasted</button
    >
    <FileButton
      label="A report as PDF, with text in it"
      accept="application/pdf"
      disabled={act.busy}
      take={([one]) => void pdf(one)}
    />
  </p>
  {#if read}
    <p role="status">
      {Object.keys(read.figures).length} figures read{read.unread.length
        ? `; not read: ${read.unread.slice(0, 6).join(', ')}${read.unread.length > 6 ? ` and ${read.unread.length - 6} lines more` : ''}`
        : ''}.
      {#if file}<b>From {file.name}: hold each figure against the sheet.</b>{/if}
    </p>
  {/if}
  {#each read?.questions ?? [] as q (q.about)}
    <p class="row ask">
      <b>{q.words}</b>
      {#if q.about === 'sample'}
        {#each q.seen as figures, place (place)}<button
            class="press"
            disabled={act.busy}
            onclick={() => void paste(place)}>{figures}</button
          >{/each}
      {:else}
        <span class="figure">{q.seen.join('   ')}</span>
        {#each choices('decimal_marks') as o (o.code)}<button
            class="press"
            disabled={act.busy}
            onclick={() => void again(o.code)}>{o.words}</button
          >{/each}
      {/if}
    </p>
  {/each}
</details>

<style>
  details {
    display: grid;
    gap: 10px;
  }
  textarea {
    width: 100%;
    max-width: 720px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: end;
  }
  .ask {
    align-items: center;
  }
</style>
