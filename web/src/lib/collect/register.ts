import type { Schemas } from '../api/client';
import type { TERMS } from '../terms';
import { meter } from '../words';

type Stop = Schemas['Stop'];

/** How oil looks in the bottle; the code goes on record, and some of them raise the engine by themselves. */
export type Look = (typeof TERMS.appearances)[number];

/** A key of the pad pressed after what stands there: digits, one point, a step back. */
export function press(typed: string, key: string): string {
  if (key === '←') return typed.slice(0, -1);
  if (key === '.' && (typed.includes('.') || !typed)) return typed;
  if (typed.replace('.', '').length >= 8) return typed;
  return typed === '0' && key !== '.' ? key : typed + key;
}

export interface MeterSaid {
  /** ok: as expected; ask: a kind question, the figure may still be right; wrong: it cannot be taken. */
  kind: 'empty' | 'ok' | 'ask' | 'wrong';
  words: string;
}

/** What to say of a typed meter figure, against the last one and what the usage of late lets expect. */
export function meterSaid(typed: string, stop: Stop): MeterSaid {
  const low = meter(stop.low ?? 0, '').trim();
  const high = meter(stop.high ?? 0, '').trim();
  const range = low === high ? high : `${low} – ${high}`;
  const expected = stop.low === null || stop.high === null ? '' : `expected ${range} ${stop.unit}`;
  if (!typed) return { kind: 'empty', words: expected || 'no forecast yet' };
  const value = Number(typed);
  if (stop.dial !== null && value < stop.dial) {
    return {
      kind: 'wrong',
      words: `Below the last figure, ${meter(stop.dial, stop.unit)}. Read again, or log a replaced meter below.`,
    };
  }
  // Held against the bounds as they are shown: a figure equal to a bound is inside.
  const read = Math.round(value);
  if (
    stop.high !== null &&
    stop.low !== null &&
    (read > Math.round(stop.high) || read < Math.round(stop.low))
  ) {
    const side = read > Math.round(stop.high) ? 'More' : 'Less';
    return { kind: 'ask', words: `${side} than ${expected}. If the dial says so, go on.` };
  }
  return { kind: 'ok', words: expected ? `${expected} ✓` : '' };
}

/** Hours on the oil at a dial figure: shown, not asked. */
export function onOil(typed: string, stop: Stop): string {
  if (stop.charge_start === null) return 'no oil change on record';
  const dial = typed ? Number(typed) : (stop.dial ?? NaN);
  const hours = dial + stop.offset - stop.charge_start;
  return Number.isFinite(hours) ? `${meter(hours, stop.unit)} on this oil` : '';
}

/** When a stop is due, as short as the end of a line. */
export function dueWord(stop: Stop, on: string): string {
  if (stop.purpose === 'resample') return 'resample';
  if (stop.purpose === 'post_repair') return 'after repair';
  // Spent oil waits for its last bottle, whatever the plan says.
  if (stop.state.actions.some((a) => a.code === 'sample_and_change')) return 'now';
  if (!stop.due) return '';
  const days = Math.round((Date.parse(stop.due.on) - Date.parse(on)) / 86_400_000);
  if (days < 0) return days === -1 ? '1 day over' : `${-days} days over`;
  return days === 0 ? 'today' : days === 1 ? 'tomorrow' : `in ${days} days`;
}
