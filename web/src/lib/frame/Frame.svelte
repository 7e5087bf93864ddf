<script lang="ts">
  import { page } from '$app/state';
  import type { Snippet } from 'svelte';
  import { useBox, useState } from '../api/queries';
  import { useKeys } from './keys';
  import { toggleMode } from './mode';
  import { mine } from '../mine.svelte';
  import Stick from '../draw/Stick.svelte';
  import Finder from './Finder.svelte';
  import KeysDialog from './KeysDialog.svelte';
  import Tour from './Tour.svelte';
  import TakeDialog from '../take/TakeDialog.svelte';
  import Who from './Who.svelte';

  interface Props {
    children: Snippet;
  }
  interface Place {
    path: string;
    word: string;
    count: number;
  }
  let { children }: Props = $props();

  const now = useState();
  const box = useBox();
  $effect.pre(() => {
    if (now.data) {
      mine.choices = now.data.choices;
      mine.currency = now.data.currency;
    }
  });
  const queue = $derived(now.data?.queue ?? 0);
  const unjudged = $derived(now.data?.unjudged ?? []);
  const alone = $derived(unjudged.length === 1 ? unjudged[0] : undefined);
  const places = $derived([
    { path: '/wall', word: 'Wall', count: 0 },
    { path: '/collect', word: 'Collect', count: (now.data?.stray ?? 0) + (now.data?.queries ?? 0) },
    { path: '/judge', word: 'Judge', count: queue },
    { path: '/inspect', word: 'Inspect', count: 0 },
    { path: '/plan', word: 'Plan', count: 0 },
    { path: '/run', word: 'Run', count: now.data?.open_stops.length ?? 0 },
    { path: '/exchange', word: 'Exchange', count: (now.data?.amendments ?? 0) + (now.data?.arrived ?? 0) },
  ]);
  // On a phone the first five places stand at the thumb, the others under More.
  const AT_THUMB = 5;
  const more = $derived(places.slice(AT_THUMB));
  const waiting = $derived(more.reduce((sum, p) => sum + p.count, 0));
  let moreShown = $state(false);
  const stops = $derived(now.data?.open_stops ?? []);
  let keysShown = $state(false);
  let takeShown = $state(false);
  useKeys({ '?': () => (keysShown = true) }, []);
  const here = (path: string) =>
    page.url.pathname.startsWith(path) ||
    (path === '/wall' && page.url.pathname.startsWith('/engine')) ||
    (path === '/collect' && /^\/(bottles|queries|fleet)/.test(page.url.pathname));
</script>

{#snippet place(p: Place, later: boolean)}
  <a
    href={p.path}
    class:later
    class:here={here(p.path)}
    aria-current={here(p.path) ? 'page' : undefined}
    onclick={() => (moreShown = false)}
  >
    {p.word}{#if p.count}&nbsp;<b>{p.count}</b>{/if}
  </a>
{/snippet}

{#snippet undecided(stop: (typeof stops)[number])}
  <Stick level={3} label="Stop" />
  <b>{stop.code} {stop.name}: Stop, and nobody has decided yet.</b>
  <a href="/run?engine={encodeURIComponent(stop.code)}">Decide whether it may run</a>
{/snippet}

<div class="frame">
  <header class="bar no-print">
    <a class="name" href="/wall"><Stick level={2} height={22} label="" /> <span>Keen Tracer</span></a>
    <nav aria-label="Places">
      {#each places as p, n (p.path)}
        {@render place(p, n >= AT_THUMB)}
      {/each}
      <details class="more" bind:open={moreShown}>
        <summary
          >More{#if waiting}&nbsp;<b>{waiting}</b>{/if}</summary
        >
        <div class="sheet">
          {#each more as p (p.path)}{@render place(p, false)}{/each}
          <a href="/library" onclick={() => (moreShown = false)}>Library</a>
          <button
            onclick={() => {
              moreShown = false;
              takeShown = true;
            }}>Download or copy</button
          >
          <button onclick={toggleMode}>Day / night</button>
        </div>
      </details>
    </nav>
    <Finder />
    <a class="quiet" href="/library" aria-current={here('/library') ? 'page' : undefined}>Library</a>
    <button class="quiet desk" onclick={() => (takeShown = true)} title="Tables and charts of this page"
      >Download or copy</button
    >
    {#if now.data?.demo && now.data.person && !now.data.choices['tour']}<Tour />{/if}
    <button class="quiet desk" onclick={toggleMode} title="Day shift or night shift">Day / night</button>
    <Who person={now.data?.person ?? null} known={now.isSuccess} />
  </header>
  {#if box.data?.mine}
    <p class="notice">
      <span
        >This is the demo: an invented fleet in a box beside your own data. Nothing you do here touches it.</span
      >
      <a href={box.data.mine}>Back to mine</a>
    </p>
  {/if}
  {#if now.isError}
    <p class="notice" role="alert">
      <b>Waiting.</b>
      {now.error.message} What you see is as of the last answer.
    </p>
  {/if}
  {#if stops.length === 1}
    {#each stops as stop (stop.code)}<p class="notice stop" role="alert">{@render undecided(stop)}</p>{/each}
  {:else if stops.length}
    <div role="alert">
      <details class="notice stop">
        <summary
          ><b>{stops.length} Stops that nobody has decided: {stops.map((s) => s.code).join(', ')}.</b
          ></summary
        >
        {#each stops as stop (stop.code)}<p>{@render undecided(stop)}</p>{/each}
      </details>
    </div>
  {/if}
  {#if alone}
    <p class="notice" role="alert">
      <b>{alone.code} {alone.name} cannot be judged:</b>
      {alone.why}.
      <a href="/engine/{encodeURIComponent(alone.code)}">Look at its record</a>
    </p>
  {:else if unjudged.length}
    <p class="notice" role="alert">
      <b>{unjudged.length} engines cannot be judged:</b>
      {unjudged
        .slice(0, 6)
        .map((e) => e.code)
        .join(', ')}{unjudged.length > 6 ? ' and more' : ''}.
      <a href="/wall">See them on the Wall</a>
    </p>
  {/if}
  {#if now.data?.stale_for}
    <p class="notice" role="alert">
      <b>{now.data.stale} engines have waited up to {now.data.stale_for} to be judged.</b> Their pages still show
      the previous result.
    </p>
  {:else if now.data?.stale}
    <p class="notice quietly" role="status">Judging {now.data.stale} engines whose figures changed…</p>
  {/if}
  <div class="place">{@render children()}</div>
</div>
<KeysDialog bind:shown={keysShown} />
<TakeDialog bind:shown={takeShown} />

<style>
  .frame {
    display: flex;
    flex-direction: column;
    min-height: 100vh;
  }
  .bar {
    display: flex;
    align-items: center;
    gap: 14px;
    padding: 0 18px;
    height: 46px;
    border-bottom: 1px solid var(--line);
    background: var(--paper);
  }
  .name {
    display: flex;
    align-items: center;
    gap: 8px;
    font-weight: 700;
    font-size: 16px;
    text-decoration: none;
  }
  nav {
    display: flex;
    height: 100%;
    margin-right: auto;
  }
  nav a {
    display: flex;
    align-items: center;
    padding: 0 12px;
    text-decoration: none;
    border-bottom: 2px solid transparent;
  }
  nav a.here {
    border-bottom-color: var(--act);
    font-weight: 650;
  }
  nav b {
    color: var(--act);
  }
  .name,
  .quiet,
  nav a {
    white-space: nowrap;
  }
  .quiet {
    color: var(--muted);
    background: none;
    border: none;
    cursor: pointer;
    font-size: 13px;
    min-height: 30px;
  }
  a.quiet {
    display: flex;
    align-items: center;
    text-decoration: none;
  }
  a.quiet[aria-current] {
    color: var(--ink);
    font-weight: 650;
  }
  .notice {
    display: flex;
    align-items: center;
    gap: 8px;
    padding: 6px 18px;
    border-bottom: 1px solid var(--line);
    background: var(--paper-side);
  }
  details.notice {
    display: block;
  }
  details.notice p {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
    padding: 4px 0;
  }
  summary {
    cursor: pointer;
  }
  .more {
    display: none;
  }
  .notice :global(svg) {
    flex: none;
  }
  .notice.stop {
    border-left: 6px solid var(--stop);
    color: var(--stop);
  }
  .notice.quietly {
    color: var(--muted);
  }
  .place {
    flex: 1;
    min-height: 0;
    display: flex;
    flex-direction: column;
  }
  @media (max-width: 700px) {
    .notice {
      flex-wrap: wrap;
    }
    .frame {
      padding-bottom: var(--thumb);
    }
    .bar {
      gap: 10px;
      padding: 0 10px;
    }
    .bar > .quiet,
    nav > .later {
      display: none;
    }
    /* The places, in reach of the thumb on every page. */
    nav {
      position: fixed;
      inset: auto 0 0 0;
      z-index: 20;
      height: var(--thumb);
      display: grid;
      grid-template-columns: repeat(6, minmax(0, 1fr));
      background: var(--paper);
      border-top: 1px solid var(--edge);
    }
    nav > a,
    summary {
      flex-direction: column;
      justify-content: center;
      padding: 0;
      font-size: 13px;
      line-height: 1.2;
      border-bottom: 0;
      border-top: 3px solid transparent;
    }
    nav > a.here {
      border-top-color: var(--act);
    }
    .more {
      display: block;
    }
    .more summary {
      display: flex;
      align-items: center;
      height: 100%;
      list-style: none;
    }
    .sheet {
      position: fixed;
      inset: auto 0 var(--thumb) auto;
      min-width: 200px;
      display: grid;
      background: var(--paper-raised);
      border: 1px solid var(--edge);
    }
    .sheet a,
    .sheet button {
      display: flex;
      align-items: center;
      min-height: 48px;
      padding: 0 16px;
      text-align: left;
      text-decoration: none;
      border-bottom: 1px solid var(--line);
    }
    .notice summary {
      display: list-item;
      font-size: inherit;
      border: 0;
      min-height: 30px;
    }
    /* On a phone the mark alone; the name stays for those who listen. */
    .name span {
      position: absolute;
      clip-path: inset(50%);
      width: 1px;
      overflow: hidden;
      white-space: nowrap;
    }
  }
</style>
