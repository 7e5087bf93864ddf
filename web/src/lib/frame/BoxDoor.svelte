<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body } from '../api/client';
  import { useBox } from '../api/queries';

  interface Props {
    /** Also where there is nothing in it yet. */
    offered?: boolean;
  }
  let { offered = true }: Props = $props();

  const client = useQueryClient();
  const act = new Act(client);
  const box = useBox();
  const b = $derived(box.data);
  const want = (what: 'fill' | 'empty') =>
    act.run(async () => {
      const now = await body(api.POST('/api/box', { body: { want: what } }));
      client.setQueryData(['box'], now);
    });
  const shut = $derived(b?.state === 'none' || b?.state === 'closed' || b?.state === 'failed');
</script>

{#if b && b.state !== 'absent' && !b.mine && (offered || b.state !== 'none')}
  {#if b.state === 'ready'}
    <a class="press" href={b.address}>Open the demo's box</a>
    <button class="press" disabled={act.busy} onclick={() => void want('empty')}>Empty the box</button>
  {:else if shut}
    <button class="press" disabled={act.busy} onclick={() => void want('fill')}
      >{b.state === 'closed'
        ? "Open the demo's box again"
        : "Show me the demo's data, in a box of its own"}</button
    >
    {#if b.state === 'closed'}<button class="press" disabled={act.busy} onclick={() => void want('empty')}
        >Empty the box</button
      >{/if}
    {#if b.state === 'failed'}<span role="alert" class="caution">The box was not filled: {b.said}</span>{/if}
  {:else}
    <span role="status"
      >{b.state === 'filling' ? 'Filling the box, under a minute…' : 'Emptying the box…'}</span
    >
  {/if}
  {#if act.wrong}<span role="alert" class="caution">{act.wrong}</span>{/if}
{/if}

<style>
  a.press {
    text-decoration: none;
    display: inline-block;
  }
</style>
