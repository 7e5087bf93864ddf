<script lang="ts">
  import { useInbox, useState } from '$lib/api/queries';
  import NewOil from '$lib/bottles/NewOil.svelte';
  import Strays from '$lib/bottles/Strays.svelte';
  import WayTable from '$lib/bottles/WayTable.svelte';
  import Tabs from '$lib/collect/Tabs.svelte';
  import { dayYear } from '$lib/words';

  const inbox = useInbox();
  const now = useState();
  const i = $derived(inbox.data);
  const time = (iso: string) =>
    new Date(iso).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
</script>

<svelte:head><title>Bottles · Keen Tracer</title></svelte:head>

<main class="bottles">
  <Tabs />
  <h1>Bottles</h1>
  {#if inbox.isError}<p role="alert">{inbox.error.message}</p>{/if}
  {#if i}
    <Strays inbox={i} />
    <WayTable inbox={i} />
    {#if now.data?.queue}<p>
        Figures in, waiting to be judged by a person: <a href="/judge">{now.data.queue}</a>.
      </p>{/if}
    <NewOil batches={i.new_oil} today={i.today} />
    {#if i.orders.length}
      <section aria-label="At the simulated laboratory">
        <h2>At the simulated laboratory</h2>
        <ul>
          {#each i.orders.slice(0, 8) as o (o.id)}
            <li>
              {o.samples.length} bottle{o.samples.length === 1 ? '' : 's'}, {o.samples.join(', ')}:
              {#if o.returned_at}back {dayYear(o.returned_at)} {time(o.returned_at)}{:else}back about {dayYear(
                  o.due_at,
                )}
                {time(o.due_at)}{/if}
              <span class="muted">sent by {o.made_by}</span>
            </li>
          {/each}
        </ul>
      </section>
    {/if}
  {:else if !inbox.isError}<p class="muted">Reading…</p>{/if}
</main>

<style>
  .bottles {
    padding: 2px 18px 40px;
    max-width: 1000px;
    display: grid;
    gap: 14px;
    align-content: start;
  }
  section {
    display: grid;
    gap: 6px;
  }
</style>
