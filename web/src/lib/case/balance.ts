import type { Schemas } from '../api/client';

type Explanation = Schemas['ExplanationOut'];

/** A score or a weight with its sign. */
export const signed = (x: number): string => `${x < 0 ? '−' : '+'}${Math.abs(x).toFixed(1)}`;

const sum = (pieces: readonly { weight: number }[]) => pieces.reduce((s, p) => s + Math.abs(p.weight), 0);

/** The heaviest side of any row: what the full width of a side stands for. */
export const heaviest = (rows: readonly Explanation[]): number =>
  Math.max(1, ...rows.flatMap((r) => [sum(r.speaks_for), sum(r.against)]));

/** How much of a side a piece takes, in per cent. */
export const width = (weight: number, full: number): number => (100 * Math.abs(weight)) / full;

/** The first and the second that are not set aside: what the next check is to tell apart. */
export function leaders(rows: readonly Explanation[]): string {
  const [first, second] = rows.filter((r) => !r.aside);
  if (!first) return '';
  if (!second) return first.words;
  const apart = first.score - second.score;
  return apart < 0.5
    ? `${first.words}, or as likely ${second.words}`
    : `${first.words}, ${apart.toFixed(1)} ahead of ${second.words}`;
}
