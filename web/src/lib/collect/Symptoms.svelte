<script lang="ts">
  import { TERMS } from '../terms';
  import { LEVELS } from '../words';

  interface Props {
    part: string;
  }
  let { part = $bindable() }: Props = $props();
  const chosen = $derived(TERMS.symptoms.find((s) => s.code === part));
</script>

<div class="chips" role="group" aria-label="What">
  {#each chosen ? [chosen] : TERMS.symptoms as s (s.code)}
    <button
      type="button"
      class="press"
      class:halt={s.level === 3}
      aria-pressed={part === s.code}
      onclick={() => (part = s.code)}>{s.words}</button
    >
  {/each}
  {#if chosen}<button type="button" class="press" onclick={() => (part = '')}>Something else</button>{/if}
</div>
{#if chosen?.level}
  <p aria-live="polite">
    <b>This raises the engine to {LEVELS[chosen.level]} by itself.</b>
    {#if chosen.level === 3}Nobody starts it then; only a signed release lifts it.{/if}
  </p>
{/if}

<style>
  .chips {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .press {
    min-height: 48px;
  }
  .press.halt {
    border-left: 4px solid var(--stop);
  }
  .press[aria-pressed='true'] {
    box-shadow: inset 0 -4px 0 var(--ink);
    font-weight: 650;
  }
</style>
