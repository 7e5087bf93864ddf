import { describe, expect, it } from 'vitest';
import { mm, nudged, pointOf, sorted } from './lines';

const picture = { width: 2400, height: 1600 };

describe('lines on a picture', () => {
  it('finds a press in points of the kept picture, whatever size it is drawn in', () => {
    const box = { left: 10, top: 20, width: 600, height: 400 };
    expect(pointOf({ clientX: 310, clientY: 220 }, box, picture)).toEqual({ x: 1200, y: 800 });
    expect(pointOf({ clientX: -50, clientY: 9999 }, box, picture)).toEqual({ x: 0, y: 1600 });
  });

  it('moves an end by keys and keeps it inside', () => {
    expect(nudged({ x: 5, y: 5 }, 'ArrowRight', false, picture)).toEqual({ x: 6, y: 5 });
    expect(nudged({ x: 5, y: 5 }, 'ArrowUp', true, picture)).toEqual({ x: 5, y: 0 });
    expect(nudged({ x: 5, y: 5 }, 'a', false, picture)).toBeNull();
  });

  it('writes as many digits as are known', () => {
    expect(mm(1.4237, 0.037)).toBe('1.424 ± 0.037 mm');
    expect(mm(12.34, 0.6)).toBe('12.34 ± 0.60 mm');
    expect(mm(12.34, 3)).toBe('12.3 ± 3.0 mm');
  });

  it('measures by the newest scale', () => {
    const line = (id: string, kind: 'scale' | 'particle') => ({ id, kind }) as never;
    const found = sorted([line('a', 'scale'), line('b', 'particle'), line('c', 'scale')]);
    expect(found.scale?.id).toBe('c');
    expect(found.particles.map((p) => p.id)).toEqual(['b']);
  });
});
