import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { months, running, storedSpans, traceScale } from './trace';

const mark = (kind: Schemas['Mark']['kind'], on: string): Schemas['Mark'] => ({
  kind,
  on,
  dial: null,
  sample: null,
  level: null,
  signed: false,
  what: '',
  part: '',
});
const scale = traceScale('2026-01-01', '2026-12-31', 364);

describe('the trace', () => {
  it('is linear in days', () => {
    expect(scale('2026-01-01')).toBe(0);
    expect(scale('2026-01-11')).toBeCloseTo(10, 6);
    expect(months('2026-01-01', '2026-12-31', scale)).toHaveLength(12);
  });

  it('shows a storage that began before the picture and one that still lasts', () => {
    const spans = storedSpans(
      [mark('stored', '2025-06-01'), mark('out', '2026-02-01'), mark('stored', '2026-10-01')],
      scale,
      '2026-11-01',
    );
    expect(spans.map((s) => [Math.round(s.from), Math.round(s.to)])).toEqual([
      [0, 31],
      [273, 304],
    ]);
  });

  it('runs where it is not stored, up to today', () => {
    expect(running([{ from: 10, to: 20 }], 50)).toEqual([
      { from: 0, to: 10 },
      { from: 20, to: 50 },
    ]);
    expect(running([{ from: 0, to: 50 }], 50)).toEqual([]);
  });
});
