<script lang="ts">
  import { useHow } from '../api/queries';
  import Modal from '../controls/Modal.svelte';
  import { figure } from '../words';

  interface Props {
    sample: string;
    column: string | null;
    onclose: () => void;
  }
  let { sample, column, onclose }: Props = $props();
  const how = useHow(() => (column === null ? null : { sample, column }));

  const said = (x: unknown): string => {
    if (x === null || x === undefined) return 'not known';
    if (typeof x === 'number') return figure(x);
    if (Array.isArray(x)) return x.length ? x.map(said).join(', ') : 'none';
    return `${x as string}`;
  };
</script>

<Modal open={column !== null} title="How {how.data?.name ?? 'it'} was reached" {onclose}>
  {#if how.isError}<p role="alert">{how.error.message}</p>{/if}
  {#if how.isPending}<p class="muted">Reading…</p>{/if}
  <ol class="steps">
    {#each how.data?.steps ?? [] as s (s.what)}
      <li>
        <b>{s.what}</b>
        <code class="figure">{s.formula}</code>
        <span class="figure given">
          {Object.entries(s.given)
            .map(([k, v]) => `${k} = ${said(v)}`)
            .join('   ')}
        </span>
        <span class="figure">= {said(s.result)} {s.unit}</span>
        <span class="muted">{s.origin}</span>
      </li>
    {/each}
  </ol>
</Modal>

<style>
  .steps {
    display: grid;
    gap: 12px;
  }
  .steps li {
    display: grid;
    gap: 2px;
  }
  code {
    background: none;
    padding: 0;
    color: inherit;
  }
  .given {
    white-space: pre-wrap;
    font-size: 13px;
  }
</style>
