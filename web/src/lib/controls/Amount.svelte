<script lang="ts">
  import { untrack } from 'svelte';
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

  function read() {
    given = readAmount(text, unit, shown);
    own = given.value;
    value = own;
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
