import { describe, expect, it } from 'vitest';
import { polyline, rangeOf } from './control';

describe('a control chart', () => {
  it('has a range that is never empty', () => {
    expect(rangeOf([1, -2, 5])).toEqual([-2, 5]);
    expect(rangeOf([3, 3])).toEqual([2, 4]);
  });

  it('runs from the left edge to the right, upwards', () => {
    expect(polyline([0, 10, 5], 100, 50, [0, 10])).toBe('M0.0 50.0L50.0 0.0L100.0 25.0');
    expect(polyline([4], 100, 50, [0, 8])).toBe('M0.0 25.0');
  });
});
