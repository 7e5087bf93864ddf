import { describe, expect, it } from 'vitest';
import { figuresOf } from './map';
import { emptyRows, filled, findingsOf, markTheRest } from './sheet';

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
    expect(findingsOf(row, '', { ring_gap_high: '0.75' }, 4)).toEqual([
      { ring_gap: '0.45', ring_gap_high: '0.75', condition: 'unseen', position: '1', order: '4' },
    ]);
  });
  it('writes each shell of a bearing by itself, and its figures as of neither', () => {
    const [row] = emptyRows('cylinder', six);
    if (!row) throw new Error('no row');
    row.conditions = { 'rod side': 'copper', 'cap side': '' };
    expect(findingsOf(row, '', {}, 1)).toEqual([
      { side: 'rod side', condition: 'copper', position: '1', order: '1' },
    ]);
    row.conditions['cap side'] = 'like_new';
    row.readings['strip'] = '0.051';
    expect(findingsOf(row, '', {}, 1)).toEqual([
      { side: 'rod side', condition: 'copper', position: '1', order: '1' },
      { side: 'cap side', condition: 'like_new', position: '1', order: '2' },
      { condition: 'unseen', strip: '0.051', position: '1', order: '3' },
    ]);
  });
  it('marks all rows that are left by one choice, and changes none that was judged', () => {
    const rows = emptyRows('cylinder', six);
    const third = rows[2];
    if (!third) throw new Error('no row');
    third.conditions = { '': 'scored' };
    markTheRest(rows, '', 'like_new');
    expect(rows.map((r) => r.conditions[''])).toEqual([
      ...['like_new', 'like_new', 'scored'],
      ...['like_new', 'like_new', 'like_new'],
    ]);
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
