import { describe, expect, it } from 'vitest';
import { topUps } from './topup';

const shown = (sump: number | null, unit = 'L'): string[] => topUps(sump, unit).map((x) => x.typed);

describe('the top-up buttons', () => {
  it('fit the sump', () => {
    expect(shown(25)).toEqual(['1 L', '2 L']);
    expect(shown(5)).toEqual(['0.25 L', '0.5 L']);
    expect(shown(0.4)).toEqual(['0.025 L', '0.05 L']);
    expect(shown(200)).toEqual(['10 L', '20 L']);
    expect(shown(null)).toEqual(['1 L', '2 L']);
  });
  it('offer round amounts in the unit of the person and save them in litres', () => {
    const [, two] = topUps(25, 'US qt');
    expect(two?.typed).toBe('2 US qt');
    // A US liquid quart is 0.946352946 L (NIST Special Publication 811, appendix B).
    expect(two?.litres).toBeCloseTo(2 * 0.946352946, 6);
  });
});
