<script lang="ts">
  import type { Schemas } from '../api/client';
  import { CHANNELS, LEVEL_KEYS, levelWord, type Channel } from '../words';

  interface Props {
    teeth: Schemas['Tooth'][];
  }
  let { teeth }: Props = $props();

  const STEP = 13;
  const HEIGHTS = [0, 5, 9, 12] as const;
  const words = $derived(
    teeth
      .map((t) => {
        const state = t.state === 'stale' ? `${levelWord(t.level)}, too old` : levelWord(t.level);
        return `${CHANNELS[t.channel as Channel].words} ${state}`;
      })
      .join('; '),
  );
</script>

<svg width={STEP * 7 + 2} height="26" role="img" aria-label={words}>
  <line x1="0" y1="24.5" x2={STEP * 7} y2="24.5" stroke="var(--edge)" />
  {#each teeth as t, n (t.channel)}
    {@const x = n * STEP + 3}
    {#if t.level === null}
      <line
        x1={x + 3}
        y1="24"
        x2={x + 3}
        y2="17"
        stroke="var(--muted)"
        stroke-width="1.5"
        stroke-dasharray="1.5 2"
      />
    {:else if t.level === 0}
      <line
        x1={x + 3}
        y1="24"
        x2={x + 3}
        y2="18"
        stroke="var(--steady)"
        stroke-width="2"
        stroke-dasharray={t.state === 'stale' ? '2 2' : undefined}
      />
    {:else}
      {@const h = HEIGHTS[t.level]}
      <rect
        x={x - 0.5}
        y={24 - h}
        width="7"
        height={h}
        fill={t.state === 'stale'
          ? 'none'
          : t.level === 1
            ? 'var(--watch-fill)'
            : `var(--${LEVEL_KEYS[t.level]})`}
        stroke="var(--{LEVEL_KEYS[t.level]})"
        stroke-dasharray={t.state === 'stale' ? '2 2' : undefined}
      />
      {#if t.level === 3}<rect x={x - 3} y={22 - h} width="12" height="2" fill="var(--stop)" />{/if}
      <text
        x={x + 3}
        y={20 - h}
        text-anchor="middle"
        font-size="9"
        font-weight="700"
        fill="var(--{LEVEL_KEYS[t.level]})">{CHANNELS[t.channel as Channel].letter}</text
      >
    {/if}
  {/each}
</svg>
