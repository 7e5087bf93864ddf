<script lang="ts">
  import type { Schemas } from '../api/client';
  import { TERMS } from '../terms';
  import { at, banks, mains, type Layout } from './map';

  interface Props {
    layout: Layout;
    findings: Schemas['FindingOut'][];
    chosen: { part: string; position: number | null };
    onpick: (part: string, position: number | null) => void;
  }
  let { layout, findings, chosen, onpick }: Props = $props();

  const words = (part: string) => TERMS.parts.find((p) => p.code === part)?.words ?? part;
  const GRADES = ['sound', 'watch', 'act', 'stop'];
  // From the top of the engine down, what every cylinder has.
  const COLUMN = [
    'head',
    'valve',
    'injector',
    'cam_lobe',
    'follower',
    'stud',
    'piston',
    'rings',
    'bore',
    'liner_seal',
    'wrist_pin_bush',
    'rod_bolt',
    'rod_journal',
  ];
  const SINGLE = TERMS.parts.filter((p) => p.many === 'one').map((p) => p.code);
  let column = $state('piston');
</script>

{#snippet mark(part: string, position: number | null)}
  {@const found = at(findings, part, position)}
  {#if found.numbers.length}<span class="mark {GRADES[found.grade ?? 0]}">{found.numbers.join(' ')}</span
    >{/if}
{/snippet}
{#snippet target(part: string, position: number | null, label: string)}
  {@const found = at(findings, part, position)}
  <button
    type="button"
    class="target {part}"
    aria-pressed={chosen.part === part && chosen.position === position}
    aria-label="{words(part)}{position === null ? '' : ` ${position}`}{found.grade === null
      ? ''
      : `, ${GRADES[found.grade]}, finding ${found.numbers.join(' and ')}`}"
    onclick={() => onpick(part, position)}>{label}{@render mark(part, position)}</button
  >
{/snippet}

<div class="map" role="group" aria-label="The engine, part by part">
  <label class="upper"
    >Of every cylinder
    <select class="field" bind:value={column}
      >{#each COLUMN as c (c)}<option value={c}>{words(c)}</option>{/each}</select
    ></label
  >
  {#each banks(layout) as bank, n (n)}
    <div class="bank" style="--cylinders: {bank.length}">
      {#each bank as cylinder (cylinder)}
        <div class="cylinder">
          <span class="muted">{cylinder}</span>
          {@render target(column, cylinder, '')}
          <span class="rod" aria-hidden="true"></span>
          {@render target('rod_bearing', cylinder, `R${cylinder}`)}
        </div>
      {/each}
    </div>
  {/each}
  <div class="bank mains" style="--cylinders: {mains(layout).length}">
    {#each mains(layout) as main (main)}
      <div class="cylinder">
        {@render target('main_bearing', main, `M${main}`)}
        {@render target('main_journal', main, 'journal')}
      </div>
    {/each}
  </div>
  <div class="singles">
    {#each SINGLE as part (part)}{@render target(part, null, words(part))}{/each}
  </div>
  <p class="muted">
    Numbered as the maker numbers them. Numbers in the marks are findings, in the order found.
  </p>
</div>

<style>
  .map {
    display: grid;
    gap: 10px;
    overflow-x: auto;
  }
  .upper {
    display: flex;
    gap: 8px;
    align-items: center;
    color: var(--muted);
    font-size: 13px;
  }
  .bank {
    display: grid;
    grid-template-columns: repeat(var(--cylinders), minmax(48px, 84px));
    gap: 6px;
    justify-content: start;
  }
  .mains {
    border-top: 3px solid var(--edge);
    padding-top: 8px;
  }
  .cylinder {
    display: grid;
    justify-items: center;
    font-size: 12px;
  }
  .target {
    position: relative;
    min-width: 44px;
    min-height: 44px;
    width: 100%;
    border: 1.5px solid var(--edge);
    background: var(--paper-raised);
    cursor: pointer;
    font-size: 12px;
    color: var(--muted);
  }
  .cylinder > .target:first-of-type:not(.main_bearing) {
    min-height: 64px;
    border-radius: 3px 3px 0 0;
  }
  .rod {
    width: 8px;
    height: 26px;
    background: var(--edge);
  }
  .target.rod_bearing {
    border-radius: 50%;
    width: 48px;
    height: 48px;
  }
  .target[aria-pressed='true'] {
    outline: 3px solid var(--due);
    outline-offset: 2px;
  }
  .singles {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    border-top: 1px solid var(--line);
    padding-top: 8px;
  }
  .singles .target {
    width: auto;
    padding: 0 10px;
    font-size: 13px;
    color: var(--ink);
  }
  .mark {
    position: absolute;
    right: -4px;
    top: -6px;
    min-width: 20px;
    padding: 0 4px;
    border: 1px solid var(--ink);
    background: var(--paper);
    color: var(--ink);
    font-weight: 650;
    z-index: 1;
  }
  .mark.watch {
    border-bottom: 5px solid var(--watch);
  }
  .mark.act {
    border-bottom: 5px solid var(--act);
  }
  .mark.stop {
    border-bottom: 5px solid var(--stop);
    border-width: 2px 2px 5px;
  }
</style>
