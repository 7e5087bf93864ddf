import { scaleUtc } from 'd3-scale';
import { utcMonth } from 'd3-time';
import type { Schemas } from '../api/client';

type Mark = Schemas['Mark'];

export interface TraceScale {
  (iso: string): number;
  width: number;
}

/** One linear date scale for every row of the Wall. */
export function traceScale(since: string, until: string, width: number): TraceScale {
  const scale = scaleUtc()
    .domain([new Date(since), new Date(until)])
    .range([0, width]);
  return Object.assign((iso: string) => scale(new Date(iso)), { width });
}

const MONTH = new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' });

/** First days of the months in view, with their place. */
export function months(since: string, until: string, scale: TraceScale): { x: number; word: string }[] {
  return utcMonth
    .range(new Date(since), new Date(until))
    .map((d) => ({ x: scale(d.toISOString()), word: MONTH.format(d) }));
}

export interface Span {
  from: number;
  to: number;
}

/** Stretches in storage, from the marks going in and coming out; open until today. */
export function storedSpans(trace: Mark[], scale: TraceScale, today: string): Span[] {
  const out: Span[] = [];
  let from: number | null = null;
  for (const m of trace) {
    if (m.kind === 'stored') from = scale(m.on);
    if (m.kind === 'out' && from !== null) {
      out.push({ from, to: scale(m.on) });
      from = null;
    }
  }
  if (from !== null) out.push({ from, to: scale(today) });
  return out.map((s) => ({ from: Math.max(s.from, 0), to: Math.max(s.to, 0) })).filter((s) => s.to > s.from);
}

/** The baseline, broken where the engine was stored. */
export function running(spans: Span[], end: number): Span[] {
  const out: Span[] = [];
  let from = 0;
  for (const s of spans) {
    if (s.from > from) out.push({ from, to: s.from });
    from = s.to;
  }
  if (end > from) out.push({ from, to: end });
  return out;
}
