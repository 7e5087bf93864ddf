import type { Sheet } from '../take/carried';
import { levelWord } from '../words';
import type { Schemas } from '$lib/api/client';

export const ROW = 28;
export const HEAD = 30;
export const REASON = 42;

/** How the Wall is ordered: who needs someone first, depot by depot, or by what an engine stands to lose. */
export type Order = 'need' | 'depot' | 'risk';

/** The order an address asks for. */
export const orderOf = (asked: string | null): Order =>
  asked === 'depot' || asked === 'risk' ? asked : 'need';

/** A line of the Wall: a group's head or an engine's row, with its place on the page. */
export interface Line {
  top: number;
  height: number;
  group?: Schemas['WallGroup'];
  index?: number;
}

/** Heads and rows laid out from the group counts alone, so that only what is in view need be there. */
export function layout(groups: Schemas['WallGroup'][], folded: Set<string>, selected: number): Line[] {
  const out: Line[] = [];
  let top = 0;
  const put = (height: number, what: Partial<Line>) => {
    out.push({ top, height, ...what });
    top += height;
  };
  for (const group of groups) {
    put(HEAD, { group });
    if (folded.has(group.key)) continue;
    for (let n = group.start; n < group.start + group.count; n++) {
      put(n === selected ? ROW + REASON : ROW, { index: n });
    }
  }
  return out;
}

/** The lines that touch the visible stretch, found by halving. */
export function visible(lines: Line[], from: number, to: number): Line[] {
  let low = 0;
  let high = lines.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const line = lines[middle];
    if (line && line.top + line.height < from) low = middle + 1;
    else high = middle;
  }
  const out: Line[] = [];
  for (let n = low; n < lines.length; n++) {
    const line = lines[n];
    if (!line || line.top > to) break;
    out.push(line);
  }
  return out;
}

/** The slice of rows to ask the server for: whole pages of a hundred around what is in view. */
export function pageOf(lines: Line[]): { offset: number; limit: number } {
  const wanted = lines.flatMap((l) => (l.index === undefined ? [] : [l.index]));
  if (!wanted.length) return { offset: 0, limit: 200 };
  const first = Math.floor(Math.min(...wanted) / 100) * 100;
  const last = Math.ceil((Math.max(...wanted) + 1) / 100) * 100;
  return { offset: first, limit: Math.min(Math.max(last - first, 200), 500) };
}

/** The Wall's rows that were read, as they leave. */
export function wallSheet(rows: Schemas['WallRow'][]): Sheet {
  return {
    columns: [
      'engine',
      'name',
      'depot',
      'level',
      'may it run',
      'what',
      'next',
      'meter',
      'unit',
      'a failure costs',
      'at stake',
    ],
    rows: rows.map((r) => [
      ...[r.code, r.name, r.depot, levelWord(r.level), r.state.may_run_words],
      ...[`${r.state.what} ${r.state.what_next}`, r.next, r.dial, r.unit, r.failure_cost, r.risk],
    ]),
  };
}
