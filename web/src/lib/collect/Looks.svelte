<script lang="ts">
  import { capital, TERMS } from '../terms';
  import type { Look } from './register';

  interface Props {
    chosen: Look | null;
    onpick: (look: Look) => void;
  }
  let { chosen, onpick }: Props = $props();

  // Colours of oil, the same by day and by night: a picture, not a level.
  const OIL: Record<string, string> = {
    dark: '#3a2a1a',
    amber: '#b47420',
    grey: '#77736c',
    emulsion: '#cdbd9c',
    specks: '#46351f',
    grit: '#26221e',
    coolant_visible: '#4a3a26',
    mud: '#5a4a36',
    chunks: '#3a2d1e',
  };
  // The same scatter each time, so that the picture is learnt.
  const DOTS = Array.from({ length: 22 }, (_, n) => ({ x: (n * 37) % 96, y: 6 + ((n * 23) % 44) }));
</script>

<div class="looks" role="group" aria-label="How does it look?">
  {#each TERMS.appearances as look (look.code)}
    <button type="button" aria-pressed={chosen?.code === look.code} onclick={() => onpick(look)}>
      <svg viewBox="0 0 100 54" preserveAspectRatio="none" aria-hidden="true">
        <rect width="100" height="54" fill={OIL[look.code]} />
        {#if look.code === 'specks'}
          {#each DOTS as d, n (n)}<circle cx={d.x} cy={d.y} r="1" fill="#f2e2a8" />{/each}
        {:else if look.code === 'grit'}
          {#each DOTS as d, n (n)}<rect x={d.x} y={d.y} width="2.4" height="2" fill="#6b645b" />{/each}
        {:else if look.code === 'coolant_visible'}
          <rect y="36" width="100" height="18" fill="#7fae8e" />
        {:else if look.code === 'chunks'}
          <path d="M20 30l9-5 6 8-8 6zM58 18l10 3-2 9-9-2zM74 38l7-4 5 6-6 5z" fill="#c9c3b4" />
        {/if}
      </svg>
      <span><b>{capital(look.words)}</b><br /><span class="muted">{look.hint}</span></span>
    </button>
  {/each}
</div>

<style>
  .looks {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 8px;
  }
  button {
    text-align: left;
    border: 1px solid var(--edge);
    border-radius: 3px;
    background: var(--paper-raised);
    cursor: pointer;
    overflow: hidden;
  }
  button[aria-pressed='true'] {
    outline: 3px solid var(--ink);
  }
  svg {
    display: block;
    width: 100%;
    height: 32px;
  }
  button > span {
    display: block;
    padding: 4px 8px 6px;
    line-height: 1.15;
    font-size: 13px;
  }
</style>
