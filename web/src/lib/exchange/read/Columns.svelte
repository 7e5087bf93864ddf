<script lang="ts">
  import { choices, TERMS } from '$lib/terms';
  import type { Schemas } from '../../api/client';
  import { standsFor } from '../readas';

  type Layout = Schemas['LayoutIn'];
  interface Props {
    layout: Schemas['FileLayout'];
    later: (make: (layout: Layout) => Layout) => void;
  }
  let { layout, later }: Props = $props();

  const figures = TERMS.analytes;
  const fields = choices('report_fields');
  const unitOf = (n: number, unit: string) =>
    later((now) => ({ ...now, columns: now.columns.map((x, m) => (m === n ? { ...x, unit } : x)) }));
</script>

{#snippet choice(name: string, target: string, all: boolean, chosen: (target: string) => void)}
  <select
    class="field"
    aria-label="{name} stands for"
    value={target}
    onchange={(e) => chosen(e.currentTarget.value)}
  >
    <option value="">nothing, not read</option>
    <optgroup label="The report"
      >{#each fields as f (f.code)}<option value={f.code}>{f.words}</option>{/each}</optgroup
    >
    {#if all}<optgroup label="A figure"
        >{#each figures as a (a.column)}<option value={a.column}>{a.name}</option>{/each}</optgroup
      >{/if}
  </select>
{/snippet}

<section aria-label="Columns">
  <h2>{layout.way === 'rows' ? 'Columns' : 'Names of figures'}</h2>
  <div class="across">
    <table class="plain-table">
      <thead><tr><th>Heading</th><th>Stands for</th><th>Unit</th><th>First cells</th></tr></thead>
      <tbody>
        {#each layout.lines as x, n (n)}
          <tr class:unread={!x.target}>
            <td>{x.label} <span class="muted">beside the table</span></td>
            <td
              >{@render choice(x.label, x.target, false, (target) =>
                later((now) => standsFor(now, { line: n }, target)),
              )}</td
            >
            <td></td>
            <td class="figure">{x.seen.join(' · ')}</td>
          </tr>
        {/each}
        {#each layout.columns as c, n (n)}
          {#if c.heading || c.seen.length}
            {@const name = c.heading || `column ${n + 1}`}
            <tr class:unread={!c.target}>
              <td
                >{name}{#if c.turn}<span class="muted">, sample {c.turn} of the row</span>{/if}</td
              >
              <td
                >{@render choice(name, c.target, true, (target) =>
                  later((now) => standsFor(now, { column: n }, target)),
                )}</td
              >
              <td>
                <input
                  class="field short"
                  list="units"
                  aria-label="Unit of {c.heading}"
                  value={c.unit}
                  placeholder={figures.find((a) => a.column === c.target)?.unit ?? ''}
                  onchange={(e) => unitOf(n, e.currentTarget.value.trim())}
                />
              </td>
              <td class="figure">{c.seen.join(' · ')}</td>
            </tr>
          {/if}
        {/each}
      </tbody>
    </table>
  </div>
  <datalist id="units"
    >{#each choices('column_units') as u (u.code)}<option value={u.code}></option>{/each}</datalist
  >
</section>

<style>
  section {
    display: grid;
    gap: 8px;
    min-width: 0;
  }
  td .field {
    min-height: 0;
    padding: 2px 6px;
  }
  td {
    vertical-align: middle;
  }
  .unread td {
    color: var(--muted);
  }
</style>
