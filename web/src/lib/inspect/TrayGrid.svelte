<script lang="ts">
  import { capital, choices, TERMS } from '../terms';
  import Pieces from './Pieces.svelte';
  import { added, cell, total, withAmount, type Laid } from './tray';

  interface Props {
    laid: Laid;
  }
  let { laid = $bindable() }: Props = $props();

  const STEPS = [
    { by: 1, words: 'One more' },
    { by: 10, words: 'Ten more' },
    { by: -1, words: 'One less' },
  ] as const;
  let by = $state<number>(1);
  const sizes = choices('debris_sizes');
  let typing = '';

  function tap(type: string, size: string) {
    laid = added(laid, type, size, by);
  }

  // At the desk: arrows walk the tray, + and − count, digits set a count.
  function onkeydown(event: KeyboardEvent, row: number, column: number) {
    const type = TERMS.debris_types[row]?.code ?? '';
    const size = sizes[column]?.code ?? '';
    const walks: Record<string, [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
    };
    const walk = walks[event.key];
    if (walk) {
      typing = '';
      const next = document.querySelector<HTMLElement>(`[data-cell="${row + walk[0]}-${column + walk[1]}"]`);
      next?.focus();
    } else if (event.key === '+' || event.key === '-') {
      typing = '';
      laid = added(laid, type, size, event.key === '+' ? 1 : -1);
    } else if (/^\d$/.test(event.key)) {
      typing = (typing + event.key).slice(-5);
      laid = added(
        { ...laid, counts: { ...laid.counts, [cell(type, size)]: 0 } },
        type,
        size,
        Number(typing),
      );
    } else return;
    event.preventDefault();
  }
</script>

<div class="steps" role="radiogroup" aria-label="A tap counts">
  {#each STEPS as s (s.by)}
    <button type="button" class="press" role="radio" aria-checked={by === s.by} onclick={() => (by = s.by)}
      >{s.words}</button
    >
  {/each}
  <span class="muted desk">At the keyboard: arrows, + and −, or digits.</span>
</div>
<div class="tray" role="group" aria-label="What was found">
  <div class="sizes muted" aria-hidden="true">
    <span></span>
    {#each sizes as s (s.code)}<span>{s.words.replace(' mm', '')}</span>{/each}
  </div>
  {#each TERMS.debris_types as t, row (t.code)}
    <div class="row" role="group" aria-label={capital(t.words)}>
      <div class="name">
        <b class:found={total(laid, t.code) > 0 || laid.amounts[t.code]}>{t.words}</b>
        <span class="amounts">
          {#each choices('debris_amounts') as a (a.code)}
            <button
              type="button"
              class="plain"
              aria-pressed={laid.amounts[t.code] === a.code}
              onclick={() => (laid = withAmount(laid, t.code, a.code))}>{a.words}</button
            >
          {/each}
        </span>
      </div>
      {#each sizes as s, column (s.code)}
        {@const n = laid.counts[cell(t.code, s.code)] ?? 0}
        <button
          type="button"
          class="cell"
          class:full={n > 0}
          data-cell="{row}-{column}"
          tabindex={row === 0 && column === 0 ? 0 : -1}
          aria-label="{capital(t.words)}, {s.words}: {n}"
          onclick={() => tap(t.code, s.code)}
          onkeydown={(e) => onkeydown(e, row, column)}
        >
          <Pieces type={t.code} size={column} {n} />
          {#if n}<span class="n figure">{n}</span>{/if}
        </button>
      {/each}
    </div>
  {/each}
</div>

<style>
  .steps {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
    position: sticky;
    top: 0;
    background: var(--paper);
    padding: 6px 0;
    z-index: 2;
  }
  .steps .press[aria-checked='true'] {
    box-shadow: inset 0 -4px 0 var(--ink);
    font-weight: 650;
  }
  .press {
    min-height: 44px;
  }
  .tray {
    display: grid;
    gap: 2px;
  }
  .sizes,
  .row {
    display: grid;
    grid-template-columns: minmax(150px, 1.6fr) repeat(5, minmax(58px, 1fr));
    gap: 4px;
    align-items: stretch;
  }
  .sizes {
    font-size: 12px;
    text-align: center;
  }
  .name {
    display: grid;
    align-content: center;
    line-height: 1.15;
  }
  .name b {
    font-weight: 400;
  }
  .name b.found {
    font-weight: 650;
  }
  .amounts {
    display: flex;
    gap: 10px;
  }
  .amounts .plain {
    font-size: 12px;
    min-height: 24px;
    color: var(--muted);
  }
  .amounts .plain[aria-pressed='true'] {
    color: var(--ink);
    font-weight: 650;
    text-decoration: none;
    border-bottom: 3px solid var(--ink);
  }
  .cell {
    position: relative;
    min-height: 44px;
    border: 1px dotted var(--edge);
    border-radius: 3px;
    background: none;
    cursor: pointer;
    overflow: hidden;
  }
  .cell.full {
    border-style: solid;
    background: var(--paper-raised);
  }
  .cell:focus-visible {
    outline: 3px solid var(--due);
    outline-offset: 1px;
  }
  .n {
    position: absolute;
    right: 3px;
    bottom: 1px;
    font-weight: 650;
    background: var(--paper-raised);
    padding: 0 2px;
  }
  @media (max-width: 600px) {
    .row {
      grid-template-columns: repeat(5, 1fr);
      border-top: 1px solid var(--line);
      padding: 4px 0;
    }
    .sizes {
      grid-template-columns: repeat(5, 1fr);
      position: sticky;
      top: 57px;
      background: var(--paper);
      z-index: 1;
    }
    .sizes span:first-child {
      display: none;
    }
    .name {
      grid-column: 1 / -1;
      grid-template-columns: 1fr auto;
    }
    .amounts .plain {
      min-height: 44px;
      font-size: 13px;
    }
    .cell {
      min-height: 48px;
    }
    .desk {
      display: none;
    }
  }
</style>
