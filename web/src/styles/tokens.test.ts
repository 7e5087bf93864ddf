import css from './tokens.css?raw';
import { describe, expect, it } from 'vitest';

// Every pair of colours in use. axe sees text on pages, not what is drawn; here both are computed (WCAG 2.1, 1.4.3 and 1.4.11).
const TEXT = 4.5;
const DRAWN = 3;
const PAPERS = ['paper', 'paper-raised', 'paper-side'];
const PAIRS: [ink: string, on: string[], least: number][] = [
  ['ink', [...PAPERS, 'zone-clear', 'zone-watch', 'zone-act', 'today-wash'], TEXT],
  ['muted', [...PAPERS, 'today-wash'], TEXT],
  ['watch', [...PAPERS, 'today-wash'], TEXT],
  ['act', [...PAPERS, 'today-wash'], TEXT],
  ['stop', [...PAPERS, 'today-wash'], TEXT],
  ['due', [...PAPERS, 'today-wash'], TEXT],
  ['steady', [...PAPERS, 'today-wash'], DRAWN],
  ['edge', ['paper', 'paper-raised'], DRAWN],
  // The edges that outline the zones and the Watch fill; the fills themselves are never alone.
  ['watch', ['zone-watch', 'zone-clear', 'watch-fill'], DRAWN],
  ['act', ['zone-act', 'zone-clear'], DRAWN],
  ['paper', ['ink'], TEXT],
];

function tokens(dark: boolean): Map<string, string> {
  const blocks = [...css.matchAll(/\{([^}]*)\}/g)].map((m) => m[1] ?? '');
  const of = (block: string) =>
    [...block.matchAll(/--([\w-]+):\s*(#[0-9a-f]{6})/g)].map((m) => [m[1] ?? '', m[2] ?? ''] as const);
  return new Map([...of(blocks[0] ?? ''), ...(dark ? of(blocks[1] ?? '') : [])]);
}

function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5]
    .map((at) => parseInt(hex.slice(at, at + 2), 16) / 255)
    .map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4));
  return 0.2126 * (r ?? 0) + 0.7152 * (g ?? 0) + 0.0722 * (b ?? 0);
}

function contrast(a: string, b: string): number {
  const [low, high] = [luminance(a), luminance(b)].sort((x, y) => x - y);
  return ((high ?? 0) + 0.05) / ((low ?? 0) + 0.05);
}

describe('the measure itself', () => {
  it('agrees with the published extremes', () => {
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5);
    // WebAIM's worked value for #777777 on white.
    expect(contrast('#777777', '#ffffff')).toBeCloseTo(4.48, 2);
  });
});

describe.each([
  ['day', false],
  ['night', true],
] as const)('%s shift', (_, dark) => {
  const found = tokens(dark);
  it.each(PAIRS.flatMap(([ink, on, least]) => on.map((o) => [ink, o, least] as const)))(
    '%s on %s reaches %s : 1',
    (ink, on, least) => {
      const [a, b] = [found.get(ink), found.get(on)];
      expect(a, ink).toBeDefined();
      expect(b, on).toBeDefined();
      expect(contrast(a ?? '', b ?? '')).toBeGreaterThanOrEqual(least);
    },
  );

  it('replaces every colour of the day', () => {
    if (dark) for (const [name, colour] of tokens(false)) expect(found.get(name), name).not.toBe(colour);
  });
});
