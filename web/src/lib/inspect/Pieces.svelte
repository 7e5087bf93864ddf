<script lang="ts">
  import { spots } from './tray';

  interface Props {
    type: string;
    size: number;
    n: number;
  }
  let { type, size, n }: Props = $props();
  const r = $derived(1.2 + size * 1.15);

  // Colours of what lies in the tray, the same by day and by night: a picture, not a level.
  const COLOUR: Record<string, string> = {
    fuzz: '#5f666b',
    bright_flakes: '#9aa3a8',
    copper_flakes: '#b5622b',
    slivers: '#4a5157',
    chunk: '#3c4247',
    part_fragment: '#3c4247',
    friction: '#2b2723',
    plastic: '#7d6a3a',
    sealant: '#3f6f8f',
    stop_leak: '#6f7f3f',
    fibre: '#8a8172',
    sludge: '#8b7350',
    sand: '#c2a25a',
  };
  const colour = $derived(COLOUR[type] ?? '#555');
</script>

<svg viewBox="0 0 60 40" preserveAspectRatio="xMidYMid slice" aria-hidden="true">
  {#each spots(n) as s, k (k)}
    <g transform="translate({s.x} {s.y}) rotate({s.turn})" fill={colour} stroke={colour}>
      {#if type === 'fuzz'}
        <path d="M{-r} 0h{2 * r}M0 {-r}v{2 * r}" stroke-width=".7" fill="none" />
      {:else if type === 'slivers' || type === 'fibre'}
        <path d="M{-r * 1.6} 0q{r * 1.6} {-r * 1.4} {r * 3.2} 0" stroke-width="1.1" fill="none" />
      {:else if type === 'sealant' || type === 'stop_leak'}
        <path d="M{-r * 1.5} 0q{r * 0.8} {r} {r * 1.5} 0t{r * 1.5} 0" stroke-width="2" fill="none" />
      {:else if type === 'chunk' || type === 'part_fragment'}
        <path
          d="M{-r} {-r * 0.4}l{r} {-r * 0.7}l{r * 1.1} {r * 0.6}l{-r * 0.3} {r * 1.1}l{-r * 1.3} {r * 0.2}z"
        />
      {:else if type === 'sludge'}
        <ellipse rx={r * 1.5} ry={r * 0.9} />
      {:else if type === 'sand'}
        <circle {r} />
      {:else}
        <path d="M{-r} 0L0 {-r * 0.8}L{r} 0L0 {r * 0.8}z" />
      {/if}
    </g>
  {/each}
</svg>

<style>
  svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    pointer-events: none;
  }
</style>
