import { scaleLinear } from 'd3-scale';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import {
  along,
  beyond,
  curves,
  extent,
  grouped,
  laneRange,
  laneScale,
  limitSteps,
  ribbons,
  rowsOfWords,
  steps,
  stretch,
  ticks,
  zoomed,
} from './lanes';

type Point = Schemas['LanePoint'];

const point = (
  sample: string,
  total: number | null,
  value: number | null,
  more: Partial<Point> = {},
): Point => ({
  sample,
  on: '2026-01-05',
  total,
  value,
  text: `${value}`,
  censor: 0,
  rate: value === null ? null : value / 2,
  start: 2,
  watch: 50,
  act: 80,
  watch_low: null,
  act_low: null,
  watch_rate: 20,
  act_rate: 30,
  expected: null,
  expected_rate: null,
  sisters: null,
  sisters_rate: null,
  level: 0,
  ...more,
});

const lane = (points: Point[], more: Partial<Schemas['Lane']> = {}): Schemas['Lane'] => ({
  column: 'Fe_ppm',
  symbol: 'Fe',
  name: 'Iron',
  unit: 'ppm',
  channel: 'wear',
  points,
  ...more,
});

const engine = (more: Partial<Schemas['EngineOut']> = {}) =>
  ({
    samples: [
      { sample: 'a', on: '2026-01-05', total: 1000 },
      { sample: 'b', on: '2026-03-05', total: 1200 },
    ],
    charges: [{ number: 1, start: 900, start_on: '2025-12-01' }],
    events: [],
    now_total: 1300,
    today: '2026-04-01',
    ...more,
  }) as unknown as Schemas['EngineOut'];

const scales = {
  x: (w: { total: number | null }) => w.total,
  y: scaleLinear().domain([0, 100]).range([100, 0]),
};

describe('the axis', () => {
  it('runs by meter or by date, from the first fill to a little beyond today', () => {
    expect(extent(engine(), 'meter')).toEqual([900, 1320]);
    const [from, to] = extent(engine(), 'date');
    expect(new Date(from).toISOString()).toContain('2025-12-01');
    expect(to).toBeGreaterThan(new Date('2026-04-01').getTime());
  });

  it('stands up to an engine without anything', () => {
    const bare = engine({ samples: [], charges: [], now_total: null });
    expect(extent(bare, 'meter')).toEqual([0, 100]);
    expect(extent(bare, 'date').every(Number.isFinite)).toBe(true);
  });

  it('leaves out what has no meter', () => {
    expect(along('meter', { on: '2026-01-05', total: null })).toBeNull();
    expect(along('date', { on: '2026-01-05', total: null })).not.toBeNull();
  });

  it('writes meters with their unit and dates as months', () => {
    expect(ticks('meter', [0, 4000], 600, 'h').map((t) => t.word)).toContain('2\u202f000 h');
    const dates = ticks('date', [Date.UTC(2025, 0, 1), Date.UTC(2026, 0, 1)], 600, 'h');
    expect(dates.some((t) => t.word.includes('25'))).toBe(true);
  });
});

describe('what lies behind the readings', () => {
  const banded = (sample: string, total: number, value: number, low: number, high: number) =>
    point(sample, total, value, {
      expected: [low, high],
      expected_rate: [low / 2, high / 2],
      sisters: [0, 2 * high],
      sisters_rate: [0, high],
    });
  const points = [banded('a', 100, 10, 4, 20), banded('b', 200, 14, 10, 18), banded('c', 300, 8, 5, 11)];
  const charges = new Map([
    ['a', 1],
    ['b', 1],
    ['c', 2],
  ]);
  const starts = new Map([
    [1, { number: 1, on: '2026-01-01', total: 0 }],
    [2, { number: 2, on: '2026-02-01', total: 220 }],
  ]);

  it('is a ribbon a charge as read, from the oil as filled, and one of rates', () => {
    const read = ribbons(lane(points), 'read', 'expected', charges, starts, scales);
    expect(read).toBe('M0 98L100 80L200 82L200 90L100 96L0 98Z' + 'M220 98L300 89L300 95L220 98Z');
    const rate = ribbons(lane(points), 'rate', 'expected', charges, starts, scales);
    expect(rate.match(/M/g)).toHaveLength(1);
  });

  it('ends where nothing was expected', () => {
    const gap = [points[0], point('x', 150, 12), points[1], points[2]].filter((p) => p !== undefined);
    const rate = ribbons(lane(gap), 'rate', 'expected', charges, starts, scales);
    expect(rate).toBe('M200 91L300 94.5L300 97.5L200 95Z');
  });

  it('widens a lane, but never so far that what happened lies flat', () => {
    const top = (high: number) => high + (high - 2) * 0.12; // 2 is the lowest, the oil as filled
    expect(laneScale(lane(points), 'read', false, [])[1]).toBeCloseTo(top(14), 9);
    expect(laneScale(lane(points), 'read', false)[1]).toBeCloseTo(top(20), 9);
    expect(laneScale(lane(points), 'read', false, ['sisters'])[1]).toBeCloseTo(top(21), 9);
  });

  it('lays the charges over one another by what is on the oil', () => {
    expect(along('oil', { on: '2026-01-05', total: 900, hours: 120 })).toBe(120);
    expect(along('oil', { on: '2026-01-05', total: 900 })).toBeNull();
    const samples = [{ hours: 250 }, { hours: null }] as Schemas['EngineOut']['samples'];
    expect(extent(engine({ samples }), 'oil')).toEqual([0, 260]);
  });
});

describe('zooming', () => {
  it('keeps the place under the crosshair and never leaves the whole', () => {
    expect(zoomed([0, 100], [0, 100], 0.5, 0.5)).toEqual([25, 75]);
    expect(zoomed([0, 50], [0, 100], 0.5, 0)).toEqual([0, 25]);
    expect(zoomed([25, 75], [0, 100], 10)).toEqual([0, 100]);
    const [a, b] = zoomed([10, 10.1], [0, 100], 0.01);
    expect(b - a).toBeGreaterThan(0);
  });
});

describe('curves', () => {
  const charges = new Map([
    ['a', 1],
    ['b', 1],
    ['c', 2],
  ]);
  const starts = new Map([
    [1, { number: 1, on: '2026-01-01', total: 0 }],
    [2, { number: 2, on: '2026-02-01', total: 250 }],
  ]);
  const points = [point('a', 100, 20), point('b', 200, 40), point('c', 300, 10)];

  it('break at each charge and start from the oil as filled', () => {
    expect(curves(lane(points), 'read', charges, starts, scales)).toBe('M0 98L100 80L200 60M250 98L300 90');
  });

  it('run on as rates', () => {
    expect(curves(lane(points), 'rate', charges, starts, scales)).toBe('M100 90L200 80L300 95');
  });

  it('leave a gap where a rate was withheld', () => {
    const withheld = [point('a', 100, 20), point('b', 200, 40, { rate: null }), point('c', 300, 10)];
    expect(curves(lane(withheld), 'rate', charges, starts, scales)).toBe('M100 90L300 95');
  });
});

describe('limits', () => {
  it('are steps that end at the edge', () => {
    const at = (total: number) => ({ on: '', total });
    const path = steps(
      [
        { at: at(100), limit: 50 },
        { at: at(200), limit: 80 },
      ],
      scales,
      0,
      300,
    );
    expect(path).toBe('M0 50H100V20H200H300');
  });

  it('are nothing where there are none', () => {
    expect(steps([{ at: { on: '', total: 10 }, limit: null }], scales, 0, 300)).toBe('');
  });

  it('follow what the lane shows', () => {
    const [watch, act] = limitSteps(lane([point('a', 100, 20)]), 'rate', scales, 300);
    expect(watch).toBe('M0 80H100H300');
    expect(act).toBe('M0 70H100H300');
  });
});

describe('two engines side by side', () => {
  const ways = { as: 'read', limits: false, behind: [] } as const;
  const of = (column: string, ...values: number[]) =>
    lane(
      values.map((v, n) => point(`${n}`, 100 * n, v, { start: 0 })),
      { column },
    );

  it('stand on the same axes, each with the larger of the two', () => {
    const port = engine({ lanes: [of('Fe_ppm', 20, 30), of('Cu_ppm', 0)] });
    const starboard = engine({ lanes: [of('Fe_ppm', 60, 90), of('Pb_ppm', 5)] });
    const [fe, cu] = port.lanes as [Schemas['Lane'], Schemas['Lane']];
    const [alone, together] = [stretch(fe, port, null, ways), stretch(fe, port, starboard, ways)];
    expect(alone[1]).toBeLessThan(40);
    expect(together).toEqual(stretch(starboard.lanes[0] as Schemas['Lane'], starboard, port, ways));
    expect(together[1]).toBeGreaterThan(90);
    // A strip that the other does not have keeps its own.
    expect(stretch(cu, port, starboard, ways)).toEqual(stretch(cu, port, null, ways));
  });

  it('show a metal that either has shown', () => {
    const shown = (lanes: Schemas['Lane'][], beside: Schemas['Lane'][] = []) =>
      grouped(lanes, beside).flatMap((g) => g.lanes.map((l) => l.column));
    const quiet = [of('Ni_ppm', 0, 0)];
    expect(shown(quiet)).toEqual([]);
    expect(shown(quiet, [of('Ni_ppm', 0, 4)])).toEqual(['Ni_ppm']);
  });
});

describe('lanes', () => {
  it('are scaled to what happened, or to their limits where those are wanted in view', () => {
    const quiet = lane([point('a', 1, 20), point('b', 2, 4)]);
    const [low, high] = laneScale(quiet, 'read', false);
    expect(low).toBe(0);
    expect(high).toBeGreaterThan(20);
    expect(high).toBeLessThan(26);
    expect(laneScale(quiet, 'read', true)[1]).toBeGreaterThan(80);
    expect(beyond(quiet, 'read', high)).toBe('Watch 50, Act 80 ↑');
    expect(beyond(quiet, 'read', 60)).toBe('Act 80 ↑');
    expect(beyond(quiet, 'read', 90)).toBe('');
    expect(laneScale(lane([]), 'read', false)).toEqual([0, 1]);
  });

  it('do not begin at nothing where all of it lies far above', () => {
    const steady = [point('a', 1, 100, { start: 96 }), point('b', 2, 104, { start: 96 })];
    const [low, high] = laneScale(lane(steady), 'read', false);
    expect(low).toBeGreaterThan(80);
    expect(high).toBeGreaterThan(104);
  });

  it('draw no limit that lies outside what they show', () => {
    const y = scaleLinear().domain([0, 60]).range([100, 0]);
    const [watch, act] = limitSteps(lane([point('a', 100, 20)]), 'read', { ...scales, y }, 300);
    expect(watch).not.toBe('');
    expect(act).toBe('');
  });

  it('show the allowed band of thickness with some room', () => {
    const [low, high] = laneRange(lane([point('a', 1, 13.6, { start: 14.3 })]), [12.5, 16.3]);
    expect(low).toBeLessThan(12.5);
    expect(high).toBeGreaterThan(16.3);
  });

  it('leave out metals never seen, but not the usual ones', () => {
    const never = [point('a', 1, 1, { censor: 1 })];
    const found = grouped([
      lane(never),
      lane(never, { symbol: 'Ag', column: 'Ag_ppm' }),
      lane([point('a', 1, 2)], { symbol: 'Ni', column: 'Ni_ppm' }),
    ]);
    expect(found[0]?.lanes.map((l) => l.symbol)).toEqual(['Fe', 'Ni']);
  });

  it('put words into as many rows as they need', () => {
    expect(
      rowsOfWords([
        { x: 0, word: 'new injectors' },
        { x: 20, word: 'noise' },
        { x: 400, word: 'repair' },
      ]),
    ).toEqual([0, 1, 0]);
  });
});
