import { describe, expect, it } from 'vitest';
import { addable, keyOf, modesBy, rowsOf, type Mode } from './weights';

const mode: Mode = {
  code: 'piston',
  words: 'piston',
  channel: 'wear',
  needs: [],
  never: [],
  prior: -1.5,
  origin: 'shipped',
  weights: [{ evidence: 'Al', seen: 1.6, absent: -1.6, origin: 'shipped' }],
};

describe('a draft of weights', () => {
  it('lies over the rows that hold, and added evidence stands last', () => {
    const changed = { mode: 'piston', evidence: 'Al', seen: 2, absent: -1, origin: 'ours' };
    const added = { mode: 'piston', evidence: 'knock', seen: 1, absent: 0, origin: 'ours' };
    const other = { mode: 'cam', evidence: 'Fe', seen: 1, absent: 0, origin: 'ours' };
    const draft = Object.fromEntries([changed, added, other].map((r) => [keyOf(r), r]));
    const rows = rowsOf(mode, draft);
    expect(rows.map((r) => r.row.evidence)).toEqual(['prior', 'Al', 'knock']);
    expect(rows[1]).toEqual({ key: 'piston|Al', row: changed, was: { mode: 'piston', ...mode.weights[0] } });
    expect(rows[2]?.was).toBeNull();
  });

  it('offers only evidence that is not weighed yet', () => {
    const all = ['Al', 'knock'].map((code) => ({ code, words: code, kind: 'x' }));
    expect(addable(all, rowsOf(mode, {})).map((e) => e.code)).toEqual(['knock']);
  });

  it('groups causes by channel', () => {
    const modes = [mode, { ...mode, code: 'sampling_fault', channel: '' }];
    const found = modesBy(modes, [
      { code: 'dirt', words: 'Dirt' },
      { code: 'wear', words: 'Wear' },
    ]);
    expect(found.map((g) => [g.words, g.modes.length])).toEqual([
      ['Wear', 1],
      ['No channel', 1],
    ]);
  });
});
