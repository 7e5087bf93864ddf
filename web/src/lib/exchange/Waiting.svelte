<script lang="ts">
  import { goto } from '$app/navigation';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body } from '../api/client';
  import { useArrived } from '../api/queries';
  import { dayYear } from '../words';

  const act = new Act(useQueryClient());
  const arrived = useArrived();
  const path = (file: number) => ({ params: { path: { file } } });
  const look = (file: number) =>
    act.run(async () => {
      const { token } = await body(api.POST('/api/exchange/waiting/{file}/open', path(file)));
      await goto(`/exchange/read?file=${token}`);
    });
  const done = (file: number) =>
    act.run(() => body(api.POST('/api/exchange/waiting/{file}/done', path(file))), 'Taken off the list.');
</script>

{#if arrived.data?.length}
  <section aria-label="Waiting for a person">
    <h2>Sent by a program, waiting for a person</h2>
    <p class="muted">
      Nothing of these is written. Look at one as it would be read, or take it off the list.
    </p>
    <ul>
      {#each arrived.data as a (a.id)}
        <li>
          <b>{a.name}</b> <span class="muted">{a.sent_by}, {dayYear(a.sent_at)}</span>
          <span>{a.why}</span>
          <button class="press" disabled={act.busy} onclick={() => void look(a.id)}>Look at it</button>
          <button class="press" disabled={act.busy} onclick={() => void done(a.id)}>Done with it</button>
        </li>
      {/each}
    </ul>
    {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
  </section>
{/if}

<style>
  section,
  ul {
    display: grid;
    gap: 8px;
  }
  li {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    align-items: center;
    border-left: 4px solid var(--due);
    padding-left: 10px;
  }
</style>
