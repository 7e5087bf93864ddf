<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { day, meter } from '../words';

  interface Props {
    inbox: Schemas['Inbox'];
  }
  let { inbox }: Props = $props();

  const act = new Act(useQueryClient());
  let to = $state<Record<string, string>>({});
  let engine = $state<Record<string, string>>({});
  const waiting = $derived(inbox.out.filter((b) => b.engine).map((b) => b.sample));

  const match = (stray: string) =>
    act.run(
      () =>
        body(
          api.POST('/api/bottles/{sample}/match', {
            params: { path: { sample: stray } },
            body: { to: to[stray] ?? '', reason: '' },
          }),
        ),
      `Figures under ${stray} now belong to ${to[stray]}.`,
    );
  const settle = (key: string, sample: string) =>
    act.run(
      () =>
        body(
          api.POST('/api/bottles/parked/{key}/settle', {
            params: { path: { key } },
            body: { engine: engine[key] ?? '' },
          }),
        ),
      `Bottle ${sample} registered to ${engine[key]}.`,
    );
  const setAside = (sample: string) =>
    act.run(
      () =>
        body(
          api.POST('/api/bottles/steps', {
            body: {
              bottles: [{ id: crypto.randomUUID(), sample }],
              step: 'lost',
              on: inbox.today,
              laboratory: '',
              note: 'set aside, not ours',
            },
          }),
        ),
      `Set aside: ${sample}.`,
    );
</script>

{#if act.said}<p role="status" class="said">{act.said}</p>{/if}
{#if act.wrong}<p role="alert">{act.wrong}</p>{/if}

{#if inbox.unmatched.length}
  <section aria-label="Figures without a bottle">
    <h2>Figures without a bottle</h2>
    {#each inbox.unmatched as u (u.sample)}
      <div class="one">
        <p>
          <b class="figure">{u.sample}</b> is on report {u.report} of {u.laboratory || 'no laboratory'}, which
          came in on {day(u.received_on)}, {u.readings} figures. No bottle of that label is registered.
        </p>
        <form
          onsubmit={(e) => {
            e.preventDefault();
            void match(u.sample);
          }}
        >
          <label
            >It is bottle <input
              class="field"
              list="waiting"
              bind:value={to[u.sample]}
              required
              maxlength="60"
              aria-label="{u.sample} is bottle"
            /></label
          >
          <button class="press first" disabled={act.busy}>Put it there</button>
          <button type="button" class="press" onclick={() => void setAside(u.sample)}>Not ours</button>
        </form>
        <p class="muted">If it was drawn and never registered: register it on its engine with this label.</p>
      </div>
    {/each}
    <datalist id="waiting"
      >{#each waiting as w (w)}<option value={w}></option>{/each}</datalist
    >
  </section>
{/if}

{#if inbox.parked.length}
  <section aria-label="Bottles with no engine">
    <h2>Bottles with no engine</h2>
    {#each inbox.parked as p (p.id)}
      <div class="one">
        <p>
          <b class="figure">{p.sample}</b>, drawn {day(p.on_date)} at {meter(p.dial, '').trim()}, from “{p.engine_said}”
          <span class="muted">by {p.recorded_by}</span>
        </p>
        <form
          onsubmit={(e) => {
            e.preventDefault();
            void settle(p.id, p.sample);
          }}
        >
          <label
            >That is engine <input
              class="field"
              bind:value={engine[p.id]}
              required
              maxlength="60"
              aria-label="{p.sample} is of engine"
            /></label
          >
          <button class="press first" disabled={act.busy}>Register it there</button>
          <a href="/fleet?place=engines">It is a new engine</a>
        </form>
      </div>
    {/each}
  </section>
{/if}

{#if inbox.partial.length}
  <section aria-label="Only part of a report">
    <h2>Only part of a report</h2>
    <ul>
      {#each inbox.partial as p (p.sample)}
        <li>
          <a href="/judge/{encodeURIComponent(p.sample)}">{p.sample}</a>
          of {p.engine}, {p.laboratory}: {p.missing.join(', ')} missing, which it nearly always reports.
          <a href="/bottles/{encodeURIComponent(p.sample)}">Type the rest</a>
        </li>
      {/each}
    </ul>
  </section>
{/if}

<style>
  section,
  .one {
    display: grid;
    gap: 6px;
  }
  .one {
    border-left: 4px solid var(--due);
    padding: 2px 0 6px 12px;
  }
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: center;
  }
</style>
