<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { usePlans, useTightened } from '../api/queries';
  import Amount from '../controls/Amount.svelte';
  import { mine } from '../mine.svelte';
  import { capital, choices, wordsOf } from '../terms';
  import { computed } from '../words';

  interface Props {
    engine: string;
    unit: string;
  }
  let { engine, unit }: Props = $props();

  const act = new Act(useQueryClient());
  const plans = usePlans(() => engine);
  const rule = useTightened();
  type Plan = Schemas['PlanBody'];
  let edited = $state<Plan[] | null>(null);
  // What stood when the change began: of two people one learns of the other.
  let seen = $state<Plan[] | null>(null);
  const shown = $derived(edited ?? plans.data?.plans ?? []);
  const KINDS = choices('plan_kinds');
  const WITH_FIGURE: string[] = ['meter', 'days', 'after_repair'];
  const SAID: Record<string, string> = {
    points: '25000 50000 100000',
    season: '11-15',
    sessions: 'training 4, race 1',
  };
  const left = $derived(KINDS.filter((k) => !shown.some((p) => p.kind === k.code)));

  const edit = (does: (p: Plan[]) => Plan[]) => {
    if (!edited) seen = plans.data?.plans ?? null;
    edited = does(shown.map((p) => ({ ...p })));
  };
  const change = (n: number, what: Partial<Plan>) =>
    edit((all) => all.map((p, at) => (at === n ? { ...p, ...what } : p)));
  async function save(event: SubmitEvent) {
    event.preventDefault();
    const done = await act.run(
      () =>
        body(
          api.PUT('/api/engines/{code}/plans', {
            params: { path: { code: engine } },
            body: { plans: shown, seen },
          }),
        ),
      'Plans kept.',
    );
    if (done) edited = null;
  }

  let watch = $state<number | null>(null);
  let actShare = $state<number | null>(null);
  async function saveRule() {
    if (!rule.data) return;
    const next = { watch: watch ?? rule.data.watch, act: actShare ?? rule.data.act, origin: '' };
    const done = await act.run(() => body(api.PUT('/api/tightened', { body: next })), 'Rule kept.');
    if (done) watch = actShare = null;
  }
</script>

<section aria-label="Sampling plans">
  <h2>Sampling plans</h2>
  <form onsubmit={save}>
    {#each shown as p, n (p.kind)}
      {@const word = wordsOf(KINDS, p.kind)}
      <div class="row">
        {#if !WITH_FIGURE.includes(p.kind)}<span class="what">{word}</span>{/if}
        {#if WITH_FIGURE.includes(p.kind)}
          <Amount
            label={word}
            unit={p.kind === 'days' ? '' : unit}
            required
            bind:value={() => p.every ?? null, (every) => change(n, { every })}
          />
        {/if}
        {#if SAID[p.kind]}
          <label
            ><span class="sr-only">{word}, which</span>
            <input
              class="field"
              maxlength="60"
              placeholder={SAID[p.kind]}
              value={p.said}
              oninput={(e) => change(n, { said: e.currentTarget.value })}
            /></label
          >
        {/if}
        <select
          class="field"
          aria-label="How, {word}"
          value={p.method ?? ''}
          onchange={(e) => change(n, { method: e.currentTarget.value as Plan['method'] })}
        >
          <option value="">the engine's usual way</option>
          {#each choices('methods') as m (m.code)}<option value={m.code}>{m.words}</option>{/each}
        </select>
        <button
          type="button"
          class="press"
          aria-label="Remove {word}"
          onclick={() => edit((all) => all.toSpliced(n, 1))}>Remove</button
        >
      </div>
    {:else}
      <p class="muted">
        This engine has no plan of its own. It follows the two intervals of the fleet record.
      </p>
    {/each}
    <div class="row">
      {#each left as k (k.code)}<button
          type="button"
          class="press"
          onclick={() => edit((all) => [...all, { kind: k.code, every: null, method: '', said: '' }])}
          >+ {k.words}</button
        >{/each}
    </div>
    {#if edited}<div class="row">
        <button class="press first" disabled={act.busy}>Keep these plans</button>
        <button type="button" class="press" onclick={() => (edited = null)}>Leave as they were</button>
      </div>{/if}
  </form>
  {#if plans.data}
    {@const i = plans.data.interval}
    <p class="muted">
      At most every {mine.says(i.most, unit)}: faults of this class take about {computed(i.drains)} oil changes
      of
      {mine.says(i.drain, unit)}, {mine.says(i.takes, unit)}, from the first sign to a failure, and three
      samples should lie between.
    </p>
    {#if plans.data.slate.length}
      <details>
        <summary>What to ask the laboratory for now, beside metals and viscosity</summary>
        {#each plans.data.slate as t (t.words)}<p>
            <b>{capital(t.words)}</b>: <span class="muted">{t.why}</span>
          </p>{/each}
      </details>
    {/if}
  {/if}
  {#if rule.data}
    <p class="row">
      <span class="what">While an engine is raised, plans by meter and by days shrink to</span>
      <label
        ><input
          class="field short"
          type="number"
          step="0.05"
          min="0.05"
          max="1"
          value={watch ?? rule.data.watch}
          oninput={(e) => (watch = e.currentTarget.valueAsNumber)}
          aria-label="Share at Watch"
        /> of the interval at Watch,</label
      >
      <label
        ><input
          class="field short"
          type="number"
          step="0.05"
          min="0.05"
          max="1"
          value={actShare ?? rule.data.act}
          oninput={(e) => (actShare = e.currentTarget.valueAsNumber)}
          aria-label="Share at Act"
        /> at Act.</label
      >
      <span class="muted">For all engines; {rule.data.origin}.</span>
      {#if watch !== null || actShare !== null}<button
          class="press first"
          disabled={act.busy}
          onclick={() => void saveRule()}>Keep this rule</button
        >{/if}
    </p>
  {/if}
  {#if act.said}<p role="status">{act.said}</p>{/if}
  {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
</section>

<style>
  section {
    display: grid;
    gap: 6px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: end;
  }
  form {
    display: grid;
    gap: 10px;
  }
  .what {
    align-self: center;
  }
  .short {
    width: 84px;
  }
</style>
