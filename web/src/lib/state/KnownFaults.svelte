<script lang="ts">
  import type { Schemas } from '../api/client';

  interface Props {
    faults: readonly Schemas['KnownFaultOut'][];
  }
  let { faults }: Props = $props();
</script>

<ul aria-label="Known of this model">
  {#each faults as f (f.words)}
    <li>
      {#if f.own}<b>{f.words}</b>{:else}{f.words}{/if}
      <span class="muted">({f.why})</span>
    </li>
  {/each}
</ul>

<style>
  ul {
    margin: 2px 0;
    padding-left: 18px;
    font-size: 13.5px;
  }
</style>
