<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body } from '../api/client';
  import Amount from '../controls/Amount.svelte';

  interface Props {
    today: string;
    label: number;
  }
  let { today, label }: Props = $props();

  const act = new Act(useQueryClient());
  const blank = () => ({
    id: crypto.randomUUID() as string,
    engine: '',
    sample: '',
    dial: null as number | null,
  });
  let form = $state(blank());

  async function park(event: SubmitEvent) {
    event.preventDefault();
    const sample = form.sample || `${label}`;
    const done = await act.run(
      () =>
        body(
          api.POST('/api/bottles/parked', {
            body: {
              id: form.id,
              engine: form.engine,
              sample,
              dial: form.dial ?? 0,
              on: today,
              purpose: 'routine',
              method: '',
              appearance: '',
              smell: '',
              note: '',
              resample_of: '',
            },
          }),
        ),
      `Bottle ${sample} is kept. Somebody says later which engine it is.`,
    );
    if (done) form = blank();
  }
</script>

<details class="no-print">
  <summary>The engine is not on the list</summary>
  <form onsubmit={park}>
    <label>What stands on it <input class="field" bind:value={form.engine} required maxlength="60" /></label>
    <Amount label="Meter" unit="" bind:value={form.dial} required />
    <label
      >Bottle <input class="field" bind:value={form.sample} placeholder={`${label}`} maxlength="60" /></label
    >
    <button class="press first" disabled={act.busy}>Keep the bottle</button>
  </form>
</details>
{#if act.said}<p role="status" class="said">{act.said}</p>{/if}
{#if act.wrong}<p role="alert">{act.wrong}</p>{/if}

<style>
  summary {
    min-height: 44px;
    display: flex;
    align-items: center;
    cursor: pointer;
    text-decoration: underline;
    text-decoration-color: var(--edge);
  }
  form {
    display: grid;
    gap: 8px;
  }
  label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
  }
  .field,
  .press {
    min-height: 48px;
  }
</style>
