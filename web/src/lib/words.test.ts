import csv from '../../../src/keen_tracer/core/tables/figures_as_read.csv?raw';
import { describe, expect, it } from 'vitest';
import { computed, count, day, dayYear, expectation, figure, levelWord, meter } from './words';

const TABLE = csv
  .trim()
  .split('\n')
  .slice(2)
  .map((line): [string, string, string] => {
    const [value = '', read = '', made = ''] = line.split(',');
    return [value, read, made];
  });

describe('figures as people read them, as the server writes them', () => {
  it.each(TABLE)('%s is read %s, computed %s', (value, read, made) => {
    expect(figure(Number(value))).toBe(read);
    expect(computed(Number(value))).toBe(made);
  });

  it('say two digits of what was expected', () => {
    expect([0.01, 0.34, 6.04, 12.3, 143].map(expectation)).toEqual(['0', '0.34', '6', '12', '140']);
  });

  it('leave a gap where there is none', () => expect(figure(null)).toBe(''));

  it('gives a meter its unit, and says when it is not known', () => {
    expect(meter(3119.6, 'h')).toBe('3\u202f120 h');
    expect(meter(null, 'h')).toBe('meter not known');
  });
});

describe('days', () => {
  it('do not move with the clock of the machine', () => {
    expect(day('2026-11-04')).toBe('4 Nov');
    expect(dayYear('2026-01-01')).toBe('1 Jan 2026');
  });
});

describe('levels', () => {
  it('never call the unknown Steady', () => {
    expect(levelWord(0)).toBe('Steady');
    expect(levelWord(3)).toBe('Stop');
    expect(levelWord(null)).toBe('not measured');
    expect(levelWord(undefined)).toBe('not measured');
  });
});

describe('a number with its noun', () => {
  it.each([
    [0, '0 engines'],
    [1, '1 engine'],
    [1200, '1,200 engines'],
  ])('%i is %s', (n, said) => {
    expect(count(n, 'engine', 'engines')).toBe(said);
  });
});
