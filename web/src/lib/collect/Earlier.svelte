<script lang="ts">
  import { useLogbook } from '../api/queries';
  import Photos from '../log/Photos.svelte';

  interface Props {
    engine: string;
  }
  let { engine }: Props = $props();

  const book = useLogbook(() => engine);
  const spots = $derived(book.data?.photos.filter((p) => p.part === 'blotter') ?? []);
</script>

{#if spots.length}<Photos photos={spots} />{:else}<p class="muted">
    No earlier spot of this engine to compare with.
  </p>{/if}
