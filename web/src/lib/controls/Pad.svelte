<script lang="ts">
  import { press } from '../collect/register';

  interface Props {
    typed: string;
  }
  let { typed = $bindable() }: Props = $props();
  const KEYS = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '←', '0', '.'];
  const WORDS: Record<string, string> = { '←': 'back', '.': 'point' };
</script>

<div class="pad" role="group" aria-label="Number pad">
  {#each KEYS as key (key)}
    <button
      type="button"
      class="figure"
      aria-label={WORDS[key] ?? key}
      onclick={() => (typed = press(typed, key))}
    >
      {key}
    </button>
  {/each}
</div>

<style>
  .pad {
    display: grid;
    grid-template-columns: repeat(3, 1fr);
    gap: 6px;
  }
  button {
    min-height: 56px;
    font-size: 22px;
    background: var(--paper-raised);
    border: 1px solid var(--edge);
    border-radius: 3px;
    touch-action: manipulation;
    cursor: pointer;
  }
  button:active {
    background: var(--paper-side);
  }
</style>
