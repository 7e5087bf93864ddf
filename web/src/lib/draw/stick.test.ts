import { describe, expect, it } from 'vitest';
import type { Level } from '../api/client';
import { stickShapes } from './stick';

const marks = (level: Level | null, state: 'judged' | 'not_measured' | 'stale' | 'planned' = 'judged') =>
  stickShapes(level, state).filter((s) => s.kind === 'mark').length;

describe('the stick', () => {
  it('fills one mark per level', () => {
    expect([0, 1, 2, 3].map((n) => marks(n as Level))).toEqual([0, 1, 2, 3]);
  });

  it('puts a bar on top for Stop alone', () => {
    expect(stickShapes(3).some((s) => s.kind === 'bar')).toBe(true);
    expect(stickShapes(2).some((s) => s.kind === 'bar')).toBe(false);
  });

  it('never draws unknown as Steady', () => {
    const unknown = JSON.stringify(stickShapes(null, 'not_measured'));
    expect(unknown).not.toBe(JSON.stringify(stickShapes(0)));
    expect(stickShapes(null, 'not_measured').some((s) => s.kind === 'tick')).toBe(false);
    expect(JSON.stringify(stickShapes(0, 'stale'))).not.toBe(JSON.stringify(stickShapes(0)));
  });

  it('stays on whole pixels inside its 12 × 16 grid', () => {
    for (const s of stickShapes(3, 'judged', true)) {
      for (const n of [s.x, s.y, s.w, s.h]) expect(Number.isInteger(n)).toBe(true);
      expect(s.x + s.w).toBeLessThanOrEqual(12);
      expect(s.y + s.h).toBeLessThanOrEqual(16);
    }
  });
});
