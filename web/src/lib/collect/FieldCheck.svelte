<script lang="ts">
  import { TERMS } from '../terms';
  import { LEVELS } from '../words';

  interface Props {
    check: string;
    result: string;
  }
  let { check = $bindable(), result = $bindable() }: Props = $props();

  const chosen = $derived(TERMS.field_checks.find((c) => c.code === check));
  const said = $derived(chosen?.results.find((r) => r.code === result));
</script>

<div class="chips" role="group" aria-label="Which check">
  {#each TERMS.field_checks as c (c.code)}
    <button
      type="button"
      class="press"
      aria-pressed={check === c.code}
      onclick={() => {
        check = c.code;
        result = '';
      }}>{c.words}</button
    >
  {/each}
</div>
{#if chosen}
  <p class="caution">{chosen.caution}</p>
  <div class="chips" role="group" aria-label="What came of it">
    {#each chosen.results as r (r.code)}
      <button type="button" class="press" aria-pressed={result === r.code} onclick={() => (result = r.code)}
        >{r.words}</button
      >
    {/each}
  </div>
  {#if said}
    <p aria-live="polite">
      {said.meaning}
      {#if said.level}<b>This raises the engine to {LEVELS[said.level]} by itself.</b>{/if}
    </p>
  {/if}
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
  .press[aria-pressed='true'] {
    box-shadow: inset 0 -4px 0 var(--ink);
    font-weight: 650;
  }
</style>
