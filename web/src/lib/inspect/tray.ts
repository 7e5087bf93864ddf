import type { Schemas } from '../api/client';

/** What stands in a tray: counts by type and size, and amounts where nobody can count. */
export interface Laid {
  counts: Record<string, number>;
  amounts: Record<string, '' | 'dusting' | 'covers'>;
  masses: Record<string, number>;
}

export const MOST = 99_999;
export const empty = (): Laid => ({ counts: {}, amounts: {}, masses: {} });
export const cell = (type: string, size: string): string => `${type}|${size}`;

/** So many more, never below nothing. */
export function added(laid: Laid, type: string, size: string, by: number): Laid {
  const key = cell(type, size);
  const n = Math.min(Math.max((laid.counts[key] ?? 0) + by, 0), MOST);
  return { ...laid, counts: { ...laid.counts, [key]: n } };
}

/** The same amount pressed again is taken back. */
export function withAmount(laid: Laid, type: string, amount: 'dusting' | 'covers'): Laid {
  const now = laid.amounts[type] === amount ? '' : amount;
  return { ...laid, amounts: { ...laid.amounts, [type]: now } };
}

/** What is sent: one row a type and size, an amount on a row of its own, mass on the first row. */
export function counts(laid: Laid): Schemas['NewCount'][] {
  const rows = Object.entries(laid.counts)
    .filter(([, n]) => n > 0)
    .map(([key, count]): Schemas['NewCount'] => {
      const [type = '', size_class = ''] = key.split('|');
      return { type, size_class, count, amount: '' };
    });
  for (const [type, amount] of Object.entries(laid.amounts))
    if (amount) rows.push({ type, size_class: '', count: 0, amount });
  for (const [type, mass] of Object.entries(laid.masses)) {
    const row = rows.find((r) => r.type === type);
    if (row && mass > 0) row.mass_mg = mass;
  }
  return rows;
}

/** How many of a type stand in the tray. */
export const total = (laid: Laid, type: string): number =>
  Object.entries(laid.counts).reduce((n, [key, x]) => n + (key.startsWith(`${type}|`) ? x : 0), 0);

export interface Spot {
  x: number;
  y: number;
  turn: number;
}

/** Places in a 60 × 40 cell for so many pieces, the same each time, so that a tray fills and never jumps. */
export function spots(n: number, most = 26): Spot[] {
  // The additive sequence of the plastic number: every next point falls into the largest gap.
  return Array.from({ length: Math.min(n, most) }, (_, k) => ({
    x: 5 + ((0.5 + (k + 1) * 0.7548777) % 1) * 50,
    y: 5 + ((0.5 + (k + 1) * 0.5698403) % 1) * 30,
    turn: (k * 47) % 180,
  }));
}

/** The share of the surface that was seen, in words; '' where nobody said. */
export function seenWords(seen: number | null, whole: number | null, both: boolean): string {
  if (!seen || !whole || seen > whole) return '';
  const share = (seen / whole) * (both ? 1 : 0.5);
  return `${Math.round(share * 1000) / 10} % of it`;
}
