import type { Level } from '../api/client';

/** What a stick says. Unknown is never drawn as Steady. */
export type StickState = 'judged' | 'not_measured' | 'stale' | 'planned';

export interface Shape {
  x: number;
  y: number;
  w: number;
  h: number;
  kind: 'shaft' | 'mark' | 'tick' | 'bar' | 'foot';
}

// The 12 × 16 grid, whole pixels: three mark places 8 × 3 with 2 between, lowest first.
const MARKS = [12, 7, 2];

function shaft(state: StickState): Shape[] {
  const piece = (y: number, h: number): Shape => ({ x: 5, y, w: 2, h, kind: 'shaft' });
  if (state === 'not_measured') return [1, 4, 7, 10, 13].map((y) => piece(y, 1));
  if (state === 'stale') return [piece(0, 6), piece(9, 6)];
  if (state === 'planned') return [piece(0, 4), piece(6, 4), piece(12, 3)];
  return [piece(0, 15)];
}

/** The shapes of a stick: shaft, marks reached, ticks for those not reached, a bar for Stop, a foot if signed. */
export function stickShapes(level: Level | null, state: StickState = 'judged', signed = false): Shape[] {
  const out = shaft(state);
  if (level !== null && (state === 'judged' || state === 'stale')) {
    MARKS.forEach((y, n) => {
      if (n < level) out.push({ x: 2, y, w: 8, h: 3, kind: 'mark' });
      else if (state === 'judged') out.push({ x: 4, y: y + 1, w: 4, h: 1, kind: 'tick' });
    });
    if (level === 3) out.push({ x: 0, y: 0, w: 12, h: 2, kind: 'bar' });
  }
  if (signed) out.push({ x: 1, y: 15, w: 10, h: 1, kind: 'foot' });
  return out;
}
