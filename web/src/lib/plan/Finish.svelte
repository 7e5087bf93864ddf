<script lang="ts">
  import Amount from '../controls/Amount.svelte';
  import { mine } from '../mine.svelte';
  import { useStop } from '../api/queries';
  import { TERMS } from '../terms';
  import { wayOf, type Line, type Task } from './plan';

  interface Props {
    line: Line;
    task: Task;
    busy: boolean;
    ondone: (given: { dial: number | null; sample: string; said: string }) => Promise<boolean>;
  }
  let { line, task, busy, ondone }: Props = $props();

  const stop = useStop(() => line.code);
  let dial = $state<number | null>(null);
  let typed = $state<string | null>(null);
  const sample = $derived(typed ?? (stop.data ? String(stop.data.next_label) : ''));
  const check = $derived(TERMS.field_checks.find((x) => x.code === task.code));
  const expected = $derived(stop.data?.expected ?? null);
  const say = (said = '') => void ondone({ dial, sample: task.quick === 'bottle' ? sample : '', said });
</script>

<form
  aria-label="It is done"
  onsubmit={(e) => {
    e.preventDefault();
    if (task.quick !== 'result') say();
  }}
>
  {#if task.quick === 'oil'}<p>
      Changed today{stop.data?.oil ? `, with ${stop.data.oil} again` : ''}; litres stay unknown.
    </p>{/if}
  {#if task.quick === 'bottle'}<label
      >Number on the bottle
      <input
        class="field"
        value={sample}
        oninput={(e) => (typed = e.currentTarget.value)}
        required
        maxlength="60"
      /></label
    >{/if}
  <Amount
    label="Meter"
    unit={line.unit}
    hint={expected === null ? '' : `about ${mine.plain(expected, line.unit)} expected`}
    bind:value={dial}
    required={task.quick === 'bottle'}
  />
  {#if task.quick === 'result'}
    <div class="row" role="group" aria-label="What came of it">
      {#each check?.results ?? [] as r (r.code)}<button
          type="button"
          class="press"
          disabled={busy}
          onclick={() => say(r.code)}>{r.words}</button
        >{/each}
    </div>
  {:else}
    <button class="press first" disabled={busy}
      >{task.quick === 'oil'
        ? 'Oil changed'
        : task.quick === 'bottle'
          ? 'Bottle drawn'
          : 'Nothing was there'}</button
    >
  {/if}
  <a href={wayOf(line.code, task)}
    >{task.quick === 'nothing' ? 'Something was there: count it' : 'More to say: the whole form'}</a
  >
</form>

<style>
  form {
    display: grid;
    gap: 8px;
    border-left: 3px solid var(--due);
    padding-left: 10px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .press {
    min-height: 44px;
  }
</style>
