<script lang="ts">
  import FileButton from '$lib/controls/FileButton.svelte';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body, PICTURES } from '$lib/api/client';
  import { useLook } from '$lib/api/queries';
  import Pair from '$lib/inspect/Pair.svelte';
  import Says from '$lib/inspect/Says.svelte';
  import { Shots } from '$lib/inspect/photos.svelte';
  import { capital, choices, TERMS, wordsOf } from '$lib/terms';
  import { dayYear, figure, meter } from '$lib/words';

  const id = $derived(page.params.id ?? '');
  const look = useLook(() => id);
  const l = $derived(look.data?.id === id ? look.data : undefined);
  const act = new Act(useQueryClient());
  let shots = $state(new Shots());
  let shown = $state('');
  const picture = $derived(l?.pictures.find((p) => p.id === shown) ?? l?.pictures[0]);
  const others = $derived([
    ...(l?.pictures.filter((p) => p.id !== picture?.id).map((p) => ({ picture: p, words: 'this look' })) ??
      []),
    ...(l?.earlier.map((p) => ({
      picture: p,
      words: wordsOf(choices('debris_places'), p.place),
      on: p.on_date,
    })) ?? []),
  ]);
  const facts = $derived(
    l
      ? [
          l.tool ? `opened with ${wordsOf(choices('tools'), l.tool)}` : '',
          l.pleats && l.pleats_total ? `${l.pleats} of ${l.pleats_total} pleats` : '',
          l.area_cm2 && l.area_total_cm2 ? `${figure(l.area_cm2)} of ${figure(l.area_total_cm2)} cm²` : '',
          l.both_sides ? '' : 'one side only',
          l.drained_min ? `drained for ${figure(l.drained_min)} min` : '',
        ].filter(Boolean)
      : [],
  );

  const takeBack = async () => {
    const engine = l?.engine ?? '';
    if (await act.run(() => body(api.POST('/api/log/{key}/undo', { params: { path: { key: id } } }))))
      void goto(`/inspect/${encodeURIComponent(engine)}`);
  };
  const send = (files: readonly File[]) =>
    act.run(async () => {
      shots.add(files);
      if (await shots.send(id)) shots = new Shots();
    });
</script>

<svelte:head><title>{l ? `${l.engine}, look` : 'Look'} · Keen Tracer</title></svelte:head>

<main class="look">
  {#if look.isError}<p role="alert">{look.error.message}</p>{/if}
  {#if l}
    <div class="left">
      <h1>
        <a href="/engine/{encodeURIComponent(l.engine)}">{l.engine} {l.engine_name}</a>, {wordsOf(
          choices('debris_places'),
          l.place,
        )}
      </h1>
      <p class="muted">
        {dayYear(l.on_date)}{l.dial === null ? '' : `, ${meter(l.dial, l.unit)}`}, {l.by}{facts.length
          ? ` · ${facts.join(', ')}`
          : ''}
      </p>
      {#if l.note}<p>{l.note}</p>{/if}
      {#if picture}
        <Pair {picture} words="This look, by {picture.taken_by}" {others} />
      {:else}<p class="muted">
          There is no picture. Lay a rule or a pin beside the pieces before you take one.
        </p>{/if}
      <div class="strip" role="group" aria-label="Pictures of this look">
        {#each l.pictures as p, n (p.id)}
          <button type="button" aria-pressed={p.id === picture?.id} onclick={() => (shown = p.id)}
            ><img src="/api/photos/{p.sha256}/small" alt="Picture {n + 1}" /></button
          >
        {/each}
        <FileButton
          label="Add a photograph"
          words={act.busy ? 'Sending…' : 'Add a photograph'}
          accept={PICTURES}
          many
          take={(files) => void send(files)}
        />
      </div>
      {#each shots.list.filter((s) => s.state === 'failed') as s (s.key)}<p role="alert">
          {s.file.name}: {s.why}
          <button class="plain" onclick={() => void act.run(() => shots.send(id))}>Send it again</button>
        </p>{/each}
    </div>
    <div class="right">
      <table class="plain-table" aria-label="Counted">
        <thead><tr><th>Found</th><th>Size</th><th>How many</th></tr></thead>
        <tbody>
          {#each l.counts as c (c.type + c.size_class + c.amount)}
            <tr>
              <td>{capital(wordsOf(TERMS.debris_types, c.type))}</td>
              <td>{c.size_class ? wordsOf(choices('debris_sizes'), c.size_class) : '–'}</td>
              <td class="figure"
                >{c.amount ? wordsOf(choices('debris_amounts'), c.amount) : c.count}{c.mass_mg
                  ? `, ${figure(c.mass_mg)} mg`
                  : ''}</td
              >
            </tr>
          {:else}<tr><td colspan="3">Nothing in it.</td></tr>{/each}
        </tbody>
      </table>
      {#if l.measured.length}
        <p>
          Measured on the pictures: {l.measured
            .map(
              (m) =>
                `${m.count} ${wordsOf(TERMS.debris_types, m.type)}, ${wordsOf(choices('debris_sizes'), m.size_class)}`,
            )
            .join('; ')}.
          <span class="muted">Measured pieces count, even where fewer pieces were counted by eye.</span>
        </p>
      {/if}
      <Says says={l.tells} unit={l.unit} bag="/api/looks/{l.id}/bag.pdf" />
      {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
      <p class="no-print">
        <a href="/inspect/{encodeURIComponent(l.engine)}">Another look at {l.engine}</a> ·
        <button class="plain" disabled={act.busy} onclick={() => void takeBack()}>Take this look back</button>
      </p>
    </div>
  {/if}
</main>

<style>
  .look {
    padding: 10px 18px 40px;
    display: grid;
    grid-template-columns: minmax(0, 1.7fr) minmax(0, 1fr);
    gap: 12px 32px;
    max-width: 1400px;
  }
  .left,
  .right {
    display: grid;
    gap: 10px;
    align-content: start;
  }
  @media (max-width: 900px) {
    .look {
      grid-template-columns: minmax(0, 1fr);
      padding: 8px 12px 40px;
    }
  }
</style>
