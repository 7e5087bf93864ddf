<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { dayYear } from '../words';
  import TryOut from './TryOut.svelte';

  interface Props {
    versions: Schemas['PeersVersion'][];
    waits: Schemas['PeersWait'] | null;
  }
  let { versions, waits }: Props = $props();
  const act = new Act(useQueryClient());
  let found = $state<Schemas['PeersOut'] | null>(null);

  const tryOut = () =>
    act.run(async () => {
      found = await body(api.POST('/api/library/peers/try'));
    });
  const publish = () =>
    act.run(async () => {
      await body(api.POST('/api/library/peers'));
      found = null;
    }, 'Published. Every engine is judged again.');
  const changed = (v: Schemas['PeersVersion']) => {
    const { raised, lowered } = v.changes as { raised?: number; lowered?: number };
    return raised === undefined ? '' : `, ${raised} levels raised, ${lowered ?? 0} lowered`;
  };
</script>

<section aria-label="Peers">
  <h2>Peers, laboratories and seasons</h2>
  <p class="muted">
    Learnt from the steady samples of the whole fleet and then held still: an import never changes them. While
    the program serves it publishes them anew once a week, but nothing that would lower an engine at Act or
    Stop: that waits for a person.
  </p>
  {#if waits}<p role="note" class="waits">
      <b>{waits.name} of {dayYear(waits.on)} waits.</b>
      It would lower {waits.eased}
      {waits.eased === 1 ? 'engine whose newest sample stands' : 'engines whose newest samples stand'} at Act or
      Stop. See what it would change before you publish it: a fleet that was ill when it was brought in must not
      make ill usual.
    </p>{/if}
  {#if act.said}<p role="status" class="said">{act.said}</p>{/if}
  {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
  <ul>
    {#each versions as v (v.name)}<li>
        <b>{v.name}</b>
        <span class="muted">{dayYear(v.published_at)}, {v.published_by}{changed(v)}</span>
      </li>{:else}<li class="muted">
        None yet: every engine is judged by its own history and its class.
      </li>{/each}
  </ul>
  <div class="row">
    <button class="press" disabled={act.busy} onclick={() => void tryOut()}
      >See what today's would change</button
    >
    {#if found}<button class="press first" disabled={act.busy} onclick={() => void publish()}
        >Publish {found.name}</button
      >{/if}
  </div>
  {#if found}<TryOut {found} />{/if}
</section>

<style>
  section {
    display: grid;
    gap: 6px;
  }
  .row {
    display: flex;
    gap: 8px 14px;
  }
</style>
