import { describe, expect, it } from 'vitest';
import { day, dayYear, figure, levelWord, meter } from './words';

describe('figures as people read them', () => {
  it.each([
    [null, ''],
    [0, '0'],
    [0.123, '0.12'],
    [4.46, '4.5'],
    [31.44, '31.4'],
    [444.4, '444'],
    [1234.5, '1\u202f235'],
    [-1.26, '-1.3'],
  ])('%s is written %s', (value, text) => {
    expect(figure(value)).toBe(text);
  });

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
