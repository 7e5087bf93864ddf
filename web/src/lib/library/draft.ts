import type { Schemas } from '../api/client';

export type Limit = Schemas['LimitOut'];
export type Sent = Schemas['LimitIn'];

export const BASIS_WORDS: Record<Limit['basis'], string> = {
  conc: 'as read, at the nominal drain',
  rise: 'above fresh oil',
  rate: 'per 100 of the meter',
  pct_fresh: '% of fresh oil',
};

/** Names one limit: a low and a high one of the same analyte are two. */
export const keyOf = (r: Sent): string => [r.scope, r.scope_name, r.analyte, r.basis, sideOf(r)].join('|');

function sideOf(r: Sent): 'low' | 'high' {
  const figure = r.act ?? r.watch;
  if (figure === null || figure === undefined) return 'high';
  return r.basis === 'pct_fresh' ? (figure < 100 ? 'low' : 'high') : figure < 0 ? 'low' : 'high';
}

/** What a person typed as a limit: a number, nothing (no limit), or NaN where it cannot be read. */
export function typed(text: string): number | null {
  const t = text.trim().replace(',', '.');
  return t === '' ? null : /^-?\d+(\.\d+)?$/.test(t) ? Number(t) : NaN;
}

/** The rows of a draft as they are sent; unreadable figures are named instead. */
export function sendable(rows: Sent[]): { rows: Sent[]; wrong: string[] } {
  const wrong = rows.filter((r) => Number.isNaN(r.watch) || Number.isNaN(r.act)).map((r) => r.analyte);
  return { rows: wrong.length ? [] : rows, wrong };
}
