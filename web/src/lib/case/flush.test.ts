import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { atMost, barHeight, flushSays } from './flush';

const flush = (over: Partial<Schemas['FlushOut']>): Schemas['FlushOut'] => ({
  key: '1',
  wrong: '',
  what: 'potassium, ppm',
  start: 200,
  target: 10,
  planned_l: 18,
  trapped_l: 2,
  stages: [],
  left: 200,
  more: 2,
  share: 0.1,
  litres: 0,
  litres_more: 36,
  filters: 0,
  word: 'more',
  ...over,
});
const stage = (computed: number, measured: number | null) => ({ key: '2', computed, measured });

describe('a flush', () => {
  it('says how many fills it takes before the first', () => {
    expect(flushSays(flush({}), '10 and 50 h')).toBe('2 fills of 18 L, a filter each time.');
  });
  it('is not called done before it was measured', () => {
    expect(flushSays(flush({ word: 'measure', left: 7.5 }), '10 and 50 h')).toContain('measure it before');
    expect(flushSays(flush({ word: 'done', left: 8 }), '10 and 50 h')).toContain('Done: 8 measured');
  });
  it('says what came out beside what was computed', () => {
    const said = flushSays(flush({ word: 'dead_legs', more: 1, stages: [stage(20, 61)] }), '10 and 50 h');
    expect(said).toContain('61 came out where 20 was computed');
    expect(said).toContain('one more fill');
  });
  it('sends nobody on while it still comes in', () => {
    expect(flushSays(flush({ word: 'leaks', left: 90 }), '10 and 50 h')).toContain('Find the leak');
  });
  it('draws the highest figure as high as the drawing', () => {
    expect(barHeight(200, 200)).toBe(2 * barHeight(100, 200));
  });
});

describe('a figure of a flush as typed', () => {
  it.each([
    ['12', 12],
    [' 4,5 ', 4.5],
    ['<5', 5],
    ['< 0,5', 0.5],
    ['', null],
    ['trace', undefined],
    ['-3', undefined],
  ])('%s is %s', (typed, read) => expect(atMost(typed)).toBe(read));
});
