<script lang="ts">
  import FileButton from '$lib/controls/FileButton.svelte';
  import { page } from '$app/state';
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '$lib/api/act.svelte';
  import { api, body, PICTURES, sendPhoto, type Schemas } from '$lib/api/client';
  import { useOpened, useStop } from '$lib/api/queries';
  import CaseLink from '$lib/case/CaseLink.svelte';
  import EngineMap from '$lib/inspect/EngineMap.svelte';
  import FoundGraph from '$lib/inspect/FoundGraph.svelte';
  import { banks, figuresOf, mains } from '$lib/inspect/map';
  import OutcomeForm from '$lib/outcome/OutcomeForm.svelte';
  import TwoLines from '$lib/state/TwoLines.svelte';
  import WorkList from '$lib/work/WorkList.svelte';
  import { capital, choices, TERMS, wordsOf } from '$lib/terms';
  import { day, levelWord } from '$lib/words';

  const code = $derived(page.params.engine ?? '');
  const stop = useStop(() => code);
  const opened = useOpened(() => code);
  const o = $derived(opened.data?.engine === code ? opened.data : undefined);
  const s = $derived(stop.data?.code === code ? stop.data : undefined);
  const act = new Act(useQueryClient());

  let typed = $state({ kind: 'line' as 'line' | 'vee' | 'opposed', cylinders: 6 });
  const layout = $derived(o?.layout ?? typed);
  let chosen = $state<{ part: string; position: number | null }>({ part: 'rod_bearing', position: 1 });
  // What stands at the root is proposed as the outcome; the samples before it are taught by it.
  const root = $derived(o?.findings.find((f) => f.id === o.roots[0]));
  const part = $derived(TERMS.parts.find((p) => p.code === chosen.part) ?? TERMS.parts[0]);
  const scale = $derived(TERMS.conditions.filter((c) => c.scale === part.scale));
  const places = $derived(
    part.many === 'one' ? [] : part.many === 'main' ? mains(layout) : banks(layout).flat(),
  );
  const measured = $derived(part.measured);
  // Figures those readings come to, each with limits of its own.
  const limited = $derived(figuresOf(part.measured));

  const fresh = () => ({ condition: '', side: '', note: '', details: {} as Record<string, string> });
  let form = $state(fresh());
  let photos = $state<File[]>([]);
  let figures = $state<Schemas['FigureOut'][]>([]);
  let wrong = $state('');

  function pick(what: string, position: number | null) {
    chosen = { part: what, position };
    form = fresh();
  }
  const details = $derived(
    Object.fromEntries(
      Object.entries({
        ...form.details,
        condition: form.condition,
        side: form.side,
        position: chosen.position === null ? '' : String(chosen.position),
        order: String((o?.findings.length ?? 0) + 1),
      }).filter(([, v]) => v.trim()),
    ),
  );
  // What readings come to is worked out by the server while they are typed.
  $effect(() => {
    const sent = $state.snapshot(form.details);
    const what = chosen.part;
    if (!Object.values(sent).some((v) => v.trim())) {
      figures = [];
      wrong = '';
      return;
    }
    let old = false;
    const wait = setTimeout(() => {
      const given = Object.fromEntries(Object.entries(sent).filter(([, v]) => v.trim()));
      void body(
        api.POST('/api/engines/{code}/figures', {
          params: { path: { code } },
          body: { part: what, details: given },
        }),
      ).then(
        (found) => {
          if (!old) [figures, wrong] = [found.figures, ''];
        },
        (error: Error) => {
          if (!old) [figures, wrong] = [[], error.message];
        },
      );
    }, 200);
    return () => {
      old = true;
      clearTimeout(wait);
    };
  });

  const save = () =>
    act.run(async () => {
      const id: string = crypto.randomUUID();
      await body(
        api.POST('/api/engines/{code}/log', {
          params: { path: { code } },
          body: {
            id,
            kind: 'finding',
            on: s?.on ?? '',
            part: chosen.part,
            note: form.note,
            details,
            ...{ oil: '', grade: '', batch: '' },
          },
        }),
      );
      for (const file of photos) await sendPhoto(id, file, '');
      form = fresh();
      photos = [];
    }, 'Written down.');
  const link = (cause: string, effect: string, keep: boolean) =>
    act.run(() =>
      body(
        api.POST('/api/engines/{code}/links', {
          params: { path: { code } },
          body: { id: crypto.randomUUID(), cause, effect, keep },
        }),
      ),
    );
  const takeBack = (key: string) =>
    act.run(
      () => body(api.POST('/api/log/{key}/undo', { params: { path: { key } } })),
      'Taken back. It stays in the log as taken back.',
    );
  async function addPhotos(finding: string, files: File[]) {
    await act.run(
      async () => {
        for (const file of files) await sendPhoto(finding, file, '');
      },
      files.length === 1 ? 'The photograph is kept.' : 'The photographs are kept.',
    );
  }
  const mm = (x: number) => x.toFixed(3);
</script>

<svelte:head><title>{code}, opened · Keen Tracer</title></svelte:head>

{#snippet come(list: readonly Schemas['FigureOut'][])}
  {#each list as f, n (n)}
    <p>
      {capital(f.what)} <b class="figure">{mm(f.mm)} ± {mm(f.half)} mm</b>
      {#if f.low !== null || f.high !== null}<span class="muted"
          >{f.low === null
            ? `at most ${mm(f.high ?? 0)}`
            : f.high === null
              ? `at least ${mm(f.low)}`
              : `allowed ${mm(f.low)} to ${mm(f.high)}`}</span
        >{/if}
      {#if f.verdict}<b>{f.verdict}</b>{/if}
    </p>
  {/each}
{/snippet}

<main class="opened">
  {#if opened.isError}<p role="alert">{opened.error.message}</p>{/if}
  {#if o && s}
    <div class="left">
      <h1>{o.engine} {o.engine_name}, opened</h1>
      <TwoLines state={s.state} />
      <CaseLink engine={o.engine} from="opened" />
      <p class="caution no-print">
        Engine at rest, battery off, machine on rated stands. A large engine stopped hot: crankcase doors stay
        shut for 20 min. Burnt fluoro-rubber: do not touch. Nothing found here lifts a Stop.
      </p>
      {#if o.layout}<p class="muted">{o.layout_words}</p>{:else}
        <p class="row no-print">
          <span class="muted">The model does not say how it is built:</span>
          <label
            >It stands
            <select class="field" bind:value={typed.kind}
              >{#each choices('layouts') as l (l.code)}<option value={l.code}>{l.words}</option
                >{/each}</select
            ></label
          >
          <label
            >Cylinders
            <input class="field short" type="number" min="1" max="16" bind:value={typed.cylinders} /></label
          >
        </p>
      {/if}
      <EngineMap {layout} findings={o.findings} {chosen} onpick={pick} />
      <section aria-label="Findings">
        <h2>Findings, in the order found</h2>
        <ol>
          {#each o.findings as f (f.id)}
            <li>
              <b>{f.number}. {capital(f.where)}: {f.words}</b>
              <span class="muted"
                >{levelWord(f.grade)}, {day(f.on)}{f.share_pct ? `, ${f.share_pct} % of it` : ''}</span
              >
              {#if f.note}<p>{f.note}</p>{/if}
              {@render come(f.figures)}
              {#if f.wrong}<p role="alert">{f.wrong}</p>{/if}
              {#if f.source}<p class="muted">Limits: {f.source}</p>{/if}
              <p class="no-print acts">
                <button
                  class="plain"
                  disabled={act.busy}
                  aria-label="Take finding {f.number} back"
                  onclick={() => void takeBack(f.id)}>take it back</button
                >
                <FileButton
                  label="Add a photograph to finding {f.number}"
                  words="add a photograph"
                  plain
                  accept={PICTURES}
                  many
                  disabled={act.busy}
                  take={(files) => void addPhotos(f.id, files)}
                />
              </p>
              {#each f.pictures as p (p.id)}<a href="/inspect/picture/{p.id}"
                  ><img src="/api/photos/{p.sha256}/small" alt="Picture of {f.where}" /></a
                >{/each}
            </li>
          {:else}<li class="muted">
              Nothing yet. Press a part above and say how it is, also where it is sound.
            </li>{/each}
        </ol>
      </section>
      <FoundGraph opened={o} busy={act.busy} onlink={(a, b, keep) => void link(a, b, keep)} />
      <WorkList engine={o.engine} work={o.work} asked={o.asked} />
      <div class="no-print">
        {#key root?.id}<OutcomeForm
            engine={code}
            today={s.on}
            found={TERMS.parts.find((p) => p.code === root?.part)?.mode ?? ''}
            note={root ? `${capital(root.where)}: ${root.words}.` : ''}
          />{/key}
      </div>
      <p class="no-print">
        <button class="press" onclick={() => print()}>Print it on one page</button>
        {#if o.findings.length}<a
            href="/api/engines/{encodeURIComponent(code)}/opened.pdf"
            target="_blank"
            rel="noopener">Page for the customer (PDF)</a
          >{/if}
        <a href="/inspect/{encodeURIComponent(code)}/sheet">Bench sheet</a>
        <a href="/inspect/{encodeURIComponent(code)}">Filter, plug and pan</a>
      </p>
    </div>
    <form
      class="right no-print"
      aria-label="How it is"
      onsubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <label
        >Part
        <select class="field" value={chosen.part} onchange={(e) => pick(e.currentTarget.value, null)}
          >{#each TERMS.parts as p (p.code)}<option value={p.code}>{p.words}</option>{/each}</select
        ></label
      >
      {#if places.length}
        <div class="chips" role="group" aria-label="Which one">
          {#each places as n (n)}<button
              type="button"
              class="press"
              aria-pressed={chosen.position === n}
              onclick={() => (chosen = { ...chosen, position: n })}>{n}</button
            >{/each}
        </div>
      {/if}
      {#if part.sides.length}
        <div class="chips" role="group" aria-label="Side">
          {#each part.sides as side (side)}<button
              type="button"
              class="press"
              aria-pressed={form.side === side}
              onclick={() => (form.side = form.side === side ? '' : side)}>{side}</button
            >{/each}
        </div>
      {/if}
      <div class="chips" role="group" aria-label="Condition">
        {#each scale as c (c.code)}
          <button
            type="button"
            class="press grade{c.grade}"
            aria-pressed={form.condition === c.code}
            onclick={() => (form.condition = c.code)}>{capital(c.words)}</button
          >
        {/each}
      </div>
      <label
        >Share of its surface, % <input
          class="field short"
          inputmode="decimal"
          bind:value={form.details['share_pct']}
        /></label
      >
      <fieldset>
        <legend>Measured</legend>
        <label
          >in <select class="field" bind:value={form.details['length_unit']}
            >{#each choices('length_units') as u (u.code)}<option value={u.code === 'mm' ? '' : u.code}
                >{u.words}</option
              >{/each}</select
          ></label
        >
        {#each measured as name (name)}
          <label
            >{wordsOf(
              TERMS.details.map((d) => ({ code: d.name, words: d.words })),
              name,
            )}
            <input
              class="field"
              inputmode="decimal"
              placeholder="several with a space between"
              bind:value={form.details[name]}
            /></label
          >
        {/each}
        {#each limited as code (code)}
          <p class="limits">
            <span class="muted">{capital(wordsOf(choices('measures'), code))}</span>
            <label
              >at least <input
                class="field short"
                inputmode="decimal"
                aria-label="{wordsOf(choices('measures'), code)}, at least"
                bind:value={form.details[`${code}_low`]}
              /></label
            >
            <label
              >at most <input
                class="field short"
                inputmode="decimal"
                aria-label="{wordsOf(choices('measures'), code)}, at most"
                bind:value={form.details[`${code}_high`]}
              /></label
            >
          </p>
        {/each}
        <label
          >From which manual, page <input
            class="field"
            maxlength="120"
            bind:value={form.details['limit_source']}
          /></label
        >
        <div aria-live="polite">
          {@render come(figures)}
          {#if wrong}<p role="alert">{wrong}</p>{/if}
        </div>
      </fieldset>
      <FileButton
        label="Photographs"
        accept={PICTURES}
        many
        chosen={photos.map((f) => f.name)}
        take={(files) => (photos = files)}
      />
      <label>Note <input class="field" maxlength="2000" bind:value={form.note} /></label>
      <button
        class="press first"
        disabled={act.busy ||
          !form.condition ||
          (places.length > 0 && chosen.position === null) ||
          wrong !== ''}>Write it down</button
      >
      {#if act.said}<p role="status" class="said">{act.said}</p>{/if}
      {#if act.wrong}<p role="alert" class="caution">{act.wrong}</p>{/if}
    </form>
  {/if}
</main>

<style>
  .acts {
    display: flex;
    gap: 4px 18px;
  }
  .opened {
    padding: 10px 18px 60px;
    display: grid;
    grid-template-columns: minmax(0, 1.6fr) minmax(0, 1fr);
    gap: 12px 32px;
    max-width: 1400px;
  }
  .left,
  .right {
    display: grid;
    gap: 12px;
    align-content: start;
  }
  .row,
  .chips {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
  }
  .press,
  .field {
    min-height: 44px;
  }
  .press[aria-pressed='true'] {
    box-shadow: inset 0 -4px 0 var(--ink);
    font-weight: 650;
  }
  .grade1 {
    border-left: 5px solid var(--watch);
  }
  .grade2 {
    border-left: 5px solid var(--act);
  }
  .grade3 {
    border-left: 5px solid var(--stop);
  }
  .short {
    width: 96px;
  }
  .limits {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 10px;
    align-items: end;
  }
  .limits .muted {
    flex: 1 1 140px;
  }
  @media (max-width: 600px) {
    .limits .muted {
      flex-basis: 100%;
    }
  }
  fieldset {
    border: 1px solid var(--line);
    padding: 8px 12px;
    display: grid;
    gap: 6px;
  }
  label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
  }
  ol li {
    padding: 6px 0;
    border-bottom: 1px solid var(--line);
  }
  ol img {
    width: 112px;
    height: 76px;
    object-fit: cover;
  }
  @media print {
    .opened {
      display: block;
      max-width: none;
    }
  }
  @media (max-width: 900px) {
    .opened {
      grid-template-columns: minmax(0, 1fr);
      padding: 8px 12px 60px;
    }
  }
</style>
