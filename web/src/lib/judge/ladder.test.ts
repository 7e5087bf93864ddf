import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { beyondEnd, byChannel, isNonDetect, place, printed, schoolZones, spark, zones } from './ladder';

const ladder = (more: Partial<Schemas['LadderOut']> = {}): Schemas['LadderOut'] => ({
  column: 'Fe_ppm',
  symbol: 'Fe',
  name: 'Iron',
  unit: 'ppm',
  channel: 'wear',
  text: '40',
  value: 40,
  censor: 0,
  low: 36,
  high: 44,
  fresh: 1,
  fresh_from: 'batch',
  previous: null,
  same_laboratory: true,
  comparable: true,
  change: null,
  rate_per_100: 12,
  rate_withheld: null,
  watch: 75,
  act: 125,
  watch_low: null,
  act_low: null,
  limit: null,
  schools: [
    { letter: 'P', level: null, n: 7, watch: null, act: null, why_not: 'peers 7, need 30' },
    { letter: 'O', level: 0, n: 9, watch: 60, act: 90, why_not: '' },
  ],
  expected: null,
  average: null,
  level: 0,
  axis_end: 156.25,
  trace: [],
  ...more,
});

describe('a ladder', () => {
  it('is one axis from 0 to a quarter past Act', () => {
    expect(place(ladder(), 0, 200)).toBe(0);
    expect(place(ladder(), 125, 200)).toBeCloseTo(160);
    expect(place(ladder(), 1e9, 200)).toBe(200);
    expect(place(ladder(), -5, 200)).toBe(0);
  });

  it('has its zones where the limits are', () => {
    expect(zones(ladder(), 200)).toEqual([
      { from: 96, to: 160, level: 1 },
      { from: 160, to: 200, level: 2 },
    ]);
  });

  it('has zones at both ends where low is bad too', () => {
    const kv = ladder({ watch: 16, act: 17, watch_low: 12, act_low: 10, axis_end: 20 });
    expect(zones(kv, 200)).toEqual([
      { from: 160, to: 170, level: 1 },
      { from: 170, to: 200, level: 2 },
      { from: 100, to: 120, level: 1 },
      { from: 0, to: 100, level: 2 },
    ]);
  });

  it('has Watch alone where there is no Act', () => {
    expect(zones(ladder({ act: null }), 200)).toEqual([{ from: 96, to: 200, level: 1 }]);
    expect(zones(ladder({ watch: null, act: null }), 200)).toEqual([]);
  });

  it('has the zones of a school on the same axis', () => {
    const own = ladder().schools[1];
    expect(own && schoolZones(ladder(), own, 156.25)).toEqual([
      { from: 60, to: 90, level: 1 },
      { from: 90, to: 156.25, level: 2 },
    ]);
    const peers = ladder().schools[0];
    expect(peers && schoolZones(ladder(), peers, 200)).toEqual([]);
  });

  it('prints numbers that do not run into each other, the worse one first', () => {
    expect(printed(ladder(), 200).map((p) => p.value)).toEqual([0, 75, 125]);
    const close = printed(ladder({ watch: 120, act: 125 }), 200);
    expect(close.map((p) => [p.value, p.level])).toEqual([
      [0, 0],
      [125, 2],
    ]);
  });

  it('tells a non-detect and a reading past the end', () => {
    expect(isNonDetect(ladder({ censor: 1 }))).toBe(true);
    expect(isNonDetect(ladder({ censor: 3, value: null }))).toBe(false);
    expect(beyondEnd(ladder({ value: 200 }))).toBe(true);
    expect(beyondEnd(ladder({ value: null }))).toBe(false);
  });
});

describe('channels', () => {
  it('come raised and worst first, then in the order of the comb', () => {
    const list = [
      ladder(),
      ladder({ channel: 'dirt' }),
      ladder({ channel: 'coolant' }),
      ladder({ channel: '' }),
    ];
    const groups = byChannel(list, { wear: 0, dirt: 1, coolant: 2 });
    expect(groups.map((g) => g.channel)).toEqual(['coolant', 'dirt', 'wear', '']);
    expect(groups.at(-1)?.level).toBeNull();
  });
});

describe('the small trace', () => {
  it('breaks where there was no reading', () => {
    expect(spark([1, 2, null, 4, 5], 40, 20).match(/M/g)).toHaveLength(2);
  });
  it('is nothing for one reading, and flat for zeros', () => {
    expect(spark([5], 40, 20)).toBe('');
    expect(spark([0, 0], 40, 20)).toBe('M0.0 19.0L40.0 19.0');
  });
});
