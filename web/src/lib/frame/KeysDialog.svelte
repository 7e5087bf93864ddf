<script lang="ts">
  import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
  import { keysHelp, setSingleKeysOff, singleKeysOff } from './keys';

  interface Props {
    shown: boolean;
  }
  let { shown = $bindable() }: Props = $props();
  let off = $state(singleKeysOff());
</script>

<Dialog open={shown} onOpenChange={(d) => (shown = d.open)}>
  <Portal>
    <Dialog.Backdrop class="keys-back" />
    <Dialog.Positioner class="keys-place">
      <Dialog.Content class="keys-box">
        <Dialog.Title>Keys here</Dialog.Title>
        <table class="plain-table">
          <tbody>
            {#each shown ? keysHelp() : [] as k (k.keys)}
              <tr><td><kbd>{k.keys}</kbd></td><td>{k.does}</td></tr>
            {/each}
          </tbody>
        </table>
        <label class="off">
          <input type="checkbox" bind:checked={off} onchange={() => setSingleKeysOff(off)} /> Switch single keys
          off (they never act while you type)
        </label>
        <Dialog.CloseTrigger class="press">Close</Dialog.CloseTrigger>
      </Dialog.Content>
    </Dialog.Positioner>
  </Portal>
</Dialog>

<style>
  :global(.keys-back) {
    position: fixed;
    inset: 0;
    background: #12181c99;
    z-index: 40;
  }
  :global(.keys-place) {
    position: fixed;
    inset: 0;
    display: grid;
    place-items: center;
    z-index: 41;
  }
  :global(.keys-box) {
    background: var(--paper-raised);
    color: var(--ink);
    border: 1px solid var(--ink);
    border-radius: 3px;
    padding: 18px;
    min-width: 420px;
    max-height: 80vh;
    overflow: auto;
    display: grid;
    gap: 12px;
  }
  .off {
    display: flex;
    gap: 8px;
  }
</style>
