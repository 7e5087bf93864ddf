import { describe, expect, it } from 'vitest';
import { detailsOf, filled } from './details';
import { bottleCode } from '../controls/scan';

describe('details of an event', () => {
  it('asks when a noise is heard', () => expect(detailsOf('symptom', 'noise')[0]?.name).toBe('heard'));
  it('asks for both oil pressures', () =>
    expect(detailsOf('symptom', 'oil_pressure').map((d) => d.name)).toEqual([
      'pressure_cold_bar',
      'pressure_hot_bar',
    ]));
  it('asks a meter reading for its starts and what it was for', () =>
    expect(detailsOf('meter_reading', '').map((d) => d.name)).toEqual(['starts', 'session']));
  it('sends only what was filled in, and only what was asked', () => {
    const wanted = detailsOf('symptom', 'oil_pressure');
    expect(filled({ pressure_hot_bar: ' 0.6 ', pressure_cold_bar: '', heard: 'cold' }, wanted)).toEqual({
      pressure_hot_bar: '0.6',
    });
  });
});

describe('what a label says', () => {
  it('is taken as the code of the bottle', () => expect(bottleCode(' 1701 ')).toBe('1701'));
  it('is refused when it is a link or empty', () => {
    expect(bottleCode('https://example.org/1701')).toBeNull();
    expect(bottleCode('')).toBeNull();
  });
});
