<script lang="ts">
  import { choices } from '$lib/terms';
  import type { ReadAs } from '../readas';

  interface Props {
    fresh: ReadAs['engines'];
    kind: string;
    meter: string;
    left: Record<string, boolean>;
    own: Record<string, string>;
  }
  let {
    fresh,
    kind = $bindable(),
    meter = $bindable(),
    left = $bindable(),
    own = $bindable(),
  }: Props = $props();
</script>

<section aria-label="Engines that are not on record">
  <h2>{fresh.length} {fresh.length === 1 ? 'engine is' : 'engines are'} not on record</h2>
  <div class="in-row">
    <label
      >They are
      <select class="field" bind:value={kind}
        ><option value="">choose a class</option>{#each choices('classes') as c (c.code)}<option
            value={c.code}>{c.words}</option
          >{/each}</select
      ></label
    >
    <label
      >Their meters count
      <select class="field" bind:value={meter}
        >{#each choices('meter_units') as m (m.code)}<option value={m.code}>{m.words}</option>{/each}</select
      ></label
    >
  </div>
  <ul>
    {#each fresh as e (e.said)}
      <li class="in-row">
        <label class="tick"
          ><input
            type="checkbox"
            checked={!left[e.said]}
            onchange={(x) => (left[e.said] = !x.currentTarget.checked)}
          />
          {e.said}{e.model ? `, ${e.model}` : ''}
          <span class="muted">{e.samples} {e.samples === 1 ? 'sample' : 'samples'}</span></label
        >
        <select
          class="field"
          aria-label="Class of {e.said}"
          value={own[e.said] ?? ''}
          onchange={(x) => (own[e.said] = x.currentTarget.value)}
          ><option value="">as above</option>{#each choices('classes') as c (c.code)}<option value={c.code}
              >{c.words}</option
            >{/each}</select
        >
      </li>
    {/each}
  </ul>
</section>

<style>
  section {
    display: grid;
    gap: 8px;
  }
  li {
    align-items: center;
  }
</style>
