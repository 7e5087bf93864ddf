import type { Schemas } from '../api/client';
import { computed, figure } from '../words';

const TALLEST = 74;

/** The height of a bar, the highest figure filling the drawing. */
export const barHeight = (value: number, most: number): number => (TALLEST * value) / most;

/** What to do next, in a sentence; `after`: when to sample once it is done, in the engine's own unit. */
export function flushSays(f: Schemas['FlushOut'], after: string): string {
  const fills = (n: number | null | undefined) => (n === 1 ? 'one more fill' : `${n ?? '?'} more fills`);
  const last = f.stages.at(-1);
  switch (f.word) {
    case 'done':
      return `Done: ${figure(f.left)} measured, under ${figure(f.target)}. Sample after ${after}.`;
    case 'measure':
      return `By computation ${computed(f.left)} is left: measure it before you call it done.`;
    case 'leaks':
      return `It rose to ${figure(f.left)}: it still comes in. Find the leak before another fill.`;
    case 'unclear':
      return `${figure(f.left)} came out, more than was to be there: measure the next fill too before you say it still comes in.`;
    case 'dead_legs':
      return `${figure(last?.measured)} came out where ${computed(last?.computed)} was computed: more stays than the litres say. Mix warm at idle, ${fills(f.more)}.`;
    case 'never':
      return 'So much stays with each fill that the target is out of reach: drain filter, cooler and lines too.';
    default:
      return f.stages.length
        ? `${fills(f.more)} to ${figure(f.target)}.`.replace(/^./, (x) => x.toUpperCase())
        : `${f.more} ${f.more === 1 ? 'fill' : 'fills'} of ${figure(f.planned_l)} L, a filter each time.`;
  }
}

/** A figure as typed: a number, or "<5", which counts as the most it can be; undefined for anything else. */
export function atMost(typed: string): number | null | undefined {
  const said = typed
    .trim()
    .replace(',', '.')
    .replace(/^[<≤]\s*/, '');
  if (!said) return null;
  const x = Number(said);
  return Number.isFinite(x) && x >= 0 ? x : undefined;
}
