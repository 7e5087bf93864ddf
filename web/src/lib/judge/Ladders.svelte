<script lang="ts">
  import { SvelteSet } from 'svelte/reactivity';
  import type { Schemas } from '../api/client';
  import Stick from '../draw/Stick.svelte';
  import { CHANNELS, levelWord, type Channel } from '../words';
  import { carries } from '../take/carried';
  import { byChannel, ladderSheet } from './ladder';
  import LadderRow from './LadderRow.svelte';

  interface Props {
    sample: Schemas['SampleOut'];
    lit: string | null;
    all: boolean;
    onhow: (column: string) => void;
  }
  let { sample, lit, all, onhow }: Props = $props();

  const opened = new SvelteSet<string>();
  const groups = $derived(byChannel(sample.ladders, sample.verdict?.channels));
  const litChannel = $derived(sample.ladders.find((l) => l.column === lit)?.channel);
  // Wear stays open even when it is quiet: an analyst looks at it before signing anything.
  const open = (channel: string, level: number | null) =>
    all || (level ?? 0) > 0 || channel === 'wear' || opened.has(channel) || channel === litChannel;

  function toggle(channel: string) {
    if (!opened.delete(channel)) opened.add(channel);
  }
  const word = (channel: string) => (channel ? CHANNELS[channel as Channel].words : 'Additives');
  const per = $derived(sample.unit === 'outing' ? 'per outing' : `per 100 ${sample.unit}`);
</script>

<div
  data-carries
  data-undrawn
  {@attach carries(() => ({ name: `${sample.engine}, sample ${sample.sample}`, ...ladderSheet(sample) }))}
>
  {#each groups as g, n (g.channel)}
    {#if open(g.channel, g.level)}
      <section aria-label={word(g.channel)}>
        <div class="head">
          <h2>{word(g.channel)}</h2>
          {#if n === 0}<span class="muted key"
              >F fixed · P peers · O own, each by itself; the bar below is what both together expected</span
            >{/if}
          <span class="muted cols"><span class="figure">F P O</span> <span>{per}</span></span>
          {#if g.channel}<Stick level={g.level} height={18} />{/if}
        </div>
        {#each g.ladders as one (one.column)}
          <LadderRow {one} lit={lit === one.column} unit={sample.unit} onopen={() => onhow(one.column)} />
        {/each}
      </section>
    {:else}
      <button class="folded" onclick={() => toggle(g.channel)} aria-expanded="false">
        <b>{word(g.channel)}</b>
        <span class="muted"
          >{!g.channel
            ? 'information'
            : g.level === null
              ? 'not judged'
              : levelWord(g.level).toLowerCase()}:</span
        >
        {#each g.ladders as one (one.column)}<span class="figure"
            >{one.symbol} {one.text}{one.unit === 'ppm' ? '' : ` ${one.unit}`}</span
          >
        {/each}
      </button>
    {/if}
  {/each}
</div>

<style>
  .head {
    display: flex;
    align-items: end;
    gap: 12px;
    border-bottom: 1px solid var(--line);
    margin: 10px 0 2px;
    padding: 0 4px 2px;
  }
  .cols {
    margin-left: auto;
    display: flex;
    gap: 14px;
    font-size: 12.5px;
  }
  .key {
    font-size: 12.5px;
  }
  .folded {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    text-align: left;
    width: 100%;
    padding: 6px 4px;
    border-bottom: 1px solid var(--line);
    font-size: 13px;
    cursor: pointer;
    align-items: baseline;
  }
</style>
