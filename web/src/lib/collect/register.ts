import type { Schemas } from '../api/client';
import { meter } from '../words';

type Stop = Schemas['Stop'];

/** How oil looks in the bottle; the code goes on record, and some of them raise the engine by themselves. */
export interface Look {
  code: string;
  word: string;
  hint: string;
  smell: string;
}

export const LOOKS: Look[] = [
  { code: 'dark', word: 'Even, dark', hint: 'usual', smell: '' },
  { code: 'amber', word: 'Amber, clear', hint: 'fresh', smell: '' },
  { code: 'grey', word: 'Grey, fuel smell', hint: 'fuel?', smell: 'fuel' },
  { code: 'emulsion', word: 'Creamy, milky', hint: 'water or coolant', smell: '' },
  { code: 'specks', word: 'Shiny specks', hint: 'metal?', smell: '' },
  { code: 'grit', word: 'Dull black grit', hint: 'lining or carbon?', smell: '' },
  { code: 'coolant_visible', word: 'Coolant below', hint: 'layer at the bottom', smell: '' },
  { code: 'chunks', word: 'Pieces in it', hint: 'keep them', smell: '' },
];

export const SMELLS = [
  { code: '', word: 'as usual' },
  { code: 'fuel', word: 'fuel' },
  { code: 'sweet', word: 'sweet' },
  { code: 'burnt', word: 'burnt' },
] as const;

export const LEVELS_ON_STICK = [
  { at: -0.2, word: 'below low' },
  { at: 0.5, word: 'between' },
  { at: 1, word: 'full' },
  { at: 1.3, word: 'above full' },
] as const;

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
  const expected =
    stop.low === null || stop.high === null
      ? ''
      : `expected ${meter(stop.low, '').trim()} – ${meter(stop.high, stop.unit)}`;
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
  return Number.isFinite(hours) ? `${Math.round(hours)} ${stop.unit} on this oil` : '';
}

/** When a stop is due, as short as the end of a line. */
export function dueWord(stop: Stop, on: string): string {
  if (stop.purpose === 'resample') return 'resample';
  if (stop.purpose === 'post_repair') return 'after repair';
  if (!stop.due) return '';
  const days = Math.round((Date.parse(stop.due.on) - Date.parse(on)) / 86_400_000);
  if (days < 0) return days === -1 ? '1 day over' : `${-days} days over`;
  return days === 0 ? 'today' : days === 1 ? 'tomorrow' : `in ${days} days`;
}

export const METHOD_WORDS: Record<string, string> = {
  valve: 'valve, engine running',
  vacuum: 'vacuum, through the dipstick',
  drain_stream: 'drain stream',
};

export const EVENTS = [
  { kind: 'oil_change', word: 'Oil change' },
  { kind: 'top_up', word: 'Top-up' },
  { kind: 'filter_change', word: 'Filter' },
  { kind: 'meter_reading', word: 'Meter' },
  { kind: 'meter_replaced', word: 'Meter replaced' },
  { kind: 'repair', word: 'Repair' },
  { kind: 'symptom', word: 'Symptom' },
  { kind: 'field_check', word: 'Field check' },
  { kind: 'coolant_top_up', word: 'Coolant' },
  { kind: 'rebuild', word: 'Rebuild' },
  { kind: 'storage_start', word: 'Into storage' },
  { kind: 'storage_end', word: 'Out of storage' },
] as const;

/** Symptoms by the words of the register; those that stop the engine by themselves come first. */
export const SYMPTOMS = [
  { part: 'knock', word: 'knock' },
  { part: 'low_oil_pressure_hot', word: 'low oil pressure, hot, by gauge' },
  { part: 'oil_lamp_hot_idle', word: 'oil lamp at hot idle' },
  { part: 'coolant_in_sump', word: 'coolant in the sump' },
  { part: 'level_rising', word: 'level above full and rising' },
  { part: 'bearing_flakes', word: 'bearing flakes in filter or pan' },
  { part: 'chunks', word: 'chunk in filter or pan' },
  { part: 'filter_collapsed', word: 'filter collapsed' },
  { part: 'noise', word: 'noise' },
  { part: 'oil_pressure', word: 'oil pressure, cold and hot' },
  { part: 'smoke', word: 'smoke' },
  { part: 'blow_by', word: 'blow-by' },
  { part: 'power', word: 'less power' },
  { part: 'coolant_use', word: 'uses coolant' },
  { part: 'level_falling', word: 'level falling' },
] as const;
