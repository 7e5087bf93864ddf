<script lang="ts">
  import Modal from '../controls/Modal.svelte';
  import { keysHelp, setSingleKeysOff, singleKeysOff } from './keys';

  interface Props {
    shown: boolean;
  }
  let { shown = $bindable() }: Props = $props();
  let off = $state(singleKeysOff());
</script>

<Modal open={shown} title="Keys here" onclose={() => (shown = false)}>
  <table class="plain-table">
    <tbody>
      {#each shown ? keysHelp() : [] as k (k.keys)}
        <tr><td><kbd>{k.keys}</kbd></td><td>{k.does}</td></tr>
      {/each}
    </tbody>
  </table>
  <label class="off">
    <input type="checkbox" bind:checked={off} onchange={() => setSingleKeysOff(off)} /> Switch single keys off (they
    never act while you type)
  </label>
</Modal>

<style>
  .off {
    display: flex;
    gap: 8px;
  }
</style>
