<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';

  interface Props {
    limits: Schemas['Limits'];
    scope: 'class' | 'engine';
    name: string;
  }
  let { limits: l, scope, name }: Props = $props();
  const act = new Act(useQueryClient());
  const chosen = $derived(l.policies[scope]?.[name] ?? (scope === 'class' ? l.default_policy : ''));

  const choose = (policy: string) =>
    act.run(async () => {
      await body(api.POST('/api/library/policy', { body: { scope, scope_name: name, policy } }));
    }, 'Chosen. The engines it bears on are judged again.');
  const longest = (said: string) =>
    act.run(async () => {
      await body(api.POST('/api/library/longest-drain', { body: { times: Number(said.replace(',', '.')) } }));
    }, 'Kept, for the whole site. Oil life is worked out anew when an engine is opened.');
</script>

<div class="row">
  <label
    >Who decides
    <select
      class="field"
      aria-label="Schools that decide"
      value={chosen}
      disabled={act.busy}
      onchange={(e) => void choose(e.currentTarget.value)}
    >
      {#if scope === 'engine' && !chosen}<option value="">as its class</option>{/if}
      {#each Object.entries(l.policy_words) as [policy, words] (policy)}<option value={policy}
          >{words}{policy === l.default_policy ? ' (default)' : ''}</option
        >{/each}
    </select></label
  >
  {#if act.said}<span role="status" class="said">{act.said}</span>{/if}
  {#if act.wrong}<span role="alert">{act.wrong}</span>{/if}
  <label
    >Longest drain, nominal drains
    <input
      class="field short"
      inputmode="decimal"
      aria-label="Longest drain in nominal drains"
      value={l.longest_drain}
      disabled={act.busy}
      onchange={(e) => void longest(e.currentTarget.value)}
    /></label
  >
</div>

<style>
  .short {
    width: 64px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 14px;
    align-items: center;
  }
</style>
