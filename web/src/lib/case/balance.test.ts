import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { heaviest, leaders, signed, width } from './balance';

const row = (words: string, score: number, aside = false): Schemas['ExplanationOut'] => ({
  code: words,
  words,
  score,
  own: false,
  shown: true,
  speaks_for: [
    { words: 'a', weight: 2, origin: '', key: null },
    { words: 'b', weight: 1, origin: '', key: null },
  ],
  against: [{ words: 'c', weight: -4, origin: '', key: null }],
  unknown: null,
  aside: aside ? { key: '1', why: 'pressed alone, tight', by: 'M' } : null,
});

describe('the balance', () => {
  it('draws every piece on one scale, the heaviest side as the full width', () => {
    const full = heaviest([row('cooler', 2)]);
    expect(full).toBe(4);
    expect(width(-4, full)).toBe(100);
    expect(width(1, full)).toBe(25);
    expect(heaviest([])).toBe(1);
  });
  it('names what leads, and what is as likely, without those set aside', () => {
    expect(leaders([row('seal', 3.1), row('gasket', 1.2)])).toBe('seal, 1.9 ahead of gasket');
    expect(leaders([row('seal', 1.3), row('gasket', 1.2)])).toBe('seal, or as likely gasket');
    expect(leaders([row('seal', 3.1, true), row('gasket', 1.2)])).toBe('gasket');
    expect(leaders([])).toBe('');
  });
  it('writes a minus that can be read', () => {
    expect(signed(-0.75)).toBe('−0.8');
    expect(signed(2)).toBe('+2.0');
  });
});
