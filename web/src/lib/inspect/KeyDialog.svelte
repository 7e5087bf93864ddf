<script lang="ts">
  import Modal from '../controls/Modal.svelte';
  import { capital, TERMS, wordsOf } from '../terms';
  import Timer from '../controls/Timer.svelte';
  import { endsIn, FIRST, question, type Answer } from './key';

  interface Props {
    onclose: () => void;
    onfound: (type: string) => void;
  }
  let { onclose, onfound }: Props = $props();

  let path = $state<Answer[]>([]);
  const step = $derived(path.at(-1)?.next ?? FIRST);
  const last = $derived(path.at(-1));
  const found = $derived(last ? endsIn(last) : null);
  const q = $derived(question(step));
</script>

<Modal open title="What is it?" {onclose}>
  <div class="key">
    {#each path as a (a.step)}
      <p class="muted">{question(a.step).words} <b>{capital(a.answer)}.</b> {a.says}</p>
    {/each}
    {#if found}
      <h2>{capital(wordsOf(TERMS.debris_types, found))}</h2>
      <p>{TERMS.debris_types.find((t) => t.code === found)?.hint}</p>
      <button class="press first" onclick={() => onfound(found)}>One of these into the tray</button>
    {:else}
      <h2>{q.words}</h2>
      <p class="muted">{q.how}</p>
      {#each q.answers as a (a.answer)}
        <button class="press" onclick={() => (path = [...path, a])}>{capital(a.answer)}</button>
      {/each}
    {/if}
    <details>
      <summary>Simple tests at the bench</summary>
      {#each TERMS.debris_tests as t (t.code)}
        <p><b>{t.words}.</b> {t.how} <span class="muted">{t.says}</span></p>
        {#if t.minutes}<Timer minutes={t.minutes} what={t.words} />{/if}
      {/each}
    </details>
    {#if path.length}<button class="plain" onclick={() => (path = path.slice(0, -1))}>One step back</button
      >{/if}
  </div>
</Modal>

<style>
  .key {
    display: grid;
    gap: 8px;
  }
  .press {
    min-height: 48px;
    text-align: left;
  }
  summary {
    cursor: pointer;
    min-height: 44px;
    padding: 10px 0;
  }
  .plain {
    min-height: 44px;
    justify-self: start;
  }
</style>
