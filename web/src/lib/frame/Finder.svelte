<script lang="ts">
  import { goto } from '$app/navigation';
  import { api, body, type Schemas } from '../api/client';
  import { useKeys } from './keys';

  let text = $state('');
  let found = $state<Schemas['Found'][]>([]);
  let at = $state(0);
  let listed = $state(''); // the text that what is found is of
  let input = $state<HTMLInputElement>();
  useKeys({ '/': () => input?.focus() }, []);

  async function look() {
    const wanted = text;
    const answer = wanted.trim()
      ? await body(api.GET('/api/find', { params: { query: { q: wanted } } })).catch(() => [])
      : [];
    if (wanted === text) {
      found = answer;
      listed = wanted;
      at = 0;
    }
  }

  const PLACES: Record<string, string> = { engine: '/engine', sample: '/judge', case: '/case' };
  const pathOf = (f: Schemas['Found']) => `${PLACES[f.kind] ?? '/engine'}/${encodeURIComponent(f.key)}`;

  function choose(f: Schemas['Found'] | undefined) {
    if (!f) return;
    text = listed = '';
    found = [];
    input?.blur();
    void goto(pathOf(f));
  }

  /** Enter chooses of the list of what is typed now, never of the list of fewer letters. */
  async function enter() {
    if (listed !== text) await look();
    choose(found[at]);
  }

  function onkeydown(event: KeyboardEvent) {
    if (event.key === 'ArrowDown') at = Math.min(at + 1, found.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
    else if (event.key === 'Enter') void enter();
    else if (event.key === 'Escape') {
      text = '';
      found = [];
      input?.blur();
    } else return;
    event.preventDefault();
  }
</script>

<div class="finder">
  <input
    bind:this={input}
    bind:value={text}
    oninput={() => void look()}
    {onkeydown}
    class="field"
    placeholder="Find an engine, a sample, a case  /"
    aria-label="Find an engine, a sample, a case"
    role="combobox"
    aria-expanded={found.length > 0}
    aria-controls="found"
    aria-activedescendant={found.length ? `found-${at}` : undefined}
    autocomplete="off"
  />
  <ul id="found" role="listbox" aria-label="Found" class:shown={found.length > 0}>
    {#each found as f, n (f.kind + f.name)}
      <li id="found-{n}" role="option" aria-selected={n === at}>
        <button type="button" tabindex="-1" class:at={n === at} onclick={() => choose(f)}>
          <b>{f.name}</b>
          <span class="muted">{f.kind === 'sample' ? `sample of ${f.engine}, ` : ''}{f.detail}</span>
        </button>
      </li>
    {/each}
  </ul>
</div>

<style>
  .finder {
    position: relative;
    flex: 0 1 240px;
    min-width: 110px;
  }
  @media (max-width: 700px) {
    .finder {
      flex: 1 1 130px;
    }
  }
  .finder input {
    width: 100%;
  }
  ul {
    display: none;
    position: absolute;
    z-index: 20;
    left: 0;
    min-width: 240px;
    width: 100%;
    top: 34px;
    background: var(--paper-raised);
    border: 1px solid var(--edge);
    border-radius: 3px;
    max-height: 60vh;
    overflow: auto;
  }
  ul.shown {
    display: block;
  }
  li button {
    display: block;
    width: 100%;
    text-align: left;
    padding: 5px 8px;
    cursor: pointer;
  }
  li button.at {
    background: var(--paper-side);
    box-shadow: inset 3px 0 0 var(--ink);
  }
</style>
