<script lang="ts">
  import type { Schemas } from '../api/client';

  interface Props {
    state: Schemas['StateOut'];
  }
  let { state }: Props = $props();
  const halt = $derived(state.may_run === 'do_not_run' || state.may_run === 'past_its_time');
</script>

<div class="lines" class:halt class:act={(state.level === 2 || state.may_run === 'not_judged') && !halt}>
  <p class="what">{state.what}</p>
  {#if state.what_next}<p class="next">{state.what_next}</p>{/if}
</div>

<style>
  .lines {
    border-left: 5px solid var(--line);
    padding-left: 10px;
    display: grid;
    gap: 2px;
    max-width: 860px;
  }
  .what {
    font-weight: 650;
  }
  .act {
    border-left-color: var(--act);
  }
  .halt {
    border-left-color: var(--stop);
  }
  .halt .what {
    color: var(--stop);
  }
</style>
