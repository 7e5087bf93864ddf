<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';

  interface Props {
    lines: Schemas['GraverLine'][];
  }
  let { lines }: Props = $props();
  const act = new Act(useQueryClient());
  const seen = () =>
    act.run(() => body(api.POST('/api/wall/graver', { body: { codes: lines.map((x) => x.code) } })));
</script>

{#if lines.length}
  <section class="graver" aria-label="Graver by new rules">
    <h2>
      {lines.length === 1 ? 'One engine stands' : `${lines.length} engines stand`} graver since the rules of judging
      changed
    </h2>
    <p class="muted">
      Nothing happened to them: this version weighs what is on record harder than the one before. Look at each
      before it runs on.
    </p>
    <ul>
      {#each lines as x (x.code)}
        <li>
          <a href="/engine/{encodeURIComponent(x.code)}">{x.code}</a>
          {x.name} <span class="muted">was: {x.was}. Now: {x.now}.</span>
        </li>
      {/each}
    </ul>
    <button class="press" onclick={seen} disabled={act.busy}>I have seen them</button>
    {#if act.wrong}<p class="wrong" role="alert">{act.wrong}</p>{/if}
  </section>
{/if}

<style>
  .graver {
    border-bottom: 1px solid var(--line);
    padding: 8px 0 12px;
    max-height: 40vh;
    overflow: auto;
  }
  h2 {
    font-size: 15px;
    margin: 0;
  }
  p {
    margin: 2px 0 6px;
  }
  ul {
    list-style: none;
    margin: 0 0 8px;
    padding: 0;
  }
  li {
    padding: 2px 0;
  }
</style>
