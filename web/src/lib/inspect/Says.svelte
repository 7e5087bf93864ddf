<script lang="ts">
  import type { Schemas } from '../api/client';
  import Stick from '../draw/Stick.svelte';
  import { TERMS, wordsOf } from '../terms';
  import { computed, levelWord } from '../words';

  interface Props {
    says: Schemas['LookSays'];
    unit: string;
    /** Where the bag's label is printed; '' before the look is kept. */
    bag?: string;
  }
  let { says, unit, bag = '' }: Props = $props();
</script>

<section class="says" aria-label="What this look says" aria-live="polite">
  <p class="head">
    <Stick level={says.level} height={40} label="" />
    <span><span class="muted">This look says</span><br /><b class="level">{levelWord(says.level)}</b></span>
  </p>
  {#each says.says as said (said)}<p>{said}</p>{/each}
  {#if says.level === 3}<p class="halt">Do not start the engine or turn it over.</p>{/if}
  {#if says.rates.length}
    <table class="plain-table">
      <thead
        ><tr
          ><th>Found</th><th>On the whole</th><th>Per 100 {unit}</th><th>Usual here</th><th>Its class</th></tr
        ></thead
      >
      <tbody>
        {#each says.rates as r (r.type)}
          <tr>
            <td>{wordsOf(TERMS.debris_types, r.type)}</td>
            <td class="figure">{computed(r.whole.value)}</td>
            <td class="figure"
              >{r.per_100
                ? `${computed(r.per_100.value)} (${computed(r.per_100.low)} to ${computed(r.per_100.high)})`
                : '–'}</td
            >
            <td class="figure"
              >{r.own === null ? '–' : computed(r.own)}{r.word && r.own !== null ? `, ${r.word}` : ''}</td
            >
            <td class="figure">{r.others === null ? '–' : computed(r.others)}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    <p class="muted">
      {says.hours === null
        ? 'Without the meter, or since when it gathered, there is no rate.'
        : `It gathered for ${computed(says.hours)} ${unit}.`} Ranges are 95 %, of the count alone.
    </p>
  {/if}
  {#if says.clears_iron_only}<p class="muted">
      Nothing magnetic clears iron and steel only: bearings, pistons and bushes do not answer a magnet.
    </p>{/if}
  {#if says.parts.length}
    <h3>Can come from</h3>
    <ul>
      {#each says.parts as p (p.code)}<li>{p.words} <span class="muted">{p.why.join(', ')}</span></li>{/each}
    </ul>
  {/if}
  {#if says.checks.length && says.level > 0}
    <h3>Look at next</h3>
    <ul>
      {#each says.checks as c (c.code)}<li>
          {c.words} <span class="muted">{c.at}. {c.caution}</span>
        </li>{/each}
    </ul>
  {/if}
  {#if says.keep}
    <p>
      <b>Keep the pieces</b>, unwashed, in a bag.
      {#if bag}<a href={bag} target="_blank" rel="noreferrer">Label for the bag</a>{:else}<span class="muted"
          >The label can be printed when the look is saved.</span
        >{/if}
    </p>
  {/if}
</section>

<style>
  .says {
    display: grid;
    gap: 8px;
    align-content: start;
  }
  .head {
    display: flex;
    gap: 12px;
    align-items: center;
  }
  .level {
    font-size: 22px;
  }
  h3 {
    font-size: 14px;
    color: var(--muted);
  }
  li {
    padding: 3px 0;
  }
  .halt {
    border-left: 4px solid var(--stop);
    padding-left: 10px;
  }
  table {
    font-size: 13px;
  }
</style>
