import { describe, expect, it } from 'vitest';
import { at, banks, mains } from './map';

const finding = (number: number, part: string, position: string, grade: 0 | 1 | 2 | 3) =>
  ({ number, part, position, grade }) as never;

describe('the map of an opened engine', () => {
  it('stands its cylinders as the engine does', () => {
    expect(banks({ kind: 'line', cylinders: 6 })).toEqual([[1, 2, 3, 4, 5, 6]]);
    expect(banks({ kind: 'vee', cylinders: 8 })).toEqual([
      [1, 2, 3, 4],
      [5, 6, 7, 8],
    ]);
    expect(banks({ kind: 'opposed', cylinders: 2 })).toEqual([[1], [2]]);
    expect(banks({ kind: 'line', cylinders: 1 })).toEqual([[1]]);
  });

  it('counts main bearings by throws', () => {
    expect(mains({ kind: 'line', cylinders: 6 })).toHaveLength(7);
    expect(mains({ kind: 'vee', cylinders: 8 })).toHaveLength(5);
    expect(mains({ kind: 'opposed', cylinders: 4 })).toHaveLength(5);
  });

  it('shows the worst of a place, and its numbers in the order found', () => {
    const found = [
      finding(1, 'rod_bearing', '3', 2),
      finding(2, 'pan', '', 1),
      finding(3, 'rod_bearing', '3', 3),
    ];
    expect(at(found, 'rod_bearing', 3)).toEqual({ numbers: [1, 3], grade: 3 });
    expect(at(found, 'rod_bearing', 2)).toEqual({ numbers: [], grade: null });
    expect(at(found, 'pan', null)).toEqual({ numbers: [2], grade: 1 });
  });
});
