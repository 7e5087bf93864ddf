import type { Schemas } from '../api/client';
import { choices, wordsOf } from '../terms';

type Bottle = Schemas['BottleOut'];

const STEPS = choices('bottle_steps').filter((s) => s.code !== 'found');
export const STATES: readonly string[] = ['drawn', ...STEPS.map((s) => s.code)];
/** A bottle's last step in words; one without any is still here. */
export const stateWords = (state: string): string =>
  state === 'drawn' ? 'drawn, still here' : wordsOf(STEPS, state);

/** Where a bottle is, in words, with what is late about it. */
export function whereabouts(b: Bottle): string {
  const lab = b.laboratory && (b.state === 'sent' || b.state === 'received') ? ` ${b.laboratory}` : '';
  const where = b.state === 'sent' && lab ? `sent to${lab}` : `${stateWords(b.state)}${lab}`;
  if (b.late_days > 0) {
    return b.state === 'drawn'
      ? `${where}, ${b.late_days} d longer than it should be`
      : `${where}, ${b.late_days} d late`;
  }
  return where;
}

/** Bottles that can be sent: still here. */
export function sendable(bottles: Bottle[]): Bottle[] {
  return bottles.filter((b) => b.state === 'drawn');
}

export const DELAYS = [
  { s: 0, word: 'at once' },
  { s: 60, word: 'in a minute' },
  { s: 3600, word: 'in an hour' },
  { s: 4 * 86_400, word: 'in four days' },
] as const;

export const MISCHIEF = [
  { code: 'now_and_then', word: 'goes wrong now and then' },
  { code: 'none', word: 'makes no mistake' },
  { code: 'swap', word: 'swaps two labels' },
  { code: 'late', word: 'keeps one back' },
  { code: 'amended', word: 'amends one report' },
] as const;
export type Mischief = (typeof MISCHIEF)[number]['code'];
