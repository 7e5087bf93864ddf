import { describe, expect, it } from 'vitest';
import { given, newOnes, open, standsFor, type ReadAs } from './readas';

const found = (over: Partial<ReadAs> = {}): ReadAs => ({
  sheets: [{ name: 'a.csv', rows: 3 }],
  sheet: 0,
  known_from: '',
  layout: {
    way: 'rows',
    header: 1,
    body: 2,
    laboratory: '',
    decimal: 'point',
    days: 'iso',
    water: '%',
    columns: [
      { heading: 'Unit', target: 'engine', unit: '', seen: ['U-1'] },
      { heading: 'Iron', target: 'Fe_ppm', unit: 'ppm', seen: ['14'] },
    ],
  },
  questions: [],
  lacking: [],
  told: [],
  samples: 1,
  engines: [
    { said: 'U-1', known: '', samples: 1, model: '', depot: '' },
    { said: 'G7', known: 'G-07', samples: 2, model: '', depot: '' },
  ],
  unread: [],
  left: 0,
  wrong: [],
  wrongs: 0,
  ...over,
});

describe('a file as it would be read', () => {
  it('is sent back without the cells that were shown', () => {
    expect(given(found().layout).columns[0]).toEqual({ heading: 'Unit', target: 'engine', unit: '' });
  });
  it('has one column for each thing', () => {
    const after = standsFor(given(found().layout), 1, 'engine');
    expect(after.columns.map((c) => c.target)).toEqual(['', 'engine']);
    expect(standsFor(after, 1, '').columns.map((c) => c.target)).toEqual(['', '']);
  });
  it('says what is open', () => {
    expect(open(found())).toBe('');
    const question = { about: 'days', words: 'In which order are days written?', seen: ['01/02/2026'] };
    expect(open(found({ questions: [question], lacking: ['laboratory'] }))).toBe(
      'In which order are days written? Not chosen yet: laboratory.',
    );
  });
  it('knows which engines are new', () => {
    expect(newOnes(found()).map((e) => e.said)).toEqual(['U-1']);
  });
});
