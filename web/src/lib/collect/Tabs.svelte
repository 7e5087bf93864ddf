<script lang="ts">
  import { page } from '$app/state';
  import { useState } from '../api/queries';

  const now = useState();
  const tabs = $derived([
    { path: '/collect', word: 'Round', count: 0 },
    { path: '/bottles', word: 'Bottles', count: now.data?.stray ?? 0 },
    { path: '/queries', word: 'Queries', count: now.data?.queries ?? 0 },
    { path: '/fleet', word: 'Fleet record', count: 0 },
  ]);
</script>

<nav class="no-print" aria-label="Collect">
  {#each tabs as t (t.path)}
    <a href={t.path} aria-current={page.url.pathname.startsWith(t.path) ? 'page' : undefined}
      >{t.word}{#if t.count}&nbsp;<b>{t.count}</b>{/if}</a
    >
  {/each}
</nav>

<style>
  nav {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 16px;
  }
  a {
    display: flex;
    align-items: center;
    min-height: 44px;
    text-decoration: none;
    border-bottom: 2px solid transparent;
    font-size: 15px;
  }
  a[aria-current] {
    font-weight: 650;
    border-bottom-color: var(--ink);
  }
  b {
    color: var(--act);
  }
</style>
