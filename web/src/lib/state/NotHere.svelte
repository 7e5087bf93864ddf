<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { capital } from '../terms';

  /** What would make a check impossible at this engine, asked where the check is offered and kept with the engine. */
  interface Props {
    engine: string;
    check: Schemas['CheckOut'];
  }
  let { engine, check }: Props = $props();
  const act = new Act(useQueryClient());

  const keep = () =>
    act.run(() =>
      body(
        api.POST('/api/engines/{code}/features', {
          params: { path: { code: engine } },
          body: { feature: check.lacks },
        }),
      ),
    );
</script>

{#if check.lacks}
  <details class="not-here">
    <summary>Not possible here?</summary>
    <button type="button" class="press" disabled={act.busy} onclick={keep}>
      {capital(check.lacks_words)}: keep it with {engine}
    </button>
    <p class="muted">
      The check is then no longer offered for this engine. You can undo this in the fleet record.
    </p>
    {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
  </details>
{/if}

<style>
  .not-here {
    font-size: 13px;
  }
  summary {
    cursor: pointer;
    min-height: 32px;
    padding: 6px 0;
  }
</style>
