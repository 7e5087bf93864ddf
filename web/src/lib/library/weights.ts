import type { Schemas } from '../api/client';

export type Mode = Schemas['ModeOut'];
export interface WeightRow {
  mode: string;
  evidence: string;
  seen: number;
  absent: number;
  origin: string;
}

export const keyOf = (r: { mode: string; evidence: string }): string => `${r.mode}|${r.evidence}`;

/** The rows of a cause, its own odds first, with a draft over them; `was` null for an added one. */
export function rowsOf(
  mode: Mode,
  draft: Record<string, WeightRow>,
): { key: string; row: WeightRow; was: WeightRow | null }[] {
  const held: WeightRow[] = [
    { mode: mode.code, evidence: 'prior', seen: mode.prior, absent: 0, origin: mode.origin },
    ...mode.weights.map((w) => ({ mode: mode.code, ...w })),
  ];
  const known = new Set(held.map(keyOf));
  const added = Object.entries(draft).filter(([key, r]) => r.mode === mode.code && !known.has(key));
  return [
    ...held.map((r) => ({ key: keyOf(r), row: draft[keyOf(r)] ?? r, was: r as WeightRow | null })),
    ...added.map(([key, row]) => ({ key, row, was: null })),
  ];
}

/** Evidence the cause does not weigh yet. */
export function addable(
  evidence: Schemas['EvidenceOut'][],
  rows: { row: WeightRow }[],
): Schemas['EvidenceOut'][] {
  const used = new Set(rows.map((r) => r.row.evidence));
  return evidence.filter((e) => !used.has(e.code));
}

/** Causes by channel, in the channels' order; those of no channel last. */
export function modesBy(
  modes: Mode[],
  channels: readonly { code: string; words: string }[],
): { words: string; modes: Mode[] }[] {
  const named = [...channels, { code: '', words: 'No channel' }];
  return named
    .map((c) => ({ words: c.words, modes: modes.filter((m) => m.channel === c.code) }))
    .filter((g) => g.modes.length > 0);
}
