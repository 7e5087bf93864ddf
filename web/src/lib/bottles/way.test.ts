import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { sendable, whereabouts } from './way';

const bottle = (more: Partial<Schemas['BottleOut']>): Schemas['BottleOut'] => ({
  sample: '1701',
  engine: 'G-01',
  depot: 'mid',
  log: 'a',
  oil: null,
  drawn_on: '2026-11-20',
  purpose: 'routine',
  resample_of: '',
  state: 'drawn',
  laboratory: null,
  age_days: 3,
  late_days: 0,
  ...more,
});

describe('where a bottle is', () => {
  it('says that it is still here', () => expect(whereabouts(bottle({}))).toBe('drawn, still here'));
  it('says what is late about a bottle at home', () =>
    expect(whereabouts(bottle({ late_days: 2 }))).toBe('drawn, still here, 2 d longer than it should be'));
  it('names the laboratory and how late it is', () =>
    expect(whereabouts(bottle({ state: 'sent', laboratory: 'Fell Lab', late_days: 3 }))).toBe(
      'sent to Fell Lab, 3 d late',
    ));
  it('does not name a laboratory for a lost one', () =>
    expect(whereabouts(bottle({ state: 'lost', laboratory: 'Fell Lab' }))).toBe('lost'));
});

it('only bottles that are still here can be sent', () => {
  const found = sendable([bottle({}), bottle({ sample: '2', state: 'sent' })]);
  expect(found.map((b) => b.sample)).toEqual(['1701']);
});
