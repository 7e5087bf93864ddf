<script lang="ts">
  import { mine } from '../mine.svelte';
  import { into, readAmount, unitOf } from '../units';

  interface Props {
    label: string;
    /** The unit the figure is kept in; a bare figure is taken in the person's own. */
    unit: string;
    value: number | null;
    /** As it was typed, where that was in another unit. */
    typed?: string;
    required?: boolean;
    wrong?: string;
  }
  let {
    label,
    unit,
    value = $bindable(),
    typed = $bindable(''),
    required = false,
    wrong = '',
  }: Props = $props();

  const shown = $derived(mine.unit(unit));
  /** With every digit: a figure that is only looked at must come back as it was. */
  const whole = (x: number): string => {
    const [a, b] = [unitOf(unit), unitOf(shown)];
    return `${Number((a && b ? into(x, a, b) : x).toPrecision(9))}`;
  };
  let text = $state(typed || (value === null ? '' : whole(value)));
  let given = $state.raw(readAmount('', 'L'));
  // What somebody else puts in (a pasted report, a record that was opened) shows; what is typed stays as it is.
  $effect.pre(() => {
    if (value !== readAmount(text, unit, shown).value)
      text = value === null ? (given.wrong ? text : '') : typed || whole(value);
  });

  function read() {
    given = readAmount(text, unit, shown);
    value = given.value;
    typed = given.typed;
  }
</script>

<label class:wrong={given.wrong || wrong}
  >{label}, {shown}
  <input
    class="field short"
    inputmode="decimal"
    autocomplete="off"
    maxlength="40"
    aria-invalid={Boolean(given.wrong || wrong)}
    {required}
    bind:value={text}
    oninput={read}
  />
  {#if given.wrong || wrong}<span class="why" role="alert">{given.wrong || wrong}</span>
  {:else if given.typed && value !== null}<span class="muted why"
      >= {value.toPrecision(4).replace(/\.?0+$/, '')} {unit}</span
    >{/if}
</label>

<style>
  .short {
    width: 118px;
  }
  .why {
    font-size: 12.5px;
    display: block;
    max-width: 220px;
  }
  .wrong .why {
    color: var(--act);
  }
</style>
