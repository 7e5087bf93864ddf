<script lang="ts">
  import type { Schemas } from '../api/client';
  import Stick from '../draw/Stick.svelte';
  import { levelWord } from '../words';
  import NotHere from './NotHere.svelte';

  interface Props {
    engine: string;
    state: Schemas['StateOut'];
    open?: boolean;
  }
  let { engine, state, open = false }: Props = $props();

  const way = (c: Schemas['CheckOut']) =>
    c.form === 'look'
      ? `/inspect/${encodeURIComponent(engine)}`
      : c.form === 'check'
        ? `/collect/${encodeURIComponent(engine)}?log=field_check&check=${c.code}`
        : c.form === 'bottle'
          ? `/collect/${encodeURIComponent(engine)}`
          : '';
</script>

{#if state.reasons.length || state.actions.length || state.checks.length}
  <details class="fold" {open}>
    <summary>Why, what to do, and the next checks</summary>
    {#if state.reasons.length}
      <h3 class="muted">Open reasons{state.parts.length ? `: ${state.parts.join('; or ')}` : ''}</h3>
      <ul>
        {#each state.reasons as r (r.key)}
          <li class="reason">
            <Stick level={r.level} label={levelWord(r.level)} height={16} />
            <span
              >{r.words}
              {#if r.sample}<a href="/judge/{encodeURIComponent(r.sample)}">Sample {r.sample}</a>{/if}</span
            >
          </li>
        {/each}
      </ul>
    {/if}
    {#if state.actions.length}
      <h3 class="muted">Do</h3>
      <ol>
        {#each state.actions as a (a.code)}
          <li>
            <b>{a.words}</b>{#if a.ends}, before {a.ends}{/if}. <span class="muted">{a.at}</span>
            <p class="caution">{a.caution}</p>
            {#if a.tools}<p class="muted">Needs: {a.tools.toLowerCase()}.</p>{/if}
          </li>
        {/each}
      </ol>
    {/if}
    {#if state.checks.length}
      <h3 class="muted">Next checks</h3>
      <ol>
        {#each state.checks as c (c.code)}
          <li>
            {#if way(c)}<a href={way(c)}>{c.words}</a>{:else}{c.words}{/if}
            <span class="muted">{c.hours} h, {c.at}</span>
            <p class="caution">{c.caution}</p>
            {#if c.tools}<p class="muted">Needs: {c.tools.toLowerCase()}.</p>{/if}
            <NotHere {engine} check={c} />
          </li>
        {/each}
      </ol>
    {/if}
  </details>
{/if}

<style>
  .fold {
    font-size: 13.5px;
    max-width: 860px;
  }
  summary {
    cursor: pointer;
    padding: 6px 0;
    min-height: 32px;
  }
  h3 {
    font-size: 13px;
    font-weight: 500;
    margin: 8px 0 4px;
  }
  .reason {
    display: grid;
    grid-template-columns: 20px 1fr;
    padding: 2px 0;
  }
  ol {
    display: grid;
    gap: 6px;
  }
  .caution {
    font-size: 13px;
  }
</style>
