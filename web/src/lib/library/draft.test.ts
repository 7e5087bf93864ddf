import { describe, expect, it } from 'vitest';
import { keyOf, sendable, typed, type Sent } from './draft';

const limit = (more: Partial<Sent>): Sent => ({
  scope: 'class',
  scope_name: 'petrol',
  analyte: 'Fe_ppm',
  basis: 'conc',
  watch: 40,
  act: 80,
  unit: 'ppm',
  origin: 'x',
  ...more,
});

describe('a draft of limits', () => {
  it('reads a figure, a comma, and nothing', () =>
    expect([typed('40'), typed(' 1,5 '), typed('-20'), typed('')]).toEqual([40, 1.5, -20, null]));
  it('does not guess at what is no figure', () => expect(typed('about 40')).toBeNaN());
  it('keeps the low and the high limit of one analyte apart', () => {
    const of = (act: number) =>
      keyOf(limit({ analyte: 'KV100_mm2_s', basis: 'pct_fresh', watch: null, act }));
    expect(of(80)).not.toBe(of(120));
    expect(of(120)).toBe(of(125));
  });
  it('names what cannot be sent', () => {
    expect(sendable([limit({}), limit({ analyte: 'Cu_ppm', act: NaN })])).toEqual({
      rows: [],
      wrong: ['Cu_ppm'],
    });
    expect(sendable([limit({})]).rows).toHaveLength(1);
  });
});
