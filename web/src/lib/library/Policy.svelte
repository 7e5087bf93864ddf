<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { mine } from '../mine.svelte';
  import TryOut from './TryOut.svelte';

  interface Props {
    limits: Schemas['Limits'];
    scope: 'class' | 'engine';
    name: string;
  }
  let { limits: l, scope, name }: Props = $props();
  const act = new Act(useQueryClient());
  const chosen = $derived(l.policies[scope]?.[name] ?? (scope === 'class' ? l.default_policy : ''));

  // What is about to be chosen stands here until it is kept with a reason, or left.
  let wanted = $state('');
  let reason = $state('');
  let tried = $state<Schemas['TriedOut'] | null>(null);

  const leave = () => ([wanted, reason, tried] = ['', '', null]);
  const ask = (policy: string) =>
    act.run(async () => {
      leave();
      wanted = policy;
      if (policy && policy !== chosen)
        tried = await body(
          api.POST('/api/library/policy/try', { body: { scope, scope_name: name, policy, reason: '' } }),
        );
      else wanted = '';
    });
  async function choose(event: SubmitEvent) {
    event.preventDefault();
    const done = await act.run(async () => {
      await body(
        api.POST('/api/library/policy', { body: { scope, scope_name: name, policy: wanted, reason } }),
      );
    }, 'Chosen. The engines it bears on are judged again.');
    if (done) leave();
  }
  const longest = (said: string) =>
    act.run(async () => {
      await body(api.POST('/api/library/longest-drain', { body: { times: Number(said.replace(',', '.')) } }));
    }, 'Kept, for the whole site. Oil life is worked out anew when an engine is opened.');
  const count_in = (currency: string) =>
    act.run(async () => {
      await body(api.POST('/api/library/currency', { body: { currency } }));
    }, 'The currency is saved for the whole site. The amounts stay as they are.');
  const ask_second = (asked: boolean) =>
    act.run(async () => {
      await body(api.POST('/api/library/second-person', { body: { asked } }));
    }, 'Kept, for the whole site.');
</script>

<div class="row">
  <label
    >Who decides
    <select
      class="field"
      aria-label="Schools that decide"
      value={wanted || chosen}
      disabled={act.busy}
      onchange={(e) => void ask(e.currentTarget.value)}
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
  <label
    >Currency
    <input
      class="field short"
      maxlength="8"
      value={mine.currency}
      disabled={act.busy}
      onchange={(e) => void count_in(e.currentTarget.value)}
    /></label
  >
  <label class="tick"
    ><input
      type="checkbox"
      checked={l.second_person}
      disabled={act.busy}
      onchange={(e) => void ask_second(e.currentTarget.checked)}
    /> A Stop is lifted by a second person, who neither signed it nor did the work</label
  >
</div>
{#if tried}
  <form class="asked" onsubmit={choose}>
    <TryOut found={tried} />
    <label
      >Why these limits decide from now on <input
        class="field"
        required
        maxlength="500"
        bind:value={reason}
      /></label
    >
    <p>
      <button class="press" disabled={act.busy}>Let them decide</button>
      <button class="press" type="button" onclick={leave}>Leave it as it was</button>
    </p>
  </form>
{/if}

<style>
  .asked input {
    width: min(100%, 420px);
  }
  .asked {
    display: grid;
    gap: 8px;
  }
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
