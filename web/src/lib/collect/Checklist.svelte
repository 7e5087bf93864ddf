<script lang="ts">
  import type { Schemas } from '../api/client';
  import { choices, wordsOf } from '../terms';

  interface Props {
    stop: Schemas['Stop'];
  }
  let { stop }: Props = $props();
  const cautions = $derived(stop.steps.filter((s) => s.caution));
  const steps = $derived(stop.steps.filter((s) => !s.caution));
</script>

<div class="cautions" role="note" aria-label="Caution">
  {#each cautions as c (c.text)}<p>{c.text}</p>{/each}
</div>
<details>
  <summary>
    How to draw it: {wordsOf(choices('methods'), stop.method)}{stop.tube_mm
      ? `, tube ${(Math.ceil(stop.tube_mm / 10) / 100).toFixed(2)} m`
      : ''}
  </summary>
  {#each steps as s (s.text)}
    <label><input type="checkbox" /> {s.text}</label>
  {/each}
</details>

<style>
  .cautions {
    border-left: 5px solid var(--stop);
    background: var(--paper-side);
    padding: 6px 10px;
    font-size: 13.5px;
    display: grid;
    gap: 3px;
  }
  summary {
    min-height: 44px;
    display: flex;
    align-items: center;
    cursor: pointer;
    text-decoration: underline;
    text-decoration-color: var(--edge);
  }
  label {
    display: flex;
    gap: 10px;
    align-items: center;
    min-height: 44px;
    border-bottom: 1px solid var(--line);
  }
  input {
    width: 22px;
    height: 22px;
    flex: none;
  }
</style>
