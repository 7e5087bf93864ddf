<script lang="ts">
  import { goto } from '$app/navigation';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { useCases } from '../api/queries';
  import { useKeys } from '../frame/keys';

  interface Props {
    engine: string;
    from: string;
    sample?: string;
  }
  let { engine, from, sample = '' }: Props = $props();
  const act = new Act(useQueryClient());
  const cases = useCases(() => engine);
  const open = $derived(cases.data?.filter((k) => !k.closed && k.engine === engine) ?? []);

  const show = (k: Pick<Schemas['CaseLine'], 'id'>) => goto(`/case/${k.id}`);
  async function begin() {
    const id: string = crypto.randomUUID();
    const worked = await act.run(() =>
      body(
        api.POST('/api/engines/{code}/cases', {
          params: { path: { code: engine } },
          body: { id, opened_from: from, sample, name: '' },
        }),
      ),
    );
    if (worked) void show({ id });
  }
  useKeys({ o: () => void (open[0] ? show(open[0]) : begin()) }, [
    { keys: 'o', does: 'to its case, or open one' },
  ]);
</script>

<span class="case no-print">
  {#each open as k (k.id)}<a href="/case/{k.id}">Case: {k.name}</a>{/each}
  <button class="plain" disabled={act.busy} onclick={() => void begin()}
    >{open.length ? 'another case' : 'Open a case'}</button
  >
  {#if act.wrong}<span role="alert">{act.wrong}</span>{/if}
</span>

<style>
  .case {
    display: inline-flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    align-items: center;
  }
  .plain,
  a {
    min-height: 32px;
    display: inline-flex;
    align-items: center;
  }
</style>
