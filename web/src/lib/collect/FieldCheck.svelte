<script lang="ts">
  import { api, ApiError, body, type Schemas } from '../api/client';
  import { mine } from '../mine.svelte';
  import { TERMS } from '../terms';
  import { LEVELS } from '../words';
  import Details from './Details.svelte';
  import { detailsOf, filled } from './details';

  interface Props {
    engine: string;
    check: string;
    details: Record<string, string>;
  }
  let { engine, check = $bindable(), details = $bindable() }: Props = $props();

  const chosen = $derived(TERMS.field_checks.find((c) => c.code === check));
  const figures = $derived(detailsOf('field_check', check));
  const given = $derived(filled(details, figures));
  function choose(code: string) {
    check = code;
    // Pressures in the unit of who types them, unless another is chosen.
    const pressed = detailsOf('field_check', code).some((d) => d.name === 'pressure_unit');
    const mineIs = mine.unit('bar');
    details = pressed && mineIs !== 'bar' ? { pressure_unit: mineIs } : {};
  }
  let says = $state<Schemas['CheckSays'] | null>(null);
  let wrong = $state('');

  // What it will say is asked of the server, where the rule is: the form says it and then does it.
  $effect(() => {
    const sent = { ...given, ...(details['result'] ? { result: details['result'] } : {}) };
    const of = check;
    if (!of || !Object.keys(sent).some((k) => k !== 'pressure_unit')) {
      says = null;
      wrong = '';
      return;
    }
    let old = false;
    void body(
      api.POST('/api/engines/{code}/check', {
        params: { path: { code: engine } },
        body: { check: of, details: sent },
      }),
    ).then(
      (found) => {
        if (old) return;
        says = found;
        wrong = '';
      },
      (error: unknown) => {
        if (old) return;
        says = null;
        wrong = error instanceof ApiError && error.status === 422 ? error.message : '';
      },
    );
    return () => (old = true);
  });
</script>

<div class="chips" role="group" aria-label="Which check">
  {#each chosen ? [chosen] : TERMS.field_checks as c (c.code)}
    <button type="button" class="press" aria-pressed={check === c.code} onclick={() => choose(c.code)}
      >{c.words}</button
    >
  {/each}
  {#if chosen}<button type="button" class="press" onclick={() => choose('')}>Another check</button>{/if}
</div>
{#if chosen}
  <p class="caution">{chosen.caution}</p>
  <p class="muted">{chosen.at[0]?.toUpperCase()}{chosen.at.slice(1)}. Needs: {chosen.tools.toLowerCase()}.</p>
  {#if figures.length}<Details wanted={figures} bind:details />{/if}
  <div class="chips" role="group" aria-label="What came of it">
    {#each chosen.results as r (r.code)}
      <button
        type="button"
        class="press"
        aria-pressed={details['result'] === r.code}
        onclick={() => (details = { ...details, result: details['result'] === r.code ? '' : r.code })}
        >{r.words}</button
      >
    {/each}
  </div>
  {#if figures.length}<p class="muted">
      With figures the program says what came of it; without them choose it.
    </p>{/if}
  <p aria-live="polite">
    {#if says}
      {says.words}{says.figures ? `: ${says.figures}` : ''}{says.limit_from
        ? `, held against ${says.limit_from}`
        : ''}. {says.meaning}
      <b
        >{says.level
          ? `This raises the engine to ${LEVELS[says.level]} by itself.`
          : 'This raises nothing.'}</b
      >
    {/if}
  </p>
  {#if wrong}<p role="alert" class="caution">{wrong}</p>{/if}
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
