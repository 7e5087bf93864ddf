<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { day } from '../words';

  interface Props {
    batches: Schemas['NewOilBatch'][];
    today: string;
  }
  let { batches, today }: Props = $props();

  const act = new Act(useQueryClient());
  let label = $state<Record<string, string>>({});
  const key = (b: Schemas['NewOilBatch']) => `${b.oil} ${b.grade} ${b.batch}`;

  const drawn = (b: Schemas['NewOilBatch']) =>
    act.run(
      () =>
        body(
          api.POST('/api/bottles/reference', {
            body: {
              id: crypto.randomUUID(),
              sample: label[key(b)] ?? '',
              oil: b.oil,
              grade: b.grade,
              batch: b.batch,
              on: today,
            },
          }),
        ),
      `Bottle ${label[key(b)]} holds fresh ${key(b)}.`,
    );
</script>

{#if batches.length || act.said || act.wrong}
  <section aria-label="New oil without fresh figures">
    <h2>New oil without fresh figures</h2>
    {#if act.said}<p role="status" class="said">{act.said}</p>{/if}
    {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
    {#each batches as b (key(b))}
      <form
        onsubmit={(e) => {
          e.preventDefault();
          void drawn(b);
        }}
      >
        <span
          ><b>{key(b)}</b>, filled in {b.fills}
          {b.fills === 1 ? 'time' : 'times'} since {day(b.first_used)}. Draw 100 mL from the drum.</span
        >
        <label
          >Bottle <input
            class="field"
            bind:value={label[key(b)]}
            required
            maxlength="60"
            aria-label="Bottle of fresh {key(b)}"
          /></label
        >
        <button class="press" disabled={act.busy}>Drawn</button>
      </form>
    {/each}
  </section>
{/if}

<style>
  section {
    display: grid;
    gap: 6px;
  }
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: center;
  }
  .field {
    width: 100px;
  }
  .press,
  .field {
    min-height: 44px;
  }
</style>
