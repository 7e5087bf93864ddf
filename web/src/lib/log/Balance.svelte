<script lang="ts">
  import { mine } from '../mine.svelte';
  import type { Schemas } from '../api/client';
  import { computed, meter } from '../words';

  interface Props {
    book: Schemas['Logbook'];
  }
  let { book }: Props = $props();

  const litres = (x: number | null) => (x === null ? '' : mine.plain(x, 'L'));
  const unit = $derived(mine.unit('L'));
  const per = $derived(`L per 100 ${book.unit}`);
  const use = $derived.by(() => {
    const t = book.oil_use;
    if (!t) return 'Oil use: too few charges to say anything.';
    if (t.word === 'too few') return `Oil use: ${t.n} charges, too few for a trend.`;
    const p = t.p === null ? '' : t.p < 0.001 ? ', p under 0.001' : `, p ${computed(t.p)}`;
    return `Oil use from charge to charge: ${t.word} (Theil–Sen with Kendall's test, n ${t.n}${p}).`;
  });
  function came(b: Schemas['ChargeBalance']): string {
    if (b.in_word === 'came in') return `${litres(b.least_in)} to ${litres(b.most_in)} ${unit} came in`;
    return b.in_word ? `up to ${litres(b.most_in)} ${unit} ${b.in_word}` : '';
  }
</script>

<section aria-label="Oil in and out">
  <h2>Oil in and out</h2>
  <p class="muted">
    {book.sump_l ? `Fill on record: ${mine.says(book.sump_l, 'L')}. ` : ''}{book.stick}
    {use}
  </p>
  <div class="across">
    <table class="plain-table">
      <thead
        ><tr
          ><th class="num">Changed at</th><th class="num">Filled, {unit}</th><th>Fill</th><th class="num"
            >Topped up, {unit}</th
          ><th class="num">Use, {per}</th><th class="num">Drained, {unit}</th><th>Other liquid</th></tr
        ></thead
      >
      <tbody>
        {#each book.balance.slice(0, 8) as b (b.number)}
          <tr>
            <td class="num">{meter(b.start, book.unit)}</td>
            <td class="num figure">{litres(b.filled)}</td>
            <td class:odd={b.fill_word.startsWith('too')}
              >{b.fill_word}{b.over_fill && b.fill_word.startsWith('too')
                ? `, ${litres(Math.abs(b.over_fill))} ${unit}`
                : ''}</td
            >
            <td class="num figure">{litres(b.topped)}</td>
            <td class="num figure">{b.per_100 === null ? '' : computed(b.per_100)}</td>
            <td class="num figure"
              >{litres(b.drained)}{b.drained_c === null ? '' : ` at ${mine.says(b.drained_c, '°C')}`}</td
            >
            <td class:odd={b.in_word}>{came(b)}</td>
          </tr>
        {:else}<tr><td colspan="7" class="muted">No oil change is on record.</td></tr>
        {/each}
      </tbody>
    </table>
  </div>
  <p class="muted">
    Litres drained are brought to 20 °C where their temperature was written down (0.075 % a degree). The lower
    figure takes no oil as used, the upper one takes the top-ups as replacing what was used and a tenth as
    left in filter and cooler. A bent or wrong stick is the other explanation.
  </p>
</section>

<style>
  section {
    display: grid;
    gap: 6px;
  }
  .odd {
    color: var(--act);
    font-weight: 650;
  }
  p {
    font-size: 13px;
  }
</style>
