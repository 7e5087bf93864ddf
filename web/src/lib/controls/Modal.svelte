<script lang="ts">
  import type { Snippet } from 'svelte';

  interface Props {
    open: boolean;
    title: string;
    /** Closed by its button, by Escape, or by a press beside it. */
    onclose: () => void;
    children: Snippet;
  }
  let { open, title, onclose, children }: Props = $props();
  let box = $state<HTMLDialogElement>();
  const id = $props.id();

  $effect(() => {
    if (open && !box?.open) box?.showModal();
    if (!open && box?.open) box.close();
  });
</script>

<dialog
  bind:this={box}
  aria-labelledby="{id}-title"
  onclose={() => open && onclose()}
  onclick={(e) => e.target === box && onclose()}
>
  <div class="inside">
    <h2 id="{id}-title">{title}</h2>
    {@render children()}
    <button class="press" onclick={onclose}>Close</button>
  </div>
</dialog>

<style>
  dialog {
    margin: auto;
    padding: 0;
    background: var(--paper-raised);
    color: var(--ink);
    border: 1px solid var(--ink);
    border-radius: 3px;
    min-width: min(420px, 92vw);
    max-width: min(720px, 92vw);
    max-height: 80vh;
    overflow: auto;
  }
  dialog::backdrop {
    background: #12181c99;
  }
  .inside {
    padding: 18px;
    display: grid;
    gap: 12px;
  }
  .inside > button {
    justify-self: end;
  }
</style>
