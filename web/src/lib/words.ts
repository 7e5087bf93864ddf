import type { Level } from './api/client';

export const LEVELS = ['Steady', 'Watch', 'Act', 'Stop'] as const;
export const LEVEL_KEYS = ['steady', 'watch', 'act', 'stop'] as const;

export const CHANNELS = {
  wear: { letter: 'W', word: 'Wear' },
  dirt: { letter: 'D', word: 'Dirt' },
  coolant: { letter: 'C', word: 'Coolant' },
  fuel: { letter: 'F', word: 'Fuel' },
  thickness: { letter: 'T', word: 'Thickness' },
  oil_life: { letter: 'L', word: 'Oil life' },
  debris: { letter: 'B', word: 'Debris' },
} as const;

export type Channel = keyof typeof CHANNELS;

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

/** A figure as people read it: up to four digits, thin gap in thousands. */
export function figure(value: number | null | undefined): string {
  if (value === null || value === undefined) return '';
  const rounded = Number(value.toPrecision(Math.abs(value) < 10 ? 2 : 3));
  return Math.abs(value) >= 1000
    ? Math.round(value).toLocaleString('en-GB').replaceAll(',', '\u202f')
    : `${rounded}`;
}

/** A meter figure with its unit. */
export function meter(value: number | null | undefined, unit: string): string {
  if (value === null || value === undefined) return 'meter not known';
  return `${Math.round(value).toLocaleString('en-GB').replaceAll(',', '\u202f')} ${unit}`;
}
