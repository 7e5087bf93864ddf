import { describe, expect, it } from 'vitest';
import { HEAD, layout, pageOf, REASON, ROW, visible } from './window';

const groups = [
  { key: 'act', label: 'Act', count: 3, start: 0 },
  { key: 'quiet', label: 'Quiet', count: 9997, start: 3 },
];

describe('the Wall with ten thousand engines', () => {
  const lines = layout(groups, new Set(), 1);

  it('lays every row out from the counts', () => {
    expect(lines).toHaveLength(10_002);
    const last = lines.at(-1);
    expect((last?.top ?? 0) + (last?.height ?? 0)).toBe(2 * HEAD + 10_000 * ROW + REASON);
  });

  it('draws only what is in view', () => {
    const seen = visible(lines, 140_000, 140_700);
    expect(seen.length).toBeLessThan(30);
    expect(seen[0]?.top).toBeLessThanOrEqual(140_000);
    expect(pageOf(seen).limit).toBeLessThanOrEqual(500);
  });

  it('leaves out the rows of a folded group', () => {
    expect(layout(groups, new Set(['quiet']), -1)).toHaveLength(5);
  });
});
