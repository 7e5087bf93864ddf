<script lang="ts">
  import Amount from '../controls/Amount.svelte';
  import { mine } from '../mine.svelte';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { api, ApiError, body, once, type Schemas, UNKNOWN } from '../api/client';
  import { refresh } from '../api/queries';
  import TwoLines from '../state/TwoLines.svelte';
  import { capital } from '../terms';
  import { dayYear } from '../words';

  type Wanted = 'hold' | 'restrict' | 'release';
  interface Props {
    row: Schemas['RunRow'];
    person: Schemas['Person'] | null;
  }
  let { row, person }: Props = $props();

  const client = useQueryClient();
  let wanted = $state<Wanted | null>(null);
  const blank = () => ({ reason: '', found: '', done: '', until: null as number | null, until_on: '' });
  let form = $state(blank());
  let became = $state<Record<string, 'renewed' | 'left'>>({});
  const of = (finding: string) =>
    became[finding] ?? (row.closing.find((x) => x.finding === finding)?.renewed ? 'renewed' : '');
  const chosen = (what: string) => row.closing.map((x) => x.finding).filter((f) => of(f) === what);
  let busy = $state(false);
  let wrong = $state('');
  let said = $state('');
  const releaser = $derived(person?.role === 'releaser' || person?.role === 'admin');
  const WORDS: Record<Wanted, string> = { hold: 'Do not run', restrict: 'Runs for a time', release: 'Runs' };
  const stops = $derived(row.state.reasons.filter((r) => r.level === 3));
  const lifts = $derived(wanted === 'hold' ? [] : row.state.reasons.map((r) => r.key));
  const lacking = $derived(
    !wanted ||
      (wanted === 'release' && row.closing.some((x) => !of(x.finding))) ||
      (wanted === 'restrict' && form.until === null && !form.until_on) ||
      (wanted !== 'hold' && stops.length
        ? !form.found.trim() || !form.done.trim()
        : !form.reason.trim() && !form.found.trim()),
  );

  export function want(what: Wanted) {
    if (what === 'hold' || releaser) wanted = what;
  }

  async function sign(event: SubmitEvent) {
    event.preventDefault();
    if (!wanted || lacking) return;
    busy = true;
    wrong = '';
    try {
      const sent = {
        ...form,
        state: wanted,
        until: wanted === 'restrict' ? form.until : null,
        until_on: wanted === 'restrict' && form.until_on ? form.until_on : null,
        lifts,
        supersedes: row.decision,
        renewed: wanted === 'release' ? chosen('renewed') : [],
        left: wanted === 'release' ? chosen('left') : [],
      };
      await body(
        api.POST('/api/engines/{code}/run', {
          params: { path: { code: row.code }, header: once(`run ${row.code}`, sent) },
          body: sent,
        }),
      );
      said = `Signed: ${row.code} ${WORDS[wanted].toLowerCase()}.`;
      wanted = null;
      form = blank();
    } catch (error) {
      wrong = error instanceof ApiError ? error.message : UNKNOWN;
    }
    await refresh(client);
    busy = false;
  }
</script>

<form onsubmit={sign} class="decide" aria-label="Decide on {row.code}">
  <TwoLines state={row.state} />
  {#if row.state.run?.found}
    <p class="muted">
      {row.state.run.by}, {dayYear(row.state.run.on)}. Found: {row.state.run.found} Done: {row.state.run.done}
    </p>
  {/if}
  {#if row.clears}<p class="muted">Cleared by: {row.clears.toLowerCase()}.</p>{/if}
  <div class="ways" role="group" aria-label="Decision">
    <button type="button" class="press" aria-pressed={wanted === 'hold'} onclick={() => want('hold')}
      >Hold: do not run</button
    >
    <button
      type="button"
      class="press"
      aria-pressed={wanted === 'restrict'}
      disabled={!releaser}
      onclick={() => want('restrict')}>Let it run for a time…</button
    >
    <button
      type="button"
      class="press"
      aria-pressed={wanted === 'release'}
      disabled={!releaser}
      onclick={() => want('release')}>Release: runs</button
    >
    {#if row.state.may_run === 'do_not_run'}<a href="/run/tag/{encodeURIComponent(row.code)}">Print the tag</a
      >{/if}
  </div>
  {#if !releaser}
    <p class="muted">
      Anyone may hold an engine. Releasing takes a releaser{person ? `; you are ${person.role}` : ''}.
    </p>
  {/if}
  {#if wanted}
    {#if wanted !== 'hold' && stops.length}
      <p class="care">
        {wanted === 'release' ? 'This lifts' : 'This permits it in spite of'}: {stops
          .map((r) => r.words)
          .join(' ')} Only when an inspection has found the cause and the maker's manual and local rules allow it.
        Passenger and lifting machines: the licensed person decides.
      </p>
      {#if wanted === 'release' && row.closing.length}
        <fieldset>
          <legend>The engine is in pieces. What became of each part that was not sound?</legend>
          {#if row.closing.length > 1}
            <button
              type="button"
              class="press"
              onclick={() => {
                for (const part of row.closing) became[part.finding] = 'renewed';
              }}>All of them renewed or put right</button
            >
          {/if}
          {#each row.closing as part (part.finding)}
            <div class="part" role="group" aria-label={part.words}>
              <span>{capital(part.words)}</span>
              <button
                type="button"
                class="press"
                aria-pressed={of(part.finding) === 'renewed'}
                onclick={() => (became[part.finding] = 'renewed')}>Renewed or put right</button
              >
              <button
                type="button"
                class="press"
                aria-pressed={of(part.finding) === 'left'}
                onclick={() => (became[part.finding] = 'left')}>Left as it is</button
              >
            </div>
          {/each}
        </fieldset>
      {/if}
      <label>What was found <input class="field" bind:value={form.found} maxlength="2000" required /></label>
      <label>What was done <input class="field" bind:value={form.done} maxlength="2000" required /></label>
    {/if}
    {#if wanted === 'restrict'}
      <Amount
        label="Until meter"
        unit={row.unit}
        hint={row.dial === null ? '' : `now ${mine.plain(row.dial, row.unit)}`}
        least={row.dial ?? 0}
        bind:value={form.until}
      />
      <label>Until the end of <input class="field" type="date" bind:value={form.until_on} /></label>
    {/if}
    <label
      >Reason, signed with your name <input
        class="field"
        bind:value={form.reason}
        maxlength="2000"
        required={wanted === 'hold' || !stops.length}
      /></label
    >
    <button class="press first" disabled={busy || lacking}
      >Sign: {row.code} {WORDS[wanted].toLowerCase()}{person ? `, ${person.name}` : ''}</button
    >
  {/if}
  {#if wrong}<p role="alert" class="care">{wrong}</p>{/if}
  <p role="status">{said}</p>
</form>

<style>
  .decide {
    display: grid;
    gap: 8px;
    padding: 8px 12px 14px;
    border-left: 4px solid var(--ink);
    background: var(--paper-raised);
    max-width: 860px;
  }
  .ways {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
  }
  .press {
    min-height: 44px;
  }
  .press[aria-pressed='true'] {
    box-shadow: inset 0 -4px 0 var(--ink);
    font-weight: 650;
  }
  fieldset {
    border: 1px solid var(--line);
    padding: 4px 10px 8px;
  }
  .part {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
    padding: 3px 0;
  }
  .part span {
    flex: 1 1 260px;
  }
  label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
    max-width: 560px;
  }
  .field {
    min-height: 44px;
  }
  .care {
    border-left: 4px solid var(--act);
    padding-left: 8px;
  }
</style>
