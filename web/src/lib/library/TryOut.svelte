<script lang="ts">
  import type { Schemas } from '../api/client';
  import Stick from '../draw/Stick.svelte';
  import { day, levelWord } from '../words';

  interface Props {
    found: Schemas['TriedOut'];
  }
  let { found: f }: Props = $props();
</script>

<section aria-label="What would change">
  <h2>
    {f.raised + f.lowered === 0
      ? 'No verdict would change'
      : `${f.raised} verdict${f.raised === 1 ? '' : 's'} would rise, ${f.lowered} would fall`}
  </h2>
  <p class="muted">
    Tried on {f.samples} samples of {f.tried}
    {f.tried === 1 ? 'engine' : 'engines'}{f.tried < f.engines ? ` of ${f.engines}` : ''} that this bears on. Signed
    verdicts are never altered: one that would be higher comes back to Judge.
  </p>
  {#if f.changes.length}
    <table class="plain-table">
      <thead
        ><tr><th>Sample</th><th>Engine</th><th>Drawn</th><th>Now</th><th>Would be</th><th></th></tr></thead
      >
      <tbody>
        {#each f.changes as c (c.sample)}
          <tr>
            <td><a href="/judge/{encodeURIComponent(c.sample)}">{c.sample}</a></td>
            <td>{c.engine}</td>
            <td>{day(c.on)}</td>
            <td><Stick level={c.was} height={16} /> {levelWord(c.was)}</td>
            <td><Stick level={c.now} height={16} /> <b>{levelWord(c.now)}</b></td>
            <td class="muted">{c.signed ? 'signed' : ''}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
</section>

<style>
  section {
    display: grid;
    gap: 6px;
  }
</style>
