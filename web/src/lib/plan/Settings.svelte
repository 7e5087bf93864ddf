<script lang="ts">
  import { createQuery, useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type ApiError, type Schemas } from '../api/client';
  import { figure } from '../words';

  interface Props {
    depot: string;
    depots: string[];
    seasons: Schemas['Season'][];
  }
  let { depot, depots, seasons }: Props = $props();
  const act = new Act(useQueryClient());
  const feeds = createQuery<Schemas['FeedOut'][], ApiError>(() => ({
    queryKey: ['calendars'],
    queryFn: () => body(api.GET('/api/calendars')),
  }));
  const WEEK = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

  let hours = $state({ depot: '', starts: '11-15', of: [8, 8, 8, 8, 8, 0, 0] as (number | null)[] });
  let whose = $state('');
  let made = $state('');
  const place = $derived(hours.depot || depot || depots[0] || '');

  const say = (starts: string, of: number[], where: string) =>
    act.run(() => body(api.POST('/api/plan/hours', { body: { depot: where, starts, hours: of } })));
  async function open() {
    await act.run(async () => {
      const answer = await body(
        api.POST('/api/calendars', { body: { id: crypto.randomUUID(), depot, person: whose.trim() } }),
      );
      made = `${location.origin}${answer.path}`;
      whose = '';
    });
  }
  const revoke = (key: string) =>
    act.run(() => body(api.POST('/api/calendars/{key}/revoke', { params: { path: { key } } })));
</script>

<details class="forms">
  <summary>Hours of a depot</summary>
  {#each seasons as s (s.depot + s.starts)}
    <p>
      {s.depot} from {s.starts}: <span class="figure">{s.hours.map((h) => figure(h) || 0).join(' ')}</span>
      <button class="plain" disabled={act.busy} onclick={() => void say(s.starts, [], s.depot)}
        >take it back</button
      >
    </p>
  {:else}<p class="muted">No working hours are entered: 8 h from Monday to Friday are assumed.</p>{/each}
  <form
    class="row"
    onsubmit={(e) => {
      e.preventDefault();
      void say(
        hours.starts,
        hours.of.map((h) => h ?? 0),
        place,
      );
    }}
  >
    <label
      >Depot <select class="field" value={place} onchange={(e) => (hours.depot = e.currentTarget.value)}
        >{#each depots as d (d)}<option value={d}>{d}</option>{/each}</select
      ></label
    >
    <label
      >From month-day on <input
        class="field short"
        pattern="(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])"
        bind:value={hours.starts}
      /></label
    >
    {#each WEEK as name, n (name)}<label
        >{name}
        <input
          class="field short"
          type="number"
          min="0"
          max="1000"
          step="any"
          bind:value={hours.of[n]}
        /></label
      >{/each}
    <button class="press" disabled={act.busy || !place}>Keep the hours</button>
  </form>
</details>
<details class="forms">
  <summary>Calendar for phones</summary>
  {#each feeds.data ?? [] as f (f.id)}
    <p>
      {f.person || f.depot || 'everything'} <span class="muted">by {f.made_by}</span>
      <button class="plain" disabled={act.busy} onclick={() => void revoke(f.id)}>revoke its address</button>
    </p>
  {/each}
  <form
    class="row"
    onsubmit={(e) => {
      e.preventDefault();
      void open();
    }}
  >
    <label
      >Only the work of <input
        class="field"
        maxlength="60"
        placeholder="everybody"
        bind:value={whose}
      /></label
    >
    <button class="press" disabled={act.busy}>Make an address{depot ? ` for ${depot}` : ''}</button>
  </form>
  {#if made}<p class="said">
      Secret, shown once: <span class="figure address">{made}</span>
    </p>{/if}
  <p>
    <a href="/api/plan/week.csv{depot ? `?depot=${encodeURIComponent(depot)}` : ''}" download
      >As a table (CSV)</a
    >
  </p>
</details>
{#if act.wrong}<p role="alert">{act.wrong}</p>{/if}

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: end;
  }
  .short {
    width: 72px;
  }
  .address {
    overflow-wrap: anywhere;
  }
</style>
