import { TERMS } from '../terms';

export type Answer = (typeof TERMS.debris_key)[number];

/** The question of a step, with its answers. */
export function question(step: string): { words: string; how: string; answers: Answer[] } {
  const answers = TERMS.debris_key.filter((a) => a.step === step);
  return { words: answers[0]?.question ?? '', how: answers[0]?.how ?? '', answers };
}

export const FIRST = TERMS.debris_key[0].step;

/** The type an answer ends in, or null where another question comes. */
export const endsIn = (answer: Answer): string | null =>
  TERMS.debris_types.some((t) => t.code === answer.next) ? answer.next : null;
