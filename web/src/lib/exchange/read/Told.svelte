<script lang="ts">
  import { counted, type ReadAs } from '../readas';

  interface Props {
    found: ReadAs;
  }
  let { found }: Props = $props();
</script>

{#if found.told.length}
  <section aria-label="As it will be read">
    <h2>As it will be read: {found.samples} {found.samples === 1 ? 'sample' : 'samples'}</h2>
    <div class="across">
      <table class="plain-table">
        <thead
          ><tr
            ><th class="num">Row</th><th>Bottle</th><th>Engine</th><th>Drawn</th><th class="num">Meter</th><th
              >Beside</th
            ><th>Figures</th></tr
          ></thead
        >
        <tbody>
          {#each found.told as t, n (n)}<tr
              ><td class="num figure">{t.row}</td><td>{t.sample}</td><td>{t.engine}</td><td
                class="figure when">{t.drawn_on}</td
              ><td class="num figure">{t.meter}</td><td>{t.beside}</td><td class="figure">{t.figures}</td></tr
            >{/each}
        </tbody>
      </table>
    </div>
  </section>
{/if}
{#if found.left}<p class="muted">
    {found.left}
    {found.left === 1 ? 'row tells' : 'rows tell'} no sample (heads of pages, sums, notes) and {found.left ===
    1
      ? 'is'
      : 'are'} passed over.
  </p>{/if}
{#if found.others.length}<p class="muted">
    Left out, of parts that are no engines: {counted(found.others)}.
  </p>{/if}
{#if found.marks.length}<p class="muted">
    Marks the laboratory set beside figures are not read, the figures are: {counted(found.marks)}.
  </p>{/if}
{#if found.unread.length}<p class="muted">Not read: {found.unread.join(', ')}.</p>{/if}
{#if found.wrongs}
  <section aria-label="What is not read">
    <h2>{found.wrongs} {found.wrongs === 1 ? 'cell or row is' : 'cells or rows are'} not read</h2>
    <ul>
      {#each found.wrong as w, n (n)}<li>Row {w.row}, {w.heading}: {w.what}; {w.fix}.</li>{/each}
    </ul>
  </section>
{/if}

<style>
  section {
    display: grid;
    gap: 8px;
    min-width: 0;
  }
  .when {
    white-space: nowrap;
  }
</style>
