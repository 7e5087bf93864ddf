import { expect, it } from 'vitest';
import { changed, fieldWord } from './fields';

it('sends the key and only what differs', () => {
  const now = { engine: 'G-01', name: 'New', oil: 'A', coolant: '' };
  expect(changed(now, { engine: 'G-01', name: 'Old', oil: 'A' }, 'engine')).toEqual({
    engine: 'G-01',
    name: 'New',
  });
});

it('a field without words of its own is still readable', () =>
  expect(fieldWord('some_new_field')).toBe('some new field'));
