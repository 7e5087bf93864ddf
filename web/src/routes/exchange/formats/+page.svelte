<script lang="ts">
  import { marked } from 'marked';
  import formats from '../../../../../docs/formats.md?raw';
  import Prose from '$lib/exchange/Prose.svelte';

  const tokens = marked.lexer(formats);
  const tables = tokens.flatMap((t) =>
    t.type === 'heading' && /^\w+\.csv$/.test(`${t['text']}`) ? [`${t['text']}`] : [],
  );
</script>

<svelte:head><title>Open files · Keen Tracer</title></svelte:head>

<main class="formats">
  <p><a href="/exchange">Exchange</a></p>
  <nav aria-label="Tables">
    {#each tables as t (t)}<a href="#{t}">{t}</a>{/each}
  </nav>
  <Prose {tokens} />
</main>

<style>
  .formats {
    padding: 10px 18px 40px;
    display: grid;
    gap: 8px;
    max-width: 900px;
    align-content: start;
  }
  nav {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
  }
</style>
