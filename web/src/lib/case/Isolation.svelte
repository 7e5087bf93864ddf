<script lang="ts">
  import type { Schemas } from '../api/client';
  import { capital } from '../terms';

  type Entry = Omit<Schemas['NewCaseEntry'], 'id' | 'on'>;
  interface Props {
    isolation: Schemas['IsolationOut'];
    closed: boolean;
    busy: boolean;
    onadd: (entry: Entry) => Promise<boolean>;
  }
  let { isolation: i, closed, busy, onadd }: Props = $props();
</script>

<section aria-label="Where the coolant gets in" class="isolation forms">
  {#each i.done as d (d.words)}<p><span class="muted">{d.words}:</span> <b>{d.answer}</b></p>{/each}
  {#if i.step && !closed}
    <h3>{i.step.words}</h3>
    <p>{i.step.how}</p>
    <p class="caution">{i.step.caution}</p>
    <div class="chips" role="group" aria-label="What it showed">
      {#each i.step.results as r (r.code)}
        <button
          class="press"
          disabled={busy}
          onclick={() =>
            void onadd({ kind: 'step', hypothesis: '', said: i.step?.code ?? '', words: r.code })}
          >{capital(r.words)}</button
        >
      {/each}
    </div>
  {:else if i.done.length}<p class="muted">
      The way is found, or none of these is left: the balance above says what remains.
    </p>{/if}
</section>

<style>
  .isolation {
    display: grid;
    gap: 6px;
  }
  h3 {
    font-weight: 650;
  }
</style>
