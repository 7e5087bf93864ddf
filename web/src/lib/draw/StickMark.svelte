<script lang="ts">
  import type { Level } from '../api/client';
  import { LEVEL_KEYS } from '../words';
  import { stickShapes, type StickState } from './stick';

  interface Props {
    level: Level | null;
    state?: StickState;
    signed?: boolean;
  }
  let { level, state = 'judged', signed = false }: Props = $props();
  const tone = $derived(state === 'planned' ? 'due' : level === null ? 'steady' : LEVEL_KEYS[level]);
</script>

<g shape-rendering="crispEdges">
  {#each stickShapes(level, state, signed) as s (s.kind + s.y)}
    {#if s.kind === 'mark' && tone === 'watch'}
      <rect x={s.x} y={s.y} width={s.w} height={s.h} fill="var(--watch)" />
      <rect x={s.x + 1} y={s.y + 1} width={s.w - 2} height={s.h - 2} fill="var(--watch-fill)" />
    {:else}
      <rect x={s.x} y={s.y} width={s.w} height={s.h} fill="var(--{tone})" />
    {/if}
  {/each}
</g>
