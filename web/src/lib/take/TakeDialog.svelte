<script lang="ts">
  import { ApiError, UNKNOWN } from '../api/client';
  import { now } from '../clock';
  import { carried, type Carried } from './carried';
  import { asCsv, asPng, asSvg, asTabs, fileName, save } from './forms';
  import Modal from '../controls/Modal.svelte';

  interface Props {
    shown: boolean;
  }
  let { shown = $bindable() }: Props = $props();

  let parts = $state.raw<Carried[]>([]);
  let said = $state('');
  $effect(() => {
    if (!shown) return;
    said = '';
    parts = carried();
  });
  const today = () => new Date(now()).toISOString().slice(0, 10);
  const text = (content: string, type: string) => new Blob([content], { type: `${type};charset=utf-8` });

  async function workbook(part: Carried): Promise<void> {
    const { columns, rows } = part.sheet();
    const answer = await fetch('/api/sheet.xlsx', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ name: part.name, columns, rows }),
    });
    if (!answer.ok)
      throw new Error(answer.status === 401 ? 'Say who you are first.' : 'That is too much for one sheet.');
    save(await answer.blob(), fileName(part.name, today(), 'xlsx'));
  }
  const svg = (part: Carried, drawing: SVGSVGElement) => asSvg(drawing, part.name, part.sheet());

  async function take(what: string, does: () => Promise<void> | void) {
    try {
      await does();
      said = what;
    } catch (error) {
      said = error instanceof ApiError || error instanceof Error ? error.message : UNKNOWN;
    }
  }
</script>

<Modal open={shown} title="Download or copy from this page" onclose={() => (shown = false)}>
  {#if parts.length === 0}<p>There is no table and no chart on this page.</p>{/if}
  {#each parts as part, n (n)}
    <div class="part">
      <b>{part.name || 'Table'}</b>
      <span class="ways">
        <button
          class="press"
          onclick={() =>
            take(`${part.name}: copied.`, () => navigator.clipboard.writeText(asTabs(part.sheet())))}
          >Copy</button
        >
        <button
          class="press"
          onclick={() =>
            take(`${part.name}: saved.`, () =>
              save(text(asCsv(part.sheet()), 'text/csv'), fileName(part.name, today(), 'csv')),
            )}>CSV</button
        >
        <button class="press" onclick={() => take(`${part.name}: saved.`, () => workbook(part))}>XLSX</button>
        {#if part.drawing}
          {@const drawing = part.drawing}
          <button
            class="press"
            onclick={() =>
              take(`${part.name}: saved.`, () =>
                save(text(svg(part, drawing), 'image/svg+xml'), fileName(part.name, today(), 'svg')),
              )}>SVG</button
          >
          <button
            class="press"
            onclick={() =>
              take(`${part.name}: saved.`, async () =>
                save(await asPng(svg(part, drawing)), fileName(part.name, today(), 'png')),
              )}>PNG</button
          >
        {/if}
      </span>
    </div>
  {/each}
  <p role="status">{said}</p>
</Modal>

<style>
  .part {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    gap: 6px 18px;
    align-items: center;
    border-bottom: 1px solid var(--line);
    padding-bottom: 6px;
  }
  .ways {
    display: flex;
    gap: 6px;
  }
</style>
