import { describe, expect, it } from 'vitest';
import { TERMS } from '../terms';
import { endsIn, FIRST, question } from './key';

function ends(step: string, past: string[] = []): string[] {
  expect(past).not.toContain(step); // never in a circle
  expect(past.length).toBeLessThan(3);
  const q = question(step);
  expect(q.words).not.toBe('');
  return q.answers.flatMap((a) => endsIn(a) ?? ends(a.next, [...past, step]));
}

describe('the key to debris', () => {
  it('ends in every type, from the first question on, in at most three answers', () => {
    expect(new Set(ends(FIRST))).toEqual(new Set(TERMS.debris_types.map((t) => t.code)));
  });
});
