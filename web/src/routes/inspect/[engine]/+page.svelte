<script lang="ts">
  import FileButton from '$lib/controls/FileButton.svelte';
  import Amount from '$lib/controls/Amount.svelte';
  import { mine } from '$lib/mine.svelte';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body, PICTURES, type Schemas } from '$lib/api/client';
  import { useLooks, useStop } from '$lib/api/queries';
  import CaseLink from '$lib/case/CaseLink.svelte';
  import FieldCheck from '$lib/collect/FieldCheck.svelte';
  import KeyDialog from '$lib/inspect/KeyDialog.svelte';
  import Says from '$lib/inspect/Says.svelte';
  import TrayGrid from '$lib/inspect/TrayGrid.svelte';
  import { Shots } from '$lib/inspect/photos.svelte';
  import { added, counts, empty, seenWords } from '$lib/inspect/tray';
  import TwoLines from '$lib/state/TwoLines.svelte';
  import { capital, choices, TERMS, wordsOf } from '$lib/terms';
  import { dayYear, levelWord } from '$lib/words';

  const code = $derived(page.params.engine ?? '');
  const stop = useStop(() => code);
  const looks = useLooks(() => code);
  const s = $derived(stop.data?.code === code ? stop.data : undefined);
  const act = new Act(useQueryClient());

  const fresh = () => ({
    id: crypto.randomUUID() as string,
    on: '',
    dial: null as number | null,
    place: 'filter',
    tool: '',
    seen: null as number | null,
    whole: null as number | null,
    both_sides: true,
    drained_min: null as number | null,
    hours: null as number | null,
    note: '',
  });
  let form = $state(fresh());
  let laid = $state(empty());
  let shots = $state(new Shots());
  let kept = $state(false);
  let keying = $state(false);
  let says = $state<Schemas['LookSays'] | null>(null);
  let check = $state({ part: '', details: {} as Record<string, string> });
  let logged = $state('');
  $effect.pre(() => {
    void code;
    form = fresh();
    laid = empty();
    shots = new Shots();
    kept = false;
  });

  $effect(() => {
    if (s && !form.on) form.on = s.on;
  });
  const place = $derived(TERMS.places_to_look.find((p) => p.code === form.place));
  const told = $derived({ ...form, counts: counts(laid) });
  const bad = $derived(form.seen !== null && form.whole !== null && form.seen > form.whole);

  // A tray before its first piece says nothing.
  const laidOut = $derived(told.counts.length > 0);

  // What it says is asked of the server, which knows this engine's earlier looks and its class.
  $effect(() => {
    const sent = $state.snapshot(told);
    if (!sent.on || bad || kept) return;
    let old = false;
    // What the tray said before says nothing of what lies in it now.
    says = null;
    const wait = setTimeout(() => {
      void body(api.POST('/api/engines/{code}/look', { params: { path: { code } }, body: sent })).then(
        (found) => {
          if (!old) says = found;
        },
        () => {
          if (!old) says = null;
        },
      );
    }, 150);
    return () => {
      old = true;
      clearTimeout(wait);
    };
  });

  async function save() {
    const worked = await act.run(async () => {
      if (!kept)
        await body(
          api.POST('/api/engines/{code}/looks', { params: { path: { code } }, body: $state.snapshot(told) }),
        );
      kept = true;
    });
    if (worked && (await shots.send(form.id))) void goto(`/inspect/look/${form.id}`);
  }
  const logCheck = () =>
    act.run(async () => {
      await body(
        api.POST('/api/engines/{code}/log', {
          params: { path: { code } },
          body: {
            id: crypto.randomUUID(),
            kind: 'field_check',
            on: s?.on ?? '',
            part: check.part,
            details: check.details,
            ...{ oil: '', grade: '', batch: '', note: '' },
          },
        }),
      );
      logged = `${wordsOf(TERMS.field_checks, check.part)} written down.`;
      check = { part: '', details: {} };
    });
</script>

<svelte:head><title>{code}, tray · Keen Tracer</title></svelte:head>

<main class="inspect">
  {#if stop.isError}<p role="alert">{stop.error.message}</p>{/if}
  {#if s}
    <div class="left">
      <h1>{s.code} {s.name}</h1>
      <TwoLines state={s.state} />
      <CaseLink engine={s.code} from="look" />
      <div class="chips" role="group" aria-label="Where do you look?">
        {#each TERMS.places_to_look as p (p.code)}
          <button
            type="button"
            class="press"
            aria-pressed={form.place === p.code}
            onclick={() => (form.place = p.code)}>{capital(p.words)}</button
          >
        {/each}
      </div>
      {#if place}
        <details>
          <summary>How to look at it</summary>
          <p>{place.how}</p>
        </details>
        <p class="caution">{place.caution}</p>
      {/if}
      <div class="facts">
        <Amount
          label="Meter"
          unit={s.unit}
          hint={s.dial === null ? '' : `last ${mine.plain(s.dial, s.unit)}`}
          bind:value={form.dial}
        />
        <label>Day <input class="field" type="date" bind:value={form.on} max={s.on} /></label>
        {#if place?.surface !== 'whole'}
          {@const unit = wordsOf(choices('surfaces'), place?.surface ?? '')}
          <label
            >Looked at, {unit}
            <input
              class="field"
              type="number"
              inputmode="decimal"
              step="any"
              min="0"
              aria-invalid={bad}
              bind:value={form.seen}
            /></label
          >
          <label
            >of how many {unit}
            <input
              class="field"
              type="number"
              inputmode="decimal"
              step="any"
              min="0"
              bind:value={form.whole}
            /></label
          >
        {/if}
        <label
          >Opened with
          <select class="field" bind:value={form.tool}>
            <option value="">not said</option>
            {#each choices('tools') as t (t.code)}<option value={t.code}>{t.words}</option>{/each}
          </select></label
        >
        <Amount label="Drained for" unit="minutes" bind:value={form.drained_min} />
        <Amount
          label="It collected debris for"
          unit={s.unit}
          hint="if not since the last look"
          bind:value={form.hours}
        />
        {#if place?.surface === 'pleats'}<label class="both"
            ><input type="checkbox" bind:checked={form.both_sides} /> both sides of the pleats</label
          >{/if}
        {#if seenWords(form.seen, form.whole, form.both_sides)}<p class="muted">
            {seenWords(form.seen, form.whole, form.both_sides)}
          </p>{/if}
        {#if bad}<p role="alert">More was looked at than there is.</p>{/if}
      </div>
      <div class="chips">
        <button type="button" class="press" onclick={() => (keying = true)}>What is it? A key</button>
        <a class="press" href="/inspect/{encodeURIComponent(s.code)}/opened">The engine is opened</a>
        <FileButton label="Photograph" accept={PICTURES} camera many take={(files) => shots.add(files)} />
      </div>
      {#if shots.list.length}
        <ul class="shots" aria-label="Photographs of this look">
          {#each shots.list as shot (shot.key)}
            <li>
              <img src={shot.url} alt="" />
              <span class="muted" role="status"
                >{shot.state === 'kept'
                  ? 'kept'
                  : shot.state === 'sending'
                    ? 'sending…'
                    : shot.state === 'failed'
                      ? `not sent: ${shot.why}`
                      : 'goes with the look'}</span
              >
              {#if shot.state === 'waiting'}<button class="plain" onclick={() => shots.drop(shot.key)}
                  >Not this one</button
                >{/if}
            </li>
          {/each}
        </ul>
      {/if}
      <TrayGrid bind:laid />
      <label>Note <input class="field" bind:value={form.note} maxlength="2000" /></label>
    </div>
    <div class="right">
      {#if says && laidOut}<Says {says} unit={s.unit} />{/if}
      <div class="save">
        {#if laidOut}<b class="phone"
            ><span class="muted">This look:</span> {says ? levelWord(says.level) : 'is being judged'}</b
          >{/if}
        <button class="press first" disabled={act.busy || bad} onclick={() => void save()}
          >{kept
            ? 'Send the pictures again'
            : told.counts.length
              ? 'Save the look'
              : 'Save: nothing found'}</button
        >
      </div>
      {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
      <details>
        <summary>A check beside it: settle, crackle, blotter, level</summary>
        <FieldCheck engine={s.code} bind:check={check.part} bind:details={check.details} />
        <button class="press" disabled={act.busy || !check.part} onclick={() => void logCheck()}
          >Write the check down</button
        >
        {#if logged}<p role="status">{logged}</p>{/if}
      </details>
      <section aria-label="Earlier looks">
        <h2>Earlier looks</h2>
        <ul>
          {#each looks.data ?? [] as l (l.id)}
            <li>
              <a href="/inspect/look/{l.id}"
                ><b>{dayYear(l.on_date)}</b>
                {wordsOf(choices('debris_places'), l.place)} <span class="muted">{l.found}</span></a
              >
            </li>
          {:else}<li class="muted">None yet.</li>{/each}
        </ul>
      </section>
    </div>
  {/if}
</main>
{#if keying}
  <KeyDialog
    onclose={() => (keying = false)}
    onfound={(type) => {
      laid = added(laid, type, '0.5-1', 1);
      keying = false;
    }}
  />
{/if}

<style>
  .inspect {
    padding: 10px 18px 60px;
    display: grid;
    grid-template-columns: minmax(0, 1.55fr) minmax(0, 1fr);
    gap: 12px 32px;
    max-width: 1400px;
  }
  .left,
  .right {
    display: grid;
    gap: 10px;
    align-content: start;
  }
  .chips {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .press,
  .field,
  summary {
    min-height: 44px;
  }
  .facts .field {
    width: 100%;
    min-width: 0;
  }
  summary {
    display: flex;
    align-items: center;
    cursor: pointer;
  }
  .chips .press[aria-pressed='true'] {
    box-shadow: inset 0 -4px 0 var(--ink);
    font-weight: 650;
  }
  .facts {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
    gap: 6px 14px;
    align-items: end;
  }
  label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
  }
  .both {
    display: flex;
    gap: 8px;
    align-items: center;
    min-height: 44px;
  }
  .both input {
    width: 24px;
    height: 24px;
  }
  .shots {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
  }
  .shots li {
    display: grid;
    width: 120px;
  }
  .shots img {
    width: 120px;
    height: 84px;
    object-fit: cover;
    border: 1px solid var(--line);
  }
  .save {
    display: flex;
    gap: 12px;
    align-items: center;
  }
  .phone {
    display: none;
  }
  .right li a {
    display: block;
    padding: 5px 0;
    text-decoration: none;
    border-bottom: 1px solid var(--line);
  }
  @media (max-width: 900px) {
    .inspect {
      grid-template-columns: minmax(0, 1fr);
      padding: 8px 12px 90px;
    }
    .save {
      position: fixed;
      inset: auto 0 var(--thumb) 0;
      background: var(--paper-raised);
      border-top: 1px solid var(--edge);
      padding: 8px 12px;
      justify-content: space-between;
      z-index: 5;
    }
    .phone {
      display: block;
    }
  }
</style>
