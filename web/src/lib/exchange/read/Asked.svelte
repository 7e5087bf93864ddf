<script lang="ts">
  import { choices } from '$lib/terms';
  import type { Schemas } from '../../api/client';
  import type { ReadAs } from '../readas';

  interface Props {
    found: ReadAs;
    busy: boolean;
    change: (over: Partial<Schemas['LayoutIn']>) => void;
  }
  let { found, busy, change }: Props = $props();

  // What a person ticked; before that what the file settles.
  let ticked = $state<Record<string, boolean>>({});
  const isEngine = (part: string) => ticked[part] ?? (found.layout.parts ?? []).includes(part);
  const said = () => {
    // What other files name stays as it was said.
    const before = (parts: readonly string[]) => parts.filter((p) => !found.parts.includes(p));
    return {
      parts: [...before(found.layout.parts ?? []), ...found.parts.filter(isEngine)],
      others: [...before(found.layout.others), ...found.parts.filter((p) => p && !isEngine(p))],
    };
  };
  const asked = $derived(found.questions.some((q) => q.about === 'parts'));

  const options = (about: string) => {
    if (about === 'decimal') return choices('decimal_marks');
    if (about === 'days') return choices('days_written').filter((d) => d.code !== 'iso');
    return choices(about === 'blank' ? 'blank_engines' : 'water_units');
  };
</script>

{#each found.questions.filter((q) => q.about !== 'parts') as q (q.about)}
  <fieldset class="ask">
    <legend>{q.words}</legend>
    <p class="figure">{q.seen.join(' · ')}</p>
    <div class="in-row">
      {#each options(q.about) as o (o.code)}<button
          class="press"
          disabled={busy}
          onclick={() => change({ [q.about]: o.code })}>{o.words}</button
        >{/each}
    </div>
  </fieldset>
{/each}
{#if found.parts.length}
  <fieldset class:ask={asked} class="parts">
    <legend>Which of these parts are engines?</legend>
    <div class="in-row">
      {#each found.parts as part (part)}<label class="tick"
          ><input
            type="checkbox"
            checked={isEngine(part)}
            onchange={(e) => {
              ticked[part] = e.currentTarget.checked;
              if (!asked) change(said());
            }}
          />
          {part || 'no part named'}</label
        >{/each}
      {#if asked}<button
          class="press"
          disabled={busy || !found.parts.some(isEngine)}
          onclick={() => change(said())}>These are engines</button
        >{/if}
    </div>
    <p class="muted">Rows of the others are left out.</p>
  </fieldset>
{/if}

<style>
  .parts .in-row {
    align-items: center;
  }
  fieldset {
    padding: 6px 12px 10px;
    display: grid;
    gap: 6px;
    justify-self: start;
  }
  .parts:not(.ask) {
    border: 1px solid var(--line);
  }
  legend {
    font-weight: 650;
  }
</style>
