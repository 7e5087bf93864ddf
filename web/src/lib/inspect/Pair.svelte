<script lang="ts">
  import type { Schemas } from '../api/client';
  import { dayYear } from '../words';
  import Measure from './Measure.svelte';

  type Picture = Omit<Schemas['OwnPicture'], 'taken_by'>;
  interface Other {
    picture: Picture;
    words: string;
    on?: string;
  }
  interface Props {
    picture: Picture;
    words: string;
    others: Other[];
  }
  let { picture, words, others }: Props = $props();
  let beside = $state('');
  const other = $derived(others.find((o) => o.picture.id === beside));
</script>

<div class="pair" class:two={other}>
  {#key picture.id}<Measure {picture} {words} />{/key}
  {#if other}{#key other.picture.id}<Measure
        picture={other.picture}
        words={other.on ? `${dayYear(other.on)}, ${other.words}` : other.words}
        open={false}
      />{/key}{/if}
</div>
{#if others.length}
  <h2>Lay another beside it</h2>
  <div class="strip" role="group" aria-label="Pictures to lay beside">
    {#each others as o (o.picture.id)}
      <button
        type="button"
        aria-pressed={o.picture.id === beside}
        onclick={() => (beside = beside === o.picture.id ? '' : o.picture.id)}
        ><img src="/api/photos/{o.picture.sha256}/small" alt="" />{o.on ? dayYear(o.on) : o.words}</button
      >
    {/each}
  </div>
{/if}

<style>
  .pair.two {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 12px;
  }
  @media (max-width: 900px) {
    .pair.two {
      grid-template-columns: 1fr;
    }
  }
</style>
