<script lang="ts">
  import type { Level } from '../api/client';
  import { LEVEL_KEYS, levelWord } from '../words';
  import StickMark from './StickMark.svelte';
  import type { StickState } from './stick';

  interface Props {
    level: Level | null;
    state?: StickState;
    signed?: boolean;
    height?: number;
    label?: string;
  }
  let { level, state = 'judged', signed = false, height = 16, label }: Props = $props();
  const shown = $derived(level === null && state === 'judged' ? 'not_measured' : state);
  const words = $derived(
    label ??
      (shown === 'stale' ? `${levelWord(level)}, too old` : `${levelWord(level)}${signed ? ', signed' : ''}`),
  );
</script>

<svg
  width={(height * 12) / 16}
  {height}
  viewBox="0 0 12 16"
  role={words ? 'img' : undefined}
  aria-label={words || undefined}
  aria-hidden={words ? undefined : 'true'}
  class={level === null ? 'steady' : LEVEL_KEYS[level]}
>
  <StickMark {level} state={shown} {signed} />
</svg>
