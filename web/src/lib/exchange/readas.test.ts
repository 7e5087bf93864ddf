import { describe, expect, it } from 'vitest';
import { counted, given, newOnes, open, standsFor, tellsEngine, type ReadAs } from './readas';

const found = (over: Partial<ReadAs> = {}): ReadAs => ({
  sheets: [{ name: 'a.csv', rows: 3 }],
  sheet: 0,
  known_from: '',
  layout: {
    way: 'rows',
    header: 1,
    body: 2,
    width: 0,
    laboratory: '',
    engine: '',
    decimal: 'point',
    days: 'iso',
    water: '%',
    blank: '',
    parts: null,
    others: [],
    columns: [
      { heading: 'Unit', target: 'engine', unit: '', turn: 0, seen: ['U-1'] },
      { heading: 'Iron', target: 'Fe_ppm', unit: 'ppm', turn: 0, seen: ['14'] },
    ],
    lines: [{ label: 'depot', target: 'depot', seen: ['East'] }],
  },
  parts: [],
  others: [],
  marks: [],
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
  fresh: [],
  oils: [],
  wrong: [],
  wrongs: 0,
  ...over,
});

describe('a file as it would be read', () => {
  it('is sent back without the cells that were shown', () => {
    expect(given(found().layout).columns[0]).toEqual({
      heading: 'Unit',
      target: 'engine',
      unit: '',
      turn: 0,
    });
    expect(given(found().layout).lines).toEqual([{ label: 'depot', target: 'depot' }]);
  });
  it('has one column for each thing', () => {
    const after = standsFor(given(found().layout), { column: 1 }, 'engine');
    expect(after.columns.map((c) => c.target)).toEqual(['', 'engine']);
    expect(standsFor(after, { column: 1 }, '').columns.map((c) => c.target)).toEqual(['', '']);
    const above = standsFor(after, { line: 0 }, 'engine');
    expect([...above.columns, ...(above.lines ?? [])].map((x) => x.target)).toEqual(['', '', 'engine']);
  });
  it('leaves the other samples of a row their own', () => {
    const layout = given(found().layout);
    const columns = [1, 2].map((turn) => ({ heading: `Fe ${turn}`, target: 'Fe_ppm', unit: '', turn }));
    const after = standsFor({ ...layout, columns }, { column: 0 }, 'Fe_ppm');
    expect(after.columns.map((c) => c.target)).toEqual(['Fe_ppm', 'Fe_ppm']);
  });
  it('says what is open', () => {
    expect(open(found())).toBe('');
    const question = { about: 'days', words: 'In which order are days written?', seen: ['01/02/2026'] };
    expect(open(found({ questions: [question], lacking: ['laboratory'] }))).toBe(
      'In which order are days written? Not chosen yet: laboratory.',
    );
  });
  it('knows which engines are new', () => {
    expect(tellsEngine(found())).toBe(true);
    expect(
      counted([
        { what: 'H', times: 3 },
        { what: '*', times: 1 },
      ]),
    ).toBe('H 3, * 1');
    expect(newOnes(found()).map((e) => e.said)).toEqual(['U-1']);
  });
});
