<script lang="ts">
  import { onDestroy } from 'svelte';
  import { now as moment } from '../clock';
  import { left, MINUTE } from './timer';

  interface Props {
    minutes: number;
    what: string;
  }
  let { minutes, what }: Props = $props();
  let ends = $state<number | null>(null);
  let now = $state(moment());
  // The clock is asked, not counted: a phone that slept in between still knows the time.
  const tick = setInterval(() => (now = moment()), 1000);
  onDestroy(() => clearInterval(tick));

  const start = () => {
    now = moment();
    ends = now + minutes * MINUTE;
  };
</script>

<p class="timer">
  {#if ends === null}<button
      type="button"
      class="press"
      aria-label="{what}: start {minutes} min"
      onclick={start}>Start {minutes} min</button
    >
  {:else if ends > now}<span role="timer" class="figure" aria-label={what}>{left(ends - now)}</span>
    <button type="button" class="plain" onclick={() => (ends = null)}>stop</button>
  {:else}<b role="status">{what}: the time is up.</b>
    <button type="button" class="plain" onclick={start}>again</button>{/if}
</p>

<style>
  .timer {
    display: flex;
    gap: 10px;
    align-items: center;
  }
  .press,
  .plain {
    min-height: 44px;
  }
</style>
