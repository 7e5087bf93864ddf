import { scaleLinear, scaleUtc, type ScaleLinear } from 'd3-scale';
import type { Schemas } from '../api/client';
import { TERMS } from '../terms';
import type { Sheet } from '../take/carried';
import { computed } from '../words';

type Engine = Schemas['EngineOut'];
type Lane = Schemas['Lane'];
type Point = Schemas['LanePoint'];

export type AxisBy = 'meter' | 'date' | 'oil';
export type MetalsAs = 'read' | 'rate';

/** Anything with a place on the axis: the true meter and the day it happened. */
export interface Dated {
  on: string;
  total: number | null;
  /** Meter units on the oil. */
  hours?: number | null;
}

const AHEAD_MS = 42 * 86_400_000;

/** A place on the axis as a number: the true meter, milliseconds, or what is on the oil. Null where that is not known. */
export const along = (by: AxisBy, what: Dated): number | null =>
  by === 'date' ? new Date(what.on).getTime() : by === 'oil' ? (what.hours ?? null) : what.total;

/** The whole stretch of an engine: from its first moment to a little beyond today. */
export function extent(engine: Engine, by: AxisBy): [number, number] {
  if (by === 'oil') return [0, Math.max(...engine.samples.map((s) => s.hours ?? 0), 1) * 1.04];
  const known = [
    ...engine.samples.map((s) => along(by, s)),
    ...engine.charges.map((c) =>
      c.start_on === null ? null : along(by, { on: c.start_on, total: c.start }),
    ),
    ...engine.events.map((e) => along(by, e)),
  ].filter((x): x is number => x !== null);
  const now = by === 'date' ? new Date(engine.today).getTime() : engine.now_total;
  const from = Math.min(...known, now ?? Infinity);
  const to = Math.max(...known, now ?? -Infinity);
  if (!Number.isFinite(from) || !Number.isFinite(to)) return by === 'date' ? [0, AHEAD_MS] : [0, 100];
  const room = by === 'date' ? AHEAD_MS : Math.max((to - from) * 0.05, 10);
  return [from, to + room];
}

/** A stretch that holds both, so that two drawings can be compared. */
export const both = (a: [number, number], b: [number, number]): [number, number] => [
  Math.min(a[0], b[0]),
  Math.max(a[1], b[1]),
];

export interface Tick {
  x: number;
  word: string;
}

/** Marks of the axis in words: meter figures with a thin gap, or months. */
export function ticks(by: AxisBy, domain: [number, number], width: number, unit: string): Tick[] {
  if (by === 'date') {
    const scale = scaleUtc().domain(domain).range([0, width]);
    const format = new Intl.DateTimeFormat('en-GB', { month: 'short', year: '2-digit', timeZone: 'UTC' });
    return scale.ticks(Math.max(width / 110, 2)).map((d) => ({ x: scale(d), word: format.format(d) }));
  }
  const scale = scaleLinear().domain(domain).range([0, width]);
  return scale.ticks(Math.max(width / 120, 2)).map((v) => ({
    x: scale(v),
    word: `${v.toLocaleString('en-GB').replaceAll(',', '\u202f')} ${unit}`,
  }));
}

/** Zoom around `at` (0 to 1 of the view) by `factor`, never outside the whole and never to nothing. */
export function zoomed(
  view: [number, number],
  whole: [number, number],
  factor: number,
  at = 0.5,
): [number, number] {
  const size = Math.min(
    Math.max((view[1] - view[0]) * factor, (whole[1] - whole[0]) / 200),
    whole[1] - whole[0],
  );
  const middle = view[0] + (view[1] - view[0]) * at;
  const from = Math.min(Math.max(middle - size * at, whole[0]), whole[1] - size);
  return [from, from + size];
}

/** What a lane shows of a point: the reading, or the rate per 100 meter units. */
export const shown = (p: Point, as: MetalsAs): number | null => (as === 'rate' ? p.rate : p.value);

const limitsOf = (p: Point, as: MetalsAs): [number | null, number | null] =>
  as === 'rate' ? [p.watch_rate, p.act_rate] : [p.watch, p.act];

export type Behind = 'expected' | 'sisters';

/** The band behind a point: what was expected, or where sister engines lie. */
export const bandOf = (p: Point, as: MetalsAs, what: Behind): [number, number] | null => {
  const behind =
    as === 'rate'
      ? { expected: p.expected_rate, sisters: p.sisters_rate }
      : { expected: p.expected, sisters: p.sisters };
  const [low, high] = behind[what] ?? [];
  return low === undefined || high === undefined ? null : [Math.max(low, 0), Math.max(high, 0)];
};

// A band may stretch a lane this far above what happened, so that the readings stay the picture.
const ROOM_FOR_BANDS = 1.5;

/** The stretch a lane shows: what happened and what was expected, with a little room; with its limits where they are
 * wanted in view. It begins at nothing unless all of it lies far above. */
export function laneScale(
  lane: Lane,
  as: MetalsAs,
  limits: boolean,
  behind: readonly Behind[] = ['expected'],
): [number, number] {
  const values = lane.points.flatMap((p) => [shown(p, as), as === 'read' ? p.start : null]);
  const happened = Math.max(...values.filter((x): x is number => x !== null), 0);
  const bands = lane.points
    .flatMap((p) => behind.map((b) => bandOf(p, as, b)?.[1] ?? null))
    .map((x) => (x === null ? null : Math.min(x, happened * ROOM_FOR_BANDS)));
  const wanted = limits ? lane.points.flatMap((p) => limitsOf(p, as)) : [];
  const known = [...values, ...bands, ...wanted].filter((x): x is number => x !== null);
  const high = Math.max(...known, 0);
  if (high <= 0) return [0, 1];
  const low = Math.min(...known);
  return [low < high / 3 ? 0 : low - (high - low) * 0.25, high + (high - Math.min(low, high / 3)) * 0.12];
}

/** The stretch of a lane of `engine`; the same as of the engine `beside` it, where both have it. */
export function stretch(
  lane: Lane,
  engine: Engine,
  beside: Engine | null,
  ways: { as: MetalsAs; limits: boolean; behind: readonly Behind[] },
): [number, number] {
  const of = (l: Lane, e: Engine): [number, number] =>
    l.channel === 'thickness'
      ? laneRange(l, [e.grade_low, e.grade_high])
      : laneScale(l, l.channel === 'wear' ? ways.as : 'read', ways.limits, ways.behind);
  const other = beside?.lanes.find((l) => l.column === lane.column);
  return beside && other?.points.length ? both(of(lane, engine), of(other, beside)) : of(lane, engine);
}

/** The newest limits that lie outside what a lane shows, in words for its edge; "" where all are drawn. */
export function beyond(lane: Lane, as: MetalsAs, top: number): string {
  const newest = lane.points.at(-1);
  if (!newest) return '';
  const named = limitsOf(newest, as).map((x, n) => ({ x, word: n ? 'Act' : 'Watch' }));
  const out = named.filter((l) => l.x !== null && l.x > top);
  return out.length ? `${out.map((l) => `${l.word} ${computed(l.x)}`).join(', ')} ↑` : '';
}

/** The stretch a two-sided lane shows: its readings and the allowed band, with a little room. */
export function laneRange(lane: Lane, band: [number | null, number | null]): [number, number] {
  const known = [...lane.points.map((p) => p.value), ...lane.points.map((p) => p.start), ...band].filter(
    (x): x is number => x !== null,
  );
  const [low, high] = [Math.min(...known), Math.max(...known)];
  const room = Math.max((high - low) * 0.12, 0.5);
  return [low - room, high + room];
}

export interface Scales {
  x: (what: Dated) => number | null;
  y: ScaleLinear<number, number>;
}

export interface ChargeAt extends Dated {
  number: number;
}

/** Ribbons behind a lane, one path each stretch: as read from charge to charge, beginning at the oil as filled; rates
 * in one. A stretch ends where nothing was expected. */
export function ribbons(
  lane: Lane,
  as: MetalsAs,
  what: Behind,
  chargeOf: Map<string, number>,
  starts: Map<number, ChargeAt>,
  { x, y }: Scales,
): string {
  let path = '';
  let open: number | null = null;
  let edge: { x: number; low: number; high: number }[] = [];
  const close = () => {
    if (edge.length > 1)
      path +=
        `M${edge.map((e) => `${r(e.x)} ${r(y(e.high))}`).join('L')}` +
        `L${edge
          .toReversed()
          .map((e) => `${r(e.x)} ${r(y(e.low))}`)
          .join('L')}Z`;
    edge = [];
  };
  for (const p of lane.points) {
    const band = bandOf(p, as, what);
    const px = x(p);
    const charge = as === 'read' ? (chargeOf.get(p.sample) ?? 0) : 0;
    if (band === null || px === null || charge !== open) close();
    if (band === null || px === null) {
      open = null;
      continue;
    }
    const start = starts.get(charge);
    const sx = start ? x(start) : null;
    if (charge !== open && as === 'read' && sx !== null && p.start !== null)
      edge.push({ x: sx, low: p.start, high: p.start });
    open = charge;
    edge.push({ x: px, low: band[0], high: band[1] });
  }
  close();
  return path;
}

/** Curves of a lane: as read they break at each charge and start from the oil as filled; rates run on. */
export function curves(
  lane: Lane,
  as: MetalsAs,
  chargeOf: Map<string, number>,
  starts: Map<number, ChargeAt>,
  { x, y }: Scales,
  apart = as === 'read',
): string {
  let path = '';
  let open: number | null = null;
  for (const p of lane.points) {
    const value = shown(p, as);
    const px = x(p);
    if (value === null || px === null) continue;
    const charge = apart ? (chargeOf.get(p.sample) ?? 0) : 0;
    if (charge !== open) {
      const start = starts.get(charge);
      const sx = start ? x(start) : null;
      if (as === 'read' && sx !== null && p.start !== null)
        path += `M${r(sx)} ${r(y(p.start))}L${r(px)} ${r(y(value))}`;
      else path += `M${r(px)} ${r(y(value))}`;
      open = charge;
    } else path += `L${r(px)} ${r(y(value))}`;
  }
  return path;
}

const r = (n: number) => Math.round(n * 10) / 10;

/** A limit as it held at each sample: flat up to it, then a step. */
export function steps(
  points: { at: Dated; limit: number | null }[],
  { x, y }: Scales,
  from: number,
  to: number,
): string {
  let path = '';
  let before = from;
  for (const p of points) {
    const px = x(p.at);
    if (px === null) continue;
    if (p.limit === null) {
      before = px;
      continue;
    }
    const py = r(y(p.limit));
    path += path && before > from ? `V${py}H${r(px)}` : `M${r(before)} ${py}H${r(px)}`;
    before = px;
  }
  return path && before < to ? `${path}H${r(to)}` : path;
}

/** The two stepped limits of a lane, as far as they lie within what it shows. */
export function limitSteps(lane: Lane, as: MetalsAs, scales: Scales, width: number): [string, string] {
  const top = scales.y.domain()[1] ?? Infinity;
  const within = (x: number | null) => (x !== null && x <= top ? x : null);
  const path = (n: 0 | 1) =>
    steps(
      lane.points.map((p) => ({ at: p, limit: within(limitsOf(p, as)[n]) })),
      scales,
      0,
      width,
    );
  return [path(0), path(1)];
}

const DRAWN: Record<string, string> = Object.fromEntries(TERMS.analytes.map((a) => [a.column, a.lane]));

/** Lanes by place on the page. A metal that was never seen above its detection limit, here or in the engine
 * `beside`, is left out, unless usual. */
export function grouped(lanes: Lane[], beside: Lane[] = []): { title: string; lanes: Lane[] }[] {
  const above = (l: Lane) => l.points.some((p) => p.censor !== 1 && (p.value ?? 0) > 0);
  const seen = (l: Lane) => above(l) || beside.some((o) => o.column === l.column && above(o));
  const of = (...channels: string[]) =>
    lanes.filter((l) => {
      const drawn = DRAWN[l.column];
      return channels.includes(l.channel) && drawn !== 'never' && (drawn === 'always' || seen(l));
    });
  return [
    { title: 'Wear', lanes: of('wear') },
    { title: 'Contamination', lanes: of('dirt', 'coolant', 'fuel') },
    { title: 'Thickness', lanes: of('thickness') },
    { title: 'Oil life', lanes: of('oil_life') },
    { title: 'Debris', lanes: of('debris') },
  ].filter((g) => g.lanes.length);
}

/** Words along the axis in as many lines as they need, so that none runs into another. */
export function rowsOfWords(items: { x: number; word: string }[], perLetter = 6): number[] {
  const ends: number[] = [];
  return items.map((item) => {
    const row = ends.findIndex((end) => end + 8 < item.x);
    const at = row < 0 ? ends.length : row;
    ends[at] = item.x + 6 + item.word.length * perLetter;
    return at;
  });
}

/** What the strips show, a sample a row: each figure, what was expected of it, its limits. */
export function stripSheet(engine: Engine, as: MetalsAs): Sheet {
  const lanes = grouped(engine.lanes).flatMap((g) => g.lanes);
  const how = (l: Lane): MetalsAs => (l.channel === 'wear' ? as : 'read');
  const unit = (l: Lane) => (how(l) === 'rate' ? `${l.unit} per 100 ${engine.unit}` : l.unit);
  const heads = lanes.flatMap((l) => [
    `${l.name}, ${unit(l)}`,
    `${l.symbol} below it`,
    `${l.symbol} expected from`,
    `${l.symbol} expected to`,
    `${l.symbol} Watch`,
    `${l.symbol} Act`,
  ]);
  const rows = engine.samples.map((s) => [
    s.sample,
    s.on,
    s.total,
    s.hours,
    ...lanes.flatMap((l) => {
      const p = l.points.find((x) => x.sample === s.sample);
      if (!p) return [null, null, null, null, null, null];
      const [low, high] = bandOf(p, how(l), 'expected') ?? [null, null];
      return [shown(p, how(l)), p.censor === 1 ? 'yes' : null, low, high, ...limitsOf(p, how(l))];
    }),
  ]);
  return {
    columns: ['sample', 'drawn on', `true meter, ${engine.unit}`, `on the oil, ${engine.unit}`, ...heads],
    rows,
  };
}
