import { describe, expect, it } from 'vitest';
import { added, counts, empty, seenWords, spots, total, withAmount } from './tray';

describe('a tray that fills', () => {
  it('counts up and never below nothing', () => {
    let laid = added(empty(), 'slivers', '1-3', 10);
    laid = added(laid, 'slivers', '1-3', -3);
    laid = added(laid, 'slivers', 'over 3', -1);
    expect(counts(laid)).toEqual([{ type: 'slivers', size_class: '1-3', count: 7, amount: '' }]);
    expect(total(laid, 'slivers')).toBe(7);
    expect(total(laid, 'sliver')).toBe(0);
  });

  it('sends an amount on a row of its own, and takes it back when pressed again', () => {
    const dusted = withAmount(empty(), 'fuzz', 'dusting');
    expect(counts(dusted)).toEqual([{ type: 'fuzz', size_class: '', count: 0, amount: 'dusting' }]);
    expect(counts(withAmount(dusted, 'fuzz', 'dusting'))).toEqual([]);
    expect(counts(withAmount(dusted, 'fuzz', 'covers'))[0]?.amount).toBe('covers');
  });

  it('weighs what was found, and nothing that was not', () => {
    const laid = { ...added(empty(), 'sludge', '', 1), masses: { sludge: 40, sand: 3 } };
    expect(counts(laid)).toEqual([{ type: 'sludge', size_class: '', count: 1, amount: '', mass_mg: 40 }]);
  });

  it('lays pieces where they were, inside the cell', () => {
    const five = spots(5);
    expect(spots(9).slice(0, 5)).toEqual(five);
    expect(spots(400)).toHaveLength(26);
    expect(spots(26).every((s) => s.x > 0 && s.x < 60 && s.y > 0 && s.y < 40)).toBe(true);
  });

  it('says how much was seen', () => {
    expect(seenWords(12, 60, true)).toBe('20 % of it');
    expect(seenWords(12, 60, false)).toBe('10 % of it');
    expect(seenWords(70, 60, true)).toBe('');
    expect(seenWords(null, 60, true)).toBe('');
  });
});
