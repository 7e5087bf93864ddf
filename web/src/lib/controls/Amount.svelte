<script lang="ts">
  import { untrack } from 'svelte';
  import { mine } from '../mine.svelte';
  import { into, readAmount, unitOf } from '../units';

  interface Props {
    label: string;
    /** The unit the figure is kept in, "" for a bare figure; one without a unit is taken in the person's own. */
    unit: string;
    /** The least there can be, in that unit; null where it may be below nothing. */
    least?: number | null;
    /** What it read last, or what is expected, for whoever looks at the gauge. */
    hint?: string;
    placeholder?: string;
    disabled?: boolean;
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
    least = 0,
    hint = '',
    placeholder = '',
    disabled = false,
  }: Props = $props();

  const shown = $derived(mine.unit(unit));
  /** With every digit: a figure that is only looked at must come back as it was. */
  const whole = (x: number): string => {
    const [a, b] = [unitOf(unit), unitOf(shown)];
    return `${Number((a && b ? into(x, a, b) : x).toPrecision(9))}`;
  };
  let text = $state(typed || (value === null ? '' : whole(value)));
  let given = $state.raw(readAmount('', 'L'));
  // What this field came to itself, and in which unit it shows: what somebody else puts in (a pasted report, a record
  // that was opened) is shown, what is typed stays as it is.
  let own = untrack(() => value);
  let as = untrack(() => shown);
  $effect.pre(() => {
    const [now, unitNow] = [value, shown];
    untrack(() => {
      if (now === own && unitNow === as) return;
      [own, as] = [now, unitNow];
      given = readAmount('', unit);
      text = now === null ? '' : typed || whole(now);
    });
  });

  let input = $state<HTMLInputElement>();
  const under = $derived(given.value !== null && least !== null && given.value < least);
  const unread = $derived(given.wrong || (under ? `cannot be under ${mine.says(least ?? 0, unit)}` : ''));
  const why = $derived(unread || wrong);
  // A form with a figure that cannot be read is not sent: it would be kept without it.
  $effect(() => input?.setCustomValidity(unread));

  function read() {
    given = readAmount(text, unit, shown);
    own = given.value;
    value = own;
    typed = given.typed;
  }
</script>

<label class:wrong={why}
  >{label}{shown && `, ${shown}`}{hint && `, ${hint}`}
  <input
    bind:this={input}
    class="field"
    {placeholder}
    {disabled}
    inputmode="decimal"
    autocomplete="off"
    maxlength="40"
    aria-invalid={Boolean(why)}
    {required}
    bind:value={text}
    oninput={read}
  />
  {#if why}<span class="why" role="alert">{why}</span>
  {:else if given.typed && value !== null}<span class="muted why"
      >= {value.toPrecision(4).replace(/\.?0+$/, '')} {unit}</span
    >{/if}
</label>

<style>
  label {
    display: grid;
    align-content: start;
    font-size: 13px;
    color: var(--muted);
  }
  .field {
    width: 100%;
    min-width: 96px;
    max-width: 150px;
    font-size: 15px;
  }
  .why {
    font-size: 12.5px;
    display: block;
    max-width: 220px;
  }
  .wrong .why {
    color: var(--act);
  }
  @media (max-width: 900px) {
    .field {
      min-height: 44px;
      max-width: none;
    }
  }
</style>
