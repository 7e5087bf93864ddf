import { describe, expect, it } from 'vitest';
import { figuresOf } from './map';
import { detailsOf, emptyRows, filled } from './sheet';

const six = { kind: 'line' as const, cylinders: 6 };

describe('the bench sheet', () => {
  it('has a row for every one of a part', () => {
    expect(emptyRows('cylinder', six).map((r) => r.position)).toEqual([1, 2, 3, 4, 5, 6]);
    expect(emptyRows('main', six)).toHaveLength(7);
    expect(emptyRows('one', six).map((r) => r.position)).toEqual([null]);
  });
  it('writes down what was filled in, with the limits of the sheet', () => {
    const [row] = emptyRows('cylinder', six);
    if (!row) throw new Error('no row');
    expect(filled(row)).toBe(false);
    row.readings['ring_gap'] = '0.45';
    expect(filled(row)).toBe(true);
    expect(detailsOf(row, '', { ring_gap_high: '0.75' }, 4)).toEqual({
      ring_gap: '0.45',
      ring_gap_high: '0.75',
      condition: 'unseen',
      position: '1',
      order: '4',
    });
  });
  it('asks for the limits of the figures its readings come to', () => {
    expect(figuresOf(['bore', 'shell', 'journal_front', 'journal_rear', 'strip'])).toEqual([
      'out_of_round',
      'taper',
      'oil_clearance',
      'strip',
    ]);
    expect(figuresOf(['bore_top', 'bore_bottom', 'piston'])).toContain('piston_clearance');
    expect(figuresOf(['figure'])).toEqual(['figure']);
  });
});
