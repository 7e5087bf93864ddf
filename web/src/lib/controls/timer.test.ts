import { describe, expect, it } from 'vitest';
import { left, MINUTE } from './timer';

describe('a timer', () => {
  it('counts down to nothing and not below', () => {
    expect(left(20 * MINUTE)).toBe('20:00');
    expect(left(754_321)).toBe('12:35');
    expect(left(1)).toBe('0:01');
    expect(left(-5)).toBe('0:00');
  });
});
