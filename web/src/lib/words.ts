import type { Level } from './api/client';
import { TERMS } from './terms';

export const LEVELS = TERMS.levels;
/** A number with its noun: `count(1, 'engine', 'engines')` is "1 engine". */
export function count(n: number, one: string, many: string): string {
  return `${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;
}

/** The names of the levels' colours in tokens.css. */
export const LEVEL_KEYS = ['steady', 'watch', 'act', 'stop'] as const;

type Known = (typeof TERMS.channels)[number];
export type Channel = Known['code'];
export const CHANNELS = Object.fromEntries(TERMS.channels.map((c) => [c.code, c])) as Record<Channel, Known>;

export function levelWord(level: Level | null | undefined): string {
  return level === null || level === undefined ? 'not measured' : LEVELS[level];
}

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
const DAY_YEAR = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  timeZone: 'UTC',
});

/** 2026-11-04 → 4 Nov */
export function day(iso: string): string {
  return DAY.format(new Date(iso));
}

/** 2026-11-04 → 4 Nov 2026 */
export function dayYear(iso: string): string {
  return DAY_YEAR.format(new Date(iso));
}

const GAP = '\u202f';

/** Whole, halves to the even neighbour, with thin gaps: as core/words/figures.py writes it. */
function thousands(x: number): string {
  const low = Math.floor(x);
  const whole = x - low === 0.5 ? low + (Math.abs(low) % 2) : Math.round(x);
  return whole.toLocaleString('en-GB').replaceAll(',', GAP);
}

function digits(x: number | null | undefined, n: number): string {
  if (x === null || x === undefined) return '';
  const rounded = Number(x.toPrecision(n));
  return Math.abs(rounded) >= 1000 ? thousands(x) : `${rounded}`;
}

/** A reading, a limit, a meter: four significant digits, whole and with a thin gap from 1000. */
export const figure = (x: number | null | undefined): string => digits(x, 4);

/** A computed number: three figures say all that its inputs do. */
export const computed = (x: number | null | undefined): string => digits(x, 3);

/** What was expected of a concentration: two figures; below 0.05 it is nothing. */
export const expectation = (x: number): string => digits(x < 0.05 ? 0 : x, 2);

/** A meter figure with its unit. */
export function meter(value: number | null | undefined, unit: string): string {
  if (value === null || value === undefined) return 'meter not known';
  return `${thousands(Math.round(value))} ${unit}`;
}

/** What it is expected to cost to leave an engine alone, as the sum it is. */
export const stake = (risk: number, cost: number, money: (x: number) => string): string =>
  `Left alone: chance ${figure(cost ? risk / cost : 0)} × ${figure(cost)} = ${money(risk)}.`;
