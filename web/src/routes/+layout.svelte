<script lang="ts">
  import { goto } from '$app/navigation';
  import { QueryClient, QueryClientProvider } from '@tanstack/svelte-query';
  import { onDestroy, type Snippet } from 'svelte';
  import '../app.css';
  import { follow } from '$lib/api/queries';
  import Frame from '$lib/frame/Frame.svelte';
  import { onKeydown, useKeys } from '$lib/frame/keys';
  import { startMode } from '$lib/frame/mode';
  import { onClick, onPointerdown } from '$lib/frame/press';

  interface Props {
    children: Snippet;
  }
  let { children }: Props = $props();

  startMode();
  const client = new QueryClient();
  onDestroy(follow(client));
  useKeys(
    {
      'g w': () => void goto('/wall'),
      'g c': () => void goto('/collect'),
      'g j': () => void goto('/judge'),
      'g r': () => void goto('/run'),
      'g i': () => void goto('/inspect'),
      'g p': () => void goto('/plan'),
      'g x': () => void goto('/exchange'),
    },
    [
      {
        keys: 'g w · g c · g j · g i · g p · g r · g x',
        does: 'Wall · Collect · Judge · Inspect · Plan · Run · Exchange',
      },
      { keys: '/', does: 'find an engine or a sample' },
      { keys: '?', does: 'these keys' },
    ],
  );
</script>

<svelte:window onkeydown={onKeydown} onpointerdowncapture={onPointerdown} onclickcapture={onClick} />

<QueryClientProvider {client}>
  <Frame>{@render children()}</Frame>
</QueryClientProvider>
