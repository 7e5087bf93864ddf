import type { Schemas } from '../api/client';
import type { Sheet } from '../take/carried';
import { levelWord } from '../words';

type Ladder = Schemas['LadderOut'];

export interface Zone {
  from: number;
  to: number;
  level: 1 | 2;
}

const BELOW = 1;

/** Where a figure stands on a ladder of `width` pixels; past the end it stops at the end. */
export function place(one: Ladder, x: number, width: number): number {
  return (Math.min(Math.max(x, 0), one.axis_end) / one.axis_end) * width;
}

/** The Watch and Act zones of the fixed limits, at both ends where a low figure is bad too. */
export function zones(one: Ladder, width: number): Zone[] {
  const at = (x: number) => place(one, x, width);
  const out: Zone[] = [];
  const put = (from: number, to: number, level: 1 | 2) => {
    if (to > from) out.push({ from, to, level });
  };
  const { watch, act, watch_low, act_low } = one;
  if (watch !== null) put(at(watch), act === null ? width : at(act), 1);
  if (act !== null) put(at(act), width, 2);
  if (watch_low !== null) put(act_low === null ? 0 : at(act_low), at(watch_low), 1);
  if (act_low !== null) put(0, at(act_low), 2);
  return out;
}

/** The zones of peers or own history: Watch from three, Act from four and a half standard deviations up. */
export function schoolZones(one: Ladder, school: Schemas['School'], width: number): Zone[] {
  const { watch, act } = school;
  return zones({ ...one, watch, act, watch_low: null, act_low: null }, width);
}

/** The numbers printed under a ladder, left to right, dropping one that would run into its neighbour. */
export function printed(
  one: Ladder,
  width: number,
  gap = 26,
): { x: number; value: number; level: 0 | 1 | 2 }[] {
  const wanted = (
    [
      [0, 0],
      [one.act_low, 2],
      [one.watch_low, 1],
      [one.watch, 1],
      [one.act, 2],
    ] as const
  )
    .flatMap(([value, level]) => (value === null ? [] : [{ value, level, x: place(one, value, width) }]))
    .sort((a, b) => a.x - b.x || a.level - b.level);
  const out: typeof wanted = [];
  for (const one of wanted) {
    const before = out.at(-1);
    if (!before || one.x - before.x >= gap) out.push(one);
    else if (one.level > before.level) out[out.length - 1] = one;
  }
  return out;
}

/** A non-detect: what is known is only that it lies under its limit. */
export const isNonDetect = (one: Ladder): boolean => one.censor === BELOW && one.value !== null;

export const beyondEnd = (one: Ladder): boolean => one.value !== null && one.value > one.axis_end;

export interface ChannelGroup {
  channel: string;
  ladders: Ladder[];
  level: 0 | 1 | 2 | 3 | null;
}

const ORDER = ['wear', 'dirt', 'coolant', 'fuel', 'thickness', 'oil_life', 'debris', ''];

/** Ladders by channel: raised channels first and worst first, then in the order of the comb. */
export function byChannel(
  ladders: Ladder[],
  levels: Schemas['VerdictOut']['channels'] | undefined,
): ChannelGroup[] {
  const groups = new Map<string, Ladder[]>();
  for (const one of ladders) groups.set(one.channel, [...(groups.get(one.channel) ?? []), one]);
  return [...groups]
    .map(([channel, list]) => ({ channel, ladders: list, level: levels?.[channel] ?? null }))
    .sort((a, b) => (b.level ?? 0) - (a.level ?? 0) || ORDER.indexOf(a.channel) - ORDER.indexOf(b.channel));
}

/** A small line through the last readings; a gap where there was none. */
export function spark(values: (number | null)[], width: number, height: number): string {
  const known = values.filter((v): v is number => v !== null);
  if (known.length < 2) return '';
  const top = Math.max(...known) || 1;
  const step = width / (values.length - 1);
  let pen = 'M';
  return values
    .map((v, n) => {
      if (v === null) {
        pen = 'M';
        return '';
      }
      const point = `${pen}${(n * step).toFixed(1)} ${(height - 1 - (v / top) * (height - 2)).toFixed(1)}`;
      pen = 'L';
      return point;
    })
    .join('');
}

/** The figures of a sample as they leave, a row each, with what they were held against. */
export function ladderSheet(sample: Schemas['SampleOut']): Sheet {
  return {
    columns: [
      ...['figure', 'as read', 'unit', 'expected', 'from', 'to', 'watch', 'act', 'watch low', 'act low'],
      ...['level', 'per 100', 'since the last', 'laboratory average', 'origin of the limit'],
    ],
    rows: sample.ladders.map((l) => [
      ...[
        l.name,
        l.text,
        l.unit,
        l.expected?.value ?? null,
        l.expected?.low ?? null,
        l.expected?.high ?? null,
      ],
      ...[l.watch, l.act, l.watch_low, l.act_low, levelWord(l.level)],
      ...[l.rate_withheld ? null : l.rate_per_100, l.change?.words ?? '', l.average?.average ?? null],
      `${l.limit?.['origin'] ?? ''}`,
    ]),
  };
}
