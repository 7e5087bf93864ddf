import { describe, expect, it } from 'vitest';
import { into, readAmount, unitNamed, unitOf } from './units';

describe('an amount as people type it', () => {
  // Definitions: a US quart is 57.75 cubic inches, an inch 25.4 mm exactly (NIST SP 811, appendix B).
  const QUART_L = (57.75 * 2.54 ** 3) / 1000;
  it('is in the unit it names, kept as typed', () => {
    const read = readAmount('9 qt', 'L');
    expect(read.value).toBeCloseTo(9 * QUART_L, 6);
    expect(read.typed).toBe('9 US qt');
    expect(readAmount('12 oz', 'L').value).toBeCloseTo((12 * QUART_L) / 32, 6);
    expect(readAmount('400 mL', 'L').value).toBeCloseTo(0.4, 9);
    expect(readAmount('5000 mi', 'km').value).toBeCloseTo(8046.72, 6);
    expect(readAmount('212 F', '°C').value).toBeCloseTo(100, 6);
  });
  it("is in the person's own unit where it names none", () => {
    expect(readAmount('1', 'L', 'US qt').value).toBeCloseTo(QUART_L, 6);
    expect(readAmount('1 L', 'L', 'US qt')).toEqual({ value: 1, typed: '', wrong: '' });
    expect(readAmount('8 344', 'h').value).toBe(8344);
    expect(readAmount('0,4', 'L').value).toBe(0.4);
  });
  it('is asked about where it could be two, and never guessed', () => {
    for (const said of ['1,250', '9 gal', '3 km', 'some', '4 4 4 x', '--1']) {
      const read = readAmount(said, 'L');
      expect(read.value, said).toBeNull();
      expect(read.wrong, said).not.toBe('');
    }
    expect(readAmount('9 gal', 'L').wrong).toContain('US gal, imp gal');
    // A person who reads in one of them means that one.
    expect(readAmount('7 gal', 'L', 'US gal').value).toBeCloseTo(7 * 4 * QUART_L, 6);
    expect(readAmount('7 gallons', 'L', 'imp gal').value).toBeCloseTo(7 * 4.54609, 6);
    expect(readAmount('12 L', 'h').wrong).toBe('this field is in h');
    expect(readAmount('12 kr', '').wrong).toBe('write the figure alone, without “kr”');
    expect(readAmount(' ', 'L')).toEqual({ value: null, typed: '', wrong: '' });
  });
  it('goes there and back', () => {
    const [a, b] = [unitOf('imp gal'), unitNamed('fl. oz', 'volume')];
    if (!a || !b) throw new Error('no such unit');
    expect(into(into(3.7, a, b), b, a)).toBeCloseTo(3.7, 9);
  });
});
