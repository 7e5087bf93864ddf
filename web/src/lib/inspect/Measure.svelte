<script lang="ts">
  import { useQueryClient } from '@tanstack/svelte-query';
  import { Act } from '../api/act.svelte';
  import { api, body, type Schemas } from '../api/client';
  import { TERMS, wordsOf } from '../terms';
  import { KNOWN, mm, nudged, pointOf, sorted, type Point } from './lines';

  interface Props {
    picture: Pick<Schemas['OwnPicture'], 'id' | 'sha256' | 'caption' | 'width' | 'height' | 'lines'>;
    words: string;
    /** Lines can be drawn and taken back; false for a picture laid beside. */
    open?: boolean;
  }
  let { picture, words, open = true }: Props = $props();

  const act = new Act(useQueryClient());
  let box = $state<HTMLDivElement>();
  let zoom = $state(1);
  let doing = $state<'scale' | 'particle' | null>(null);
  let ends = $state<Point[]>([]);
  let dragged = $state<number | null>(null);
  let known = $state<(typeof KNOWN)[number]['code']>('rule');
  let size = $state<number | null>(10);
  let sd = $state(0.05);
  let type = $state<string>(TERMS.debris_types[2].code);
  const held = $derived(sorted(picture.lines));
  const lens = $derived(dragged === null ? null : ends[dragged]);
  const [first, second] = $derived([ends[0], ends[1]]);
  const stroke = $derived(picture.width / 500 / zoom);

  function begin(what: 'scale' | 'particle') {
    doing = doing === what ? null : what;
    ends = [];
  }
  function choose(code: string) {
    const k = KNOWN.find((x) => x.code === code) ?? KNOWN[0];
    known = k.code;
    size = k.mm;
    sd = k.sd;
  }
  const at = (event: PointerEvent): Point =>
    pointOf(event, (box as HTMLDivElement).getBoundingClientRect(), picture);

  function press(event: PointerEvent) {
    if (!doing || !open) return;
    event.preventDefault();
    const p = at(event);
    if (ends.length < 2) {
      ends = ends.length ? [...ends, p] : [p, p];
      dragged = 1;
    } else {
      const near = (e: Point) => Math.hypot(e.x - p.x, e.y - p.y);
      dragged = near(ends[0] as Point) < near(ends[1] as Point) ? 0 : 1;
    }
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
  }
  function move(event: PointerEvent) {
    if (dragged === null) return;
    const p = at(event);
    ends = ends.map((e, n) => (n === dragged ? p : e));
  }
  function onkeydown(event: KeyboardEvent, n: number) {
    const moved = ends[n] && nudged(ends[n], event.key, event.shiftKey, picture);
    if (!moved) return;
    ends = ends.map((e, k) => (k === n ? moved : e));
    event.preventDefault();
  }
  // Without a mouse a line begins in the middle, and its ends are walked to their places.
  function lay() {
    const y = picture.height / 2;
    ends = [
      { x: picture.width * 0.4, y },
      { x: picture.width * 0.6, y },
    ];
  }

  const keep = () =>
    act.run(async () => {
      if (!first || !second || !doing) return;
      const line = { x1: first.x, y1: first.y, x2: second.x, y2: second.y };
      const scale =
        doing === 'scale'
          ? { known_mm: size, known_sd_mm: sd, known_from: wordsOf(KNOWN, known), type: '' }
          : { type, known_from: '' };
      await body(
        api.POST('/api/pictures/{photo}/lines', {
          params: { path: { photo: picture.id } },
          body: { id: crypto.randomUUID(), kind: doing, ...line, ...scale },
        }),
      );
      ends = [];
      if (doing === 'scale') doing = 'particle';
    });
  const withdraw = (id: string) =>
    act.run(() =>
      body(
        api.POST('/api/pictures/{photo}/lines', {
          params: { path: { photo: picture.id } },
          body: { id: crypto.randomUUID(), kind: 'withdraw', withdraws: id, type: '', known_from: '' },
        }),
      ),
    );
</script>

<figure class="measure" aria-label={words}>
  <figcaption>
    <b>{words}</b>
    {#if held.scale}<span class="muted">scale from {held.scale.known_from}, {held.scale.known_mm} mm</span
      >{:else}<span class="muted">no scale yet</span>{/if}
    <span class="zoom" role="group" aria-label="How large">
      {#each [1, 2, 4] as z (z)}<button
          type="button"
          class="press"
          aria-pressed={zoom === z}
          onclick={() => (zoom = z)}>{z}×</button
        >{/each}
    </span>
  </figcaption>
  <div class="scroll">
    <!-- svelte-ignore a11y_no_static_element_interactions -->
    <div
      class="picture"
      class:drawing={doing}
      bind:this={box}
      style="width: {zoom * 100}%; aspect-ratio: {picture.width} / {picture.height}"
      onpointerdown={press}
      onpointermove={move}
      onpointerup={() => (dragged = null)}
      onpointercancel={() => (dragged = null)}
    >
      <img src="/api/photos/{picture.sha256}" alt={picture.caption || words} draggable="false" />
      <svg viewBox="0 0 {picture.width} {picture.height}" aria-hidden="true">
        {#each picture.lines as l (l.id)}
          <line
            x1={l.x1}
            y1={l.y1}
            x2={l.x2}
            y2={l.y2}
            class={l.kind}
            class:old={l.kind === 'scale' && l.id !== held.scale?.id}
            stroke-width={stroke * 2}
          />
        {/each}
        {#if first && second}<line
            x1={first.x}
            y1={first.y}
            x2={second.x}
            y2={second.y}
            class="now"
            stroke-width={stroke * 2}
          />{/if}
      </svg>
      {#each ends as e, n (n)}
        <button
          type="button"
          class="end"
          aria-label="{n === 0 ? 'First' : 'Second'} end, {Math.round(e.x)} across, {Math.round(e.y)} down"
          style="left: {(e.x / picture.width) * 100}%; top: {(e.y / picture.height) * 100}%"
          onkeydown={(event) => onkeydown(event, n)}
        ></button>
      {/each}
      {#if lens && box}
        <span
          class="lens"
          style="left: {lens.x > picture.width / 2 ? 4 : box.clientWidth - 134}px; top: 4px;
            background-image: url('/api/photos/{picture.sha256}');
            background-size: {box.clientWidth * 4}px auto;
            background-position: {65 - (lens.x / picture.width) * box.clientWidth * 4}px {65 -
            (lens.y / picture.height) * box.clientHeight * 4}px"
        ></span>
      {/if}
    </div>
  </div>
  {#if open}
    <div class="tools">
      <button type="button" class="press" aria-pressed={doing === 'scale'} onclick={() => begin('scale')}
        >Set the scale</button
      >
      <button
        type="button"
        class="press"
        aria-pressed={doing === 'particle'}
        disabled={!held.scale}
        title={held.scale ? '' : 'Set the scale first'}
        onclick={() => begin('particle')}>Measure a piece</button
      >
      {#if doing}
        {#if doing === 'scale'}
          <label
            >Along
            <select class="field" value={known} onchange={(e) => choose(e.currentTarget.value)}
              >{#each KNOWN as k (k.code)}<option value={k.code}>{k.words}</option>{/each}</select
            ></label
          >
          <label>mm <input class="field figure" type="number" step="any" min="0" bind:value={size} /></label>
          <label>± mm <input class="field figure" type="number" step="any" min="0" bind:value={sd} /></label>
        {:else}
          <label
            >It is
            <select class="field" bind:value={type}
              >{#each TERMS.debris_types as t (t.code)}<option value={t.code}>{t.words}</option
                >{/each}</select
            ></label
          >
        {/if}
        {#if ends.length < 2}<button type="button" class="press" onclick={lay}
            >Lay a line, move it by keys</button
          >{/if}
        <button
          type="button"
          class="press first"
          disabled={ends.length < 2 || act.busy || (doing === 'scale' && !size)}
          onclick={() => void keep()}>{doing === 'scale' ? 'Keep the scale' : 'Keep the length'}</button
        >
        <p class="muted">
          Draw from one end to the other; drag an end to mend it, arrows move it by a point. Hold the camera
          straight above: 10° off shortens by 1.5 %, 20° by 6 %, and nothing in the picture tells.
        </p>
      {/if}
    </div>
    {#if act.wrong}<p role="alert">{act.wrong}</p>{/if}
  {/if}
  {#if held.particles.length}
    <ul aria-label="Measured">
      {#each held.particles as p (p.id)}
        <li>
          {wordsOf(TERMS.debris_types, p.type)}
          <b class="figure">{p.mm === null || p.half === null ? 'no scale' : mm(p.mm, p.half)}</b>
          <span class="muted">{p.drawn_by}</span>
          {#if open}<button class="plain" onclick={() => void withdraw(p.id)}>take it back</button>{/if}
        </li>
      {/each}
    </ul>
  {/if}
</figure>

<style>
  .measure {
    display: grid;
    gap: 8px;
    min-width: 0;
  }
  figcaption {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    align-items: center;
  }
  .zoom {
    margin-left: auto;
    display: flex;
    gap: 4px;
  }
  .scroll {
    overflow: auto;
    max-height: 72vh;
    border: 1px solid var(--edge);
  }
  .picture {
    position: relative;
  }
  .picture.drawing {
    cursor: crosshair;
    touch-action: none;
  }
  img,
  .picture svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    display: block;
  }
  line {
    stroke: #0b6b70;
    paint-order: stroke;
  }
  line.scale {
    stroke: #111;
  }
  line.old {
    stroke-dasharray: 12 12;
  }
  line.now {
    stroke: #d7263d;
  }
  .end {
    position: absolute;
    width: 44px;
    height: 44px;
    margin: -22px 0 0 -22px;
    border-radius: 50%;
    border: 0;
    background: radial-gradient(circle, transparent 5px, #d7263d 5px 7px, transparent 7px);
    cursor: grab;
    touch-action: none;
    pointer-events: none;
  }
  .end:focus-visible {
    outline: 3px solid var(--due);
  }
  .lens {
    position: absolute;
    width: 130px;
    height: 130px;
    border: 2px solid #111;
    background-repeat: no-repeat;
    background-color: #fff;
    pointer-events: none;
  }
  .lens::after {
    content: '';
    position: absolute;
    inset: 0;
    background:
      linear-gradient(#d7263d, #d7263d) center / 1px 40px no-repeat,
      linear-gradient(#d7263d, #d7263d) center / 40px 1px no-repeat;
  }
  .tools {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 10px;
    align-items: end;
  }
  .tools p {
    flex-basis: 100%;
  }
  .press,
  .field {
    min-height: 44px;
  }
  .press[aria-pressed='true'] {
    box-shadow: inset 0 -4px 0 var(--ink);
    font-weight: 650;
  }
  label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
  }
  input.figure {
    width: 84px;
  }
  li {
    padding: 3px 0;
  }
</style>
