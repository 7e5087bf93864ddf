import type { Schemas } from '../api/client';

export type Layout = Schemas['LayoutOut'];

/** Cylinders in rows as they stand: one in line, two banks of a vee or an opposed engine. */
export function banks(layout: Layout): number[][] {
  const all = Array.from({ length: layout.cylinders }, (_, n) => n + 1);
  if (layout.kind === 'line') return [all];
  const half = Math.ceil(all.length / 2);
  return [all.slice(0, half), all.slice(half)].filter((b) => b.length > 0);
}

/** Main bearings: one more than throws; in a vee two rods share a throw. */
export function mains(layout: Layout): number[] {
  const throws = layout.kind === 'vee' ? Math.ceil(layout.cylinders / 2) : layout.cylinders;
  return Array.from({ length: throws + 1 }, (_, n) => n + 1);
}

/** The findings of one part and place, and the worst of them. */
export function at(
  findings: readonly Schemas['FindingOut'][],
  part: string,
  position: number | null,
): { numbers: number[]; grade: number | null } {
  const here = findings.filter(
    (f) => f.part === part && (position === null || Number(f.position) === position),
  );
  return {
    numbers: here.map((f) => f.number),
    grade: here.length ? Math.max(...here.map((f) => f.grade)) : null,
  };
}

/** The figures that readings come to: each has limits of its own. */
export function figuresOf(measured: readonly string[]): string[] {
  const has = (...names: string[]) => names.every((n) => measured.includes(n));
  const out: string[] = [];
  if (has('journal_front') || has('bore_top')) out.push('out_of_round');
  if (has('journal_front', 'journal_rear') || has('bore_top', 'bore_bottom')) out.push('taper');
  if (has('bore', 'shell', 'journal_front')) out.push('oil_clearance');
  if (has('bore_top', 'piston')) out.push('piston_clearance');
  const computed = ['journal_front', 'journal_rear', 'bore', 'shell', 'bore_top', 'bore_bottom', 'piston'];
  return [...out, ...measured.filter((m) => !computed.includes(m))];
}
