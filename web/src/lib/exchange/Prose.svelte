<script lang="ts">
  import type { Token, Tokens } from 'marked';
  import Self from './Prose.svelte';

  interface Props {
    tokens: Token[];
  }
  let { tokens }: Props = $props();

  const inside = (t: Token): Token[] => ('tokens' in t && t.tokens ? t.tokens : []);
  const table = (t: Token) => t as Tokens.Table;
  const list = (t: Token) => t as Tokens.List;
</script>

{#each tokens as t, n (n)}
  {#if t.type === 'heading' && 'depth' in t}
    {#if t.depth === 1}<h1><Self tokens={inside(t)} /></h1>
    {:else}<h2 id={t['text']}><Self tokens={inside(t)} /></h2>{/if}
  {:else if t.type === 'paragraph'}<p><Self tokens={inside(t)} /></p>
  {:else if t.type === 'strong'}<b><Self tokens={inside(t)} /></b>
  {:else if t.type === 'codespan' && 'text' in t}<code>{t.text}</code>
  {:else if t.type === 'list'}
    <ul>
      {#each list(t).items as item, k (k)}<li><Self tokens={item.tokens} /></li>{/each}
    </ul>
  {:else if t.type === 'table'}
    <table class="plain-table">
      <thead
        ><tr
          >{#each table(t).header as cell, k (k)}<th><Self tokens={cell.tokens} /></th>{/each}</tr
        ></thead
      >
      <tbody
        >{#each table(t).rows as row, r (r)}<tr
            >{#each row as cell, k (k)}<td><Self tokens={cell.tokens} /></td>{/each}</tr
          >{/each}</tbody
      >
    </table>
  {:else if inside(t).length}<Self tokens={inside(t)} />
  {:else if 'text' in t}{t.text}{/if}
{/each}

<style>
  code {
    font-family: inherit;
    background: var(--paper-side);
    color: inherit;
    padding: 0 3px;
  }
  h2 {
    margin-top: 14px;
  }
  ul {
    list-style: disc;
    padding-left: 20px;
  }
</style>
