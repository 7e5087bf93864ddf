<script lang="ts">
  import type { Schemas } from '../api/client';

  interface Props {
    faults: readonly Schemas['KnownFaultOut'][];
  }
  let { faults }: Props = $props();
  const mine = $derived(faults.filter((f) => f.meets !== 'no'));
  const SAID = {
    all: 'of every engine of this model',
    yes: 'its serial number is in that range',
    ask: 'its serial number is not on record: look at the plate',
    no: '',
  };
</script>

{#if mine.length}
  <ul aria-label="Known of this model">
    {#each mine as f (f.words)}
      <li>
        {#if f.meets === 'yes'}<b>{f.words}</b>{:else}{f.words}{/if}
        <span class="muted">({SAID[f.meets]})</span>
      </li>
    {/each}
  </ul>
{/if}

<style>
  ul {
    margin: 2px 0;
    padding-left: 18px;
    font-size: 13.5px;
  }
</style>
