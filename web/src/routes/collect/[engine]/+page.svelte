<script lang="ts">
  import FileButton from '$lib/controls/FileButton.svelte';
  import Amount from '$lib/controls/Amount.svelte';
  import CaseLink from '$lib/case/CaseLink.svelte';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { api, ApiError, body, PICTURES, sendPhoto } from '$lib/api/client';
  import { refresh, useRound, useStop } from '$lib/api/queries';
  import Checklist from '$lib/collect/Checklist.svelte';
  import { last, remember } from '$lib/collect/last.svelte';
  import LastDone from '$lib/collect/LastDone.svelte';
  import LogForm from '$lib/collect/LogForm.svelte';
  import Fold from '$lib/state/Fold.svelte';
  import TwoLines from '$lib/state/TwoLines.svelte';
  import Looks from '$lib/collect/Looks.svelte';
  import Scan from '$lib/controls/Scan.svelte';
  import Pad from '$lib/controls/Pad.svelte';
  import { meterSaid, onOil, type Look } from '$lib/collect/register';
  import { topUps } from '$lib/collect/topup';
  import { mine } from '$lib/mine.svelte';
  import { choices, TERMS, wordsOf } from '$lib/terms';
  import { figure, meter } from '$lib/words';

  const code = $derived(page.params.engine ?? '');
  const client = useQueryClient();
  const round = useRound(() => page.url.searchParams.get('depot'));
  const stop = useStop(() => code);
  const s = $derived(stop.data?.code === code ? stop.data : undefined);

  // The identity is made here, once: sending the same bottle again registers it once.
  const fresh = () => ({
    id: crypto.randomUUID() as string,
    label: '',
    typed: '',
    topUp: 0 as number | null,
    look: null as Look | null,
    smell: '',
    level: 0.5,
    changed: false,
    note: '',
    photo: null as File | null,
  });
  let bottle = $state(fresh());
  let step = $state<'meter' | 'look'>('meter');
  let busy = $state(false);
  let wrong = $state('');
  let more = $state(false);
  let toppedAs = $state('');
  const NONE = { typed: 'none', litres: 0 };
  $effect.pre(() => {
    void code;
    bottle = fresh();
    step = 'meter';
    more = false;
    wrong = '';
  });
  const label = $derived(bottle.label || `${s?.next_label ?? ''}`);
  const halted = $derived(s?.state.may_run === 'do_not_run' || s?.state.may_run === 'past_its_time');
  const said = $derived(s ? meterSaid(bottle.typed, s) : { kind: 'empty' as const, words: '' });
  const next = $derived.by(() => {
    const stops = round.data?.stops ?? [];
    const at = stops.findIndex((x) => x.code === code);
    return stops[at + 1]?.code;
  });

  async function done() {
    if (!s || !bottle.look) return;
    busy = true;
    wrong = '';
    try {
      const recorded = await body(
        api.POST('/api/bottles', {
          body: {
            id: bottle.id,
            sample: label,
            engine: s.code,
            on: s.on,
            dial: Number(bottle.typed),
            purpose: s.purpose,
            method: s.method as '' | 'valve' | 'vacuum' | 'drain_stream',
            top_up_l: bottle.topUp,
            oil_changed_after: bottle.changed,
            appearance: bottle.look.code,
            smell: bottle.smell || bottle.look.smell,
            level_on_stick: bottle.level,
            note: bottle.note,
            resample_of: s.resample_of,
            typed: toppedAs ? { top_up_l: toppedAs } : {},
          },
        }),
      );
      if (bottle.photo) await sendPhoto(bottle.id, bottle.photo, '');
      remember(`Bottle ${label} of ${s.code} registered.`, recorded);
      await refresh(client);
      void goto(
        next ? `/collect/${encodeURIComponent(next)}${page.url.search}` : `/collect${page.url.search}`,
      );
    } catch (error) {
      wrong = error instanceof ApiError ? error.message : 'Not sent. It stays here; send it again.';
    }
    busy = false;
  }
</script>

<svelte:head><title>{code}, bottle · Keen Tracer</title></svelte:head>

<main class="bottle">
  <LastDone />
  {#if s}
    <div class="head">
      <label class="muted"
        >Bottle
        <input
          class="field label"
          bind:value={bottle.label}
          placeholder={`${s.next_label}`}
          aria-label="Bottle"
          maxlength="60"
        />
      </label>
      <h1>{s.code} {s.name}</h1>
      <Scan onfound={(found) => (bottle.label = found)} />
      <span class="muted"
        >{wordsOf(choices('methods'), s.method)} ·
        <a href="/engine/{encodeURIComponent(s.code)}">history</a></span
      >
    </div>
    {#if !last.state}<TwoLines state={s.state} />{/if}
    <CaseLink engine={s.code} from="symptom" />
    {#if halted}
      <p class="halt" role="alert">Do not start it for the sample; draw it standing, or leave it.</p>
    {/if}
    {#if step === 'meter'}
      <Checklist stop={s} />
      <div class="reading">
        <span class="muted">Meter now, {s.unit}</span>
        <output class="big figure" aria-label="Meter now">{bottle.typed ? bottle.typed : '–'}</output>
        <span class={said.kind} aria-live="polite">{said.words}</span>
        <span class="muted"
          >{onOil(bottle.typed, s)}{s.last_sample_dial === null
            ? ''
            : ` · last sample at ${meter(s.last_sample_dial, s.unit)}`}</span
        >
      </div>
      <Pad bind:typed={bottle.typed} />
      <div role="group" aria-label="Topped up since last sample">
        <span class="muted">Topped up since the last sample</span>
        <div class="chips">
          {#each [NONE, ...topUps(s.sump_l, mine.unit('L'))] as amount (amount.typed)}
            <button
              type="button"
              class="press"
              aria-pressed={!more && bottle.topUp === amount.litres}
              onclick={() => {
                more = false;
                bottle.topUp = amount.litres;
                toppedAs = amount.litres && !amount.typed.endsWith(' L') ? amount.typed : '';
              }}>{amount.typed}</button
            >
          {/each}
          <button type="button" class="press" aria-pressed={more} onclick={() => (more = true)}>more</button>
        </div>
        {#if more}<Amount label="Topped up" unit="L" bind:value={bottle.topUp} bind:typed={toppedAs} />{/if}
      </div>
      <button
        class="press first go"
        class:near={said.kind === 'ok'}
        disabled={said.kind === 'empty' || said.kind === 'wrong'}
        onclick={() => (step = 'look')}>Bottle is full and capped</button
      >
    {:else}
      <p class="muted">
        Bottle {label} at {figure(Number(bottle.typed))}
        {s.unit} · <button class="back" onclick={() => (step = 'meter')}>change</button>
      </p>
      <h2>How does it look?</h2>
      <Looks chosen={bottle.look} onpick={(look) => (bottle.look = look)} />
      <div role="group" aria-label="Smell">
        <span class="muted">Smell, from a hand's breadth</span>
        <div class="chips">
          {#each choices('smells') as m (m.code)}
            <button
              type="button"
              class="press"
              aria-pressed={(bottle.smell || bottle.look?.smell || '') === m.code}
              onclick={() => (bottle.smell = m.code)}>{m.words}</button
            >
          {/each}
        </div>
      </div>
      <div role="group" aria-label="Level on the stick">
        <span class="muted">Level on the stick</span>
        <div class="chips">
          {#each TERMS.stick_levels as l (l.at)}
            <button
              type="button"
              class="press"
              aria-pressed={bottle.level === l.at}
              onclick={() => (bottle.level = l.at)}>{l.words}</button
            >
          {/each}
        </div>
      </div>
      <div role="group" aria-label="Oil changed after the sample">
        <span class="muted">Oil changed after the sample</span>
        <div class="chips">
          <button
            type="button"
            class="press"
            aria-pressed={!bottle.changed}
            onclick={() => (bottle.changed = false)}>no</button
          >
          <button
            type="button"
            class="press"
            aria-pressed={bottle.changed}
            onclick={() => (bottle.changed = true)}>yes</button
          >
        </div>
        {#if bottle.changed}<p class="muted">
            Log the oil change itself below, with its oil and litres.
          </p>{/if}
      </div>
      <label class="muted"
        >A word, if something is odd <input class="field" bind:value={bottle.note} maxlength="2000" /></label
      >
      <FileButton
        label="Photograph, if it says more"
        accept={PICTURES}
        camera
        chosen={bottle.photo ? [bottle.photo.name] : []}
        take={([one]) => (bottle.photo = one ?? null)}
      />
      <button class="press first go near" disabled={!bottle.look || busy} onclick={() => void done()}>
        {busy ? 'Sending…' : next ? `Done · next: ${next}` : 'Done'}
      </button>
    {/if}
    {#if wrong}<p role="alert" class="halt">{wrong}</p>{/if}
    <Fold engine={s.code} state={s.state} />
    {#key `${s.code}${page.url.search}`}<LogForm stop={s} today={s.on} />{/key}
  {:else if stop.isError}
    <p role="alert">{stop.error.message}</p>
  {:else}<p class="muted">Reading…</p>{/if}
</main>

<style>
  .bottle {
    padding: 8px 16px 60px;
    max-width: 460px;
    width: 100%;
    display: grid;
    gap: 10px;
    align-content: start;
  }
  .head {
    display: grid;
    grid-template-columns: 1fr auto auto;
    gap: 0 8px;
    align-items: end;
  }
  .head h1 {
    grid-column: 1;
    font-size: 20px;
  }
  .head > span {
    grid-column: 1 / -1;
    font-size: 13px;
  }
  .head label {
    grid-row: 1;
    grid-column: 3;
    font-size: 13px;
  }
  .reading {
    display: grid;
    gap: 1px;
    font-size: 13.5px;
  }
  .big {
    font-size: 38px;
    font-weight: 700;
    line-height: 1.1;
  }
  .ask,
  .wrong {
    color: var(--act);
    font-weight: 650;
  }
  .chips {
    display: flex;
    gap: 6px;
    flex-wrap: wrap;
  }
  .chips .press {
    flex: 1;
    min-height: 48px;
    padding: 4px 6px;
  }
  .chips .press[aria-pressed='true'] {
    box-shadow: inset 0 -4px 0 var(--ink);
    font-weight: 700;
  }
  .field {
    min-height: 44px;
    width: 100%;
  }
  .field.label {
    width: 92px;
    font-size: 16px;
  }
  .go {
    min-height: 56px;
    font-size: 17px;
    font-weight: 650;
  }
  /* In reach of the thumb once the figure is whole; before that it may not cover the keys. */
  .go.near:enabled {
    position: sticky;
    bottom: calc(8px + var(--thumb));
  }
  .halt {
    border-left: 5px solid var(--stop);
    padding-left: 10px;
    color: var(--stop);
  }
  .back {
    text-decoration: underline;
    cursor: pointer;
    min-height: 44px;
  }
</style>
