<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body } from '../api/client';
  import { useProgramKeys } from '../api/queries';
  import { dayYear } from '../words';

  const act = new Act(useQueryClient());
  const keys = useProgramKeys();
  const open = $derived(keys.data?.filter((k) => !k.ended_at && !k.over) ?? []);
  let name = $state('');
  let reads = $state(false);
  let last_day = $state('');
  let made = $state('');

  async function make(event: SubmitEvent) {
    event.preventDefault();
    const done = await act.run(async () => {
      const key = await body(api.POST('/api/keys', { body: { name, reads, last_day: last_day || null } }));
      made = key.key;
    });
    if (done) [name, reads, last_day] = ['', false, ''];
  }
  const end = (key: number) =>
    act.run(() => body(api.DELETE('/api/keys/{key}', { params: { path: { key } } })), 'Ended.');
</script>

<details class="programs">
  <summary>Programs that bring reports in</summary>
  <p class="muted">
    A program brings reports in with a key of its own, under the name of the program and yours; it reads only
    where you say so, and signs and decides nothing. What it cannot bring in by itself waits above. <code
      >./keen watch DIR</code
    > does the same for a folder.
  </p>
  <form onsubmit={make}>
    <label
      >Which program <input
        class="field"
        required
        maxlength="60"
        bind:value={name}
        placeholder="mail of the laboratory"
      /></label
    >
    <label>Its last day <input class="field" type="date" bind:value={last_day} /></label>
    <label class="also"><input type="checkbox" bind:checked={reads} /> It may read, too</label>
    <button class="press" disabled={act.busy}>Make a key</button>
  </form>
  <p class="muted">Without a day it ends in a year.</p>
  {#if made}
    <p role="status">
      <b>Shown once, write it down now:</b> <code class="key">{made}</code><br />
      <span class="muted"
        >curl -H "Authorization: Bearer …" --data-binary @report.csv "{location.origin}/api/exchange/arrived?name=report.csv"</span
      >
    </p>
  {/if}
  {#if open.length}
    <ul>
      {#each open as k (k.id)}
        <li>
          {k.name}
          <span class="muted"
            >{k.reads ? 'reads and brings reports in' : 'brings reports in'}, until {dayYear(k.last_day)},
            since {dayYear(k.made_at)}, {k.used_at ? `used ${dayYear(k.used_at)}` : 'not used yet'}</span
          >
          <button class="press" disabled={act.busy} onclick={() => void end(k.id)}>End it</button>
        </li>
      {/each}
    </ul>
  {/if}
  {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
</details>

<style>
  .programs {
    display: grid;
    gap: 8px;
  }
  form,
  li {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: end;
  }
  .key {
    overflow-wrap: anywhere;
  }
  code {
    background: var(--paper-side);
    color: inherit;
  }
</style>
