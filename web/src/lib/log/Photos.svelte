<script lang="ts">
  import type { Schemas } from '../api/client';
  import { day } from '../words';

  interface Props {
    photos: Schemas['PhotoOut'][];
  }
  let { photos }: Props = $props();

  // Spots of the blotter are read beside this engine's earlier ones, so they stand together, oldest first.
  const spots = $derived(photos.filter((p) => p.part === 'blotter'));
  const others = $derived(photos.filter((p) => p.part !== 'blotter').toReversed());
</script>

{#snippet picture(p: Schemas['PhotoOut'])}
  <figure>
    <a href="/api/photos/{p.sha256}" target="_blank" rel="noreferrer"
      ><img
        src="/api/photos/{p.sha256}"
        alt={p.caption || `${p.sample ?? p.kind.replace('_', ' ')}, ${day(p.on_date)}`}
        loading="lazy"
      /></a
    >
    <figcaption>
      {day(p.on_date)}
      {p.sample ? `bottle ${p.sample}` : p.result.replace('_', ' ')}
      {p.caption}
    </figcaption>
  </figure>
{/snippet}

{#if photos.length}
  <section aria-label="Photographs">
    <h2>Photographs</h2>
    {#if spots.length}
      <p class="muted">Blotter spots, oldest first: compare only with each other.</p>
      <div class="row">
        {#each spots as p (p.sha256)}{@render picture(p)}{/each}
      </div>
    {/if}
    <div class="row">
      {#each others as p (p.sha256)}{@render picture(p)}{/each}
    </div>
  </section>
{/if}

<style>
  section {
    display: grid;
    gap: 6px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
  }
  img {
    height: 130px;
    border: 1px solid var(--line);
  }
  figcaption {
    font-size: 12.5px;
    color: var(--muted);
  }
</style>
