<script lang="ts">
  import { mine } from '$lib/mine.svelte';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { api, ApiError, body, once, type Level, UNKNOWN } from '$lib/api/client';
  import { refresh, useQueue, useSample, useState } from '$lib/api/queries';
  import HowPanel from '$lib/judge/HowPanel.svelte';
  import Ladders from '$lib/judge/Ladders.svelte';
  import Queue from '$lib/judge/Queue.svelte';
  import QuietPass from '$lib/judge/QuietPass.svelte';
  import SignBox from '$lib/judge/SignBox.svelte';
  import VerdictPanel from '$lib/judge/VerdictPanel.svelte';
  import { useKeys } from '$lib/frame/keys';
  import { dayYear, meter } from '$lib/words';

  const client = useQueryClient();
  const who = useState();
  const queue = useQueue();
  const waiting = $derived(queue.data ?? []);
  // The first of the queue stays in view once it is shown: what somebody else signs moves the queue, never
  // the sample under the hands of this person.
  let first = $state<string | null>(null);
  $effect(() => {
    if (!page.params.sample && first === null && waiting[0]) first = waiting[0].sample;
  });
  const code = $derived(page.params.sample ?? first);
  const sample = useSample(() => code);
  const s = $derived(sample.data?.sample === code ? sample.data : undefined);

  let lit = $state<string | null>(null);
  let all = $state(false);
  let how = $state<string | null>(null);
  let quiet = $state(false);
  let busy = $state(false);
  let wrong = $state('');
  let last = $state<{ sample: string; decision: string } | null>(null);
  let box = $state<SignBox>();
  const signedByMe = $derived(
    s?.decision?.kind === 'sign_off' && s.decision.decided_by === who.data?.person?.name
      ? { sample: s.sample, decision: s.decision.id }
      : last,
  );

  function show(next: string | undefined) {
    lit = null;
    wrong = '';
    first = null;
    void goto(next ? `/judge/${encodeURIComponent(next)}` : '/judge', { keepFocus: true });
  }
  function move(step: 1 | -1) {
    const at = waiting.findIndex((r) => r.sample === code);
    const next = waiting[at < 0 ? 0 : at + step];
    if (next) show(next.sample);
  }

  /** Do a write; on refusal say why and keep everything as it is on the page. */
  async function write(does: () => Promise<void>) {
    busy = true;
    wrong = '';
    try {
      await does();
      await refresh(client);
    } catch (error) {
      wrong = error instanceof ApiError ? error.message : UNKNOWN;
      await client.invalidateQueries({ queryKey: ['sample'] });
    }
    busy = false;
  }

  async function sign(level: Level, reason: string, note: string) {
    const now = s;
    if (!now?.verdict) return;
    const basis = now.verdict.basis;
    const at = waiting.findIndex((r) => r.sample === now.sample);
    const next = at >= 0 ? (waiting[at + 1] ?? waiting[at - 1]) : undefined;
    await write(async () => {
      const sent = { level, basis, supersedes: now.decision?.id ?? null, reason, note };
      const done = await body(
        api.POST('/api/samples/{code}/sign', {
          params: { path: { code: now.sample }, header: once(`sign ${now.sample}`, sent) },
          body: sent,
        }),
      );
      last = { sample: now.sample, decision: done.decision ?? '' };
      // An accepted Stop stays in view: it still needs a run decision.
      if (level < 3) show(next?.sample);
    });
  }

  async function undo() {
    const of = signedByMe;
    if (!of) return;
    await write(async () => {
      const sent = { decision: of.decision };
      await body(
        api.POST('/api/samples/{code}/undo', {
          params: { path: { code: of.sample }, header: once(`undo ${of.sample}`, sent) },
          body: sent,
        }),
      );
      last = null;
      show(of.sample);
    });
  }

  useKeys(
    {
      j: () => move(1),
      k: () => move(-1),
      a: () => box?.accept(),
      n: () => void box?.openNote(),
      u: () => void undo(),
      e: () => (all = !all),
      q: () => (quiet = !quiet),
      Escape: () => {
        box?.cancel();
        quiet = false;
      },
      0: () => void box?.choose(0),
      1: () => void box?.choose(1),
      2: () => void box?.choose(2),
      3: () => void box?.choose(3),
    },
    [
      { keys: 'j k', does: 'next or previous waiting sample' },
      { keys: 'a', does: 'accept the proposed level' },
      { keys: '0 1 2 3', does: 'set Steady, Watch, Act, Stop; a reason, then Enter' },
      { keys: 'n', does: 'note' },
      { keys: 'u', does: 'undo your sign-off' },
      { keys: 'q', does: 'quiet pass over the all-Steady samples' },
      { keys: 'e', does: 'unfold or fold all channels' },
    ],
  );
</script>

<svelte:head><title>{s ? `${s.engine} ${s.sample}` : 'Judge'} · Keen Tracer</title></svelte:head>

<div class="desk">
  <Queue queue={waiting} sample={code} />
  {#if quiet}
    <QuietPass queue={waiting} onclose={() => (quiet = false)} />
  {:else if s}
    <main class="centre">
      <h1>
        <a href="/engine/{encodeURIComponent(s.engine)}">{s.engine}</a>
        {s.engine_name}
      </h1>
      <p class="muted facts">
        sample {s.sample} · {dayYear(s.drawn_on)} at {meter(s.dial, s.unit)} ·
        {#if s.hours_on_oil === null}hours on oil not known{:else}{Math.round(s.hours_on_oil)}
          {s.unit} on oil{/if}{#if s.topped_l}, {mine.says(s.topped_l, 'L')} topped up{/if} ·
        {s.oil || 'oil not known'} · {s.laboratory || 'no laboratory'}{s.purpose === 'routine'
          ? ''
          : ` · ${s.purpose.replace('_', ' ')}`}{s.appearance
          ? ` · looks ${s.appearance.replace('_', ' ')}`
          : ''}
      </p>
      {#if s.ladders.length}
        <Ladders sample={s} {lit} {all} onhow={(column) => (how = column)} />
      {:else}
        <p class="empty">The bottle is out: no figures have come back yet. Import them under Exchange.</p>
      {/if}
    </main>
    <VerdictPanel sample={s} today={who.data?.today ?? ''} {lit} onlight={(analyte) => (lit = analyte)}>
      {#key s.sample}
        <SignBox
          bind:this={box}
          sample={s}
          {busy}
          {wrong}
          onsign={(l, r, n) => void sign(l, r, n)}
          onundo={() => void undo()}
          canUndo={signedByMe !== null}
        />
      {/key}
    </VerdictPanel>
    <HowPanel sample={s.sample} column={how} onclose={() => (how = null)} />
  {:else if sample.isError}
    <main class="centre"><p class="empty" role="alert">{sample.error.message}</p></main>
  {:else if queue.data && !waiting.length && code === null}
    <main class="centre">
      <div class="empty">
        <h1>Nothing waits for a verdict</h1>
        <p>
          New figures come in under <a href="/exchange">Exchange</a>; signed samples are on each engine's
          page.
        </p>
        {#if signedByMe}<button class="press" onclick={() => void undo()}
            >Undo your last sign-off <kbd>u</kbd></button
          >{/if}
      </div>
    </main>
  {:else}
    <main class="centre"><p class="empty muted">Reading…</p></main>
  {/if}
</div>

<style>
  .desk {
    flex: 1;
    min-height: 0;
    display: grid;
    grid-template-columns: 190px minmax(0, 1fr) 320px;
    height: calc(100vh - 46px);
  }
  .centre {
    overflow: auto;
    padding: 12px 14px 30px;
  }
  .facts {
    font-size: 13px;
  }
  .empty {
    padding: 30px 0;
  }
  @media (max-width: 1000px) {
    .desk {
      display: block;
      height: auto;
    }
  }
</style>
