import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { dueWord, meterSaid, onOil, press } from './register';

const stop = (more: Partial<Schemas['Stop']> = {}) =>
  ({
    code: 'G-02',
    unit: 'h',
    dial: 3401,
    low: 3402,
    expected: 3416,
    high: 3431,
    charge_start: 3170,
    offset: 0,
    next: '',
    state: { actions: [] },
    purpose: 'routine',
    due: null,
    ...more,
  }) as unknown as Schemas['Stop'];

const typed = (keys: string) => [...keys].reduce(press, '');

describe('the pad', () => {
  it.each([
    ['3417', '3417'],
    ['34.5', '34.5'],
    ['3.4.5', '3.45'],
    ['.5', '5'],
    ['05', '5'],
    ['0.5', '0.5'],
    ['341←7', '347'],
    ['←', ''],
    ['1234567890', '12345678'],
  ])('typing %s gives %s', (keys, text) => {
    expect(typed(keys)).toBe(text);
  });
});

describe('the meter', () => {
  it('is as expected, or asked about kindly, or cannot be', () => {
    expect(meterSaid('3417', stop()).kind).toBe('ok');
    expect(meterSaid('3500', stop())).toEqual({
      kind: 'ask',
      words: 'More than expected 3\u202f402 – 3\u202f431 h. If the dial says so, go on.',
    });
    expect(meterSaid('3400', stop()).kind).toBe('wrong');
    expect(meterSaid('3400', stop()).words).toContain('Below the last figure, 3\u202f401 h');
    expect(meterSaid('', stop()).kind).toBe('empty');
  });

  it('of one figure is no range', () => {
    expect(meterSaid('', stop({ low: 5945, high: 5945.2 })).words).toBe('expected 5\u202f945 h');
  });

  it('on the bound that is shown is inside it', () => {
    expect(meterSaid('5462', stop({ dial: 5400, low: 5440.2, high: 5461.7 })).kind).toBe('ok');
    expect(meterSaid('5440', stop({ dial: 5400, low: 5440.2, high: 5461.7 })).kind).toBe('ok');
    expect(meterSaid('5463', stop({ dial: 5400, low: 5440.2, high: 5461.7 })).kind).toBe('ask');
  });

  it('is taken as it is where there is no forecast', () => {
    const blind = stop({ low: null, high: null, dial: null });
    expect(meterSaid('12', blind).kind).toBe('ok');
    expect(meterSaid('', blind).words).toBe('no forecast yet');
  });
});

describe('hours on the oil', () => {
  it('follow the meter, across a replaced one too', () => {
    expect(onOil('3417', stop())).toBe('247 h on this oil');
    expect(onOil('', stop())).toBe('231 h on this oil');
    expect(onOil('10', stop({ offset: 5400 }))).toBe('2\u202f240 h on this oil');
    expect(onOil('10', stop({ offset: 3400 }))).toBe('240 h on this oil');
    expect(onOil('10', stop({ charge_start: null }))).toBe('no oil change on record');
  });
});

describe('when it is due', () => {
  const due = (on: string) => stop({ due: { on } as Schemas['Due'] });
  it.each([
    ['2026-11-25', 'today'],
    ['2026-11-26', 'tomorrow'],
    ['2026-11-28', 'in 3 days'],
    ['2026-11-24', '1 day over'],
    ['2026-10-26', '30 days over'],
  ])('%s is %s', (on, word) => {
    expect(dueWord(due(on), '2026-11-25')).toBe(word);
  });
  it('says resample where the verdict asked for one', () => {
    expect(dueWord(stop({ purpose: 'resample' }), '2026-11-25')).toBe('resample');
    expect(dueWord(stop(), '2026-11-25')).toBe('');
    const spent = { actions: [{ code: 'sample_and_change' }] } as Schemas['StateOut'];
    expect(dueWord(stop({ state: spent }), '2026-11-25')).toBe('now');
  });
});
