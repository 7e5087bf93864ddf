<script lang="ts">
  import { page } from '$app/state';

  const places = [
    { path: '/library', words: 'Fixed limits' },
    { path: '/library/expectation', words: 'What is expected, false alarms' },
    { path: '/library/causes', words: 'Causes' },
    { path: '/library/averages', words: 'Laboratory averages' },
  ];
</script>

<nav aria-label="Library">
  {#each places as p (p.path)}
    <a href={p.path} aria-current={page.url.pathname === p.path ? 'page' : undefined}>{p.words}</a>
  {/each}
</nav>

<style>
  nav {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 18px;
    border-bottom: 1px solid var(--line);
    padding-bottom: 8px;
  }
  a[aria-current] {
    font-weight: 650;
    color: var(--ink);
    text-decoration: none;
  }
</style>
