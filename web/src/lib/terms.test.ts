import { describe, expect, it } from 'vitest';
import { capital, choices, TERMS, wordsOf } from './terms';

describe('the vocabulary of the server', () => {
  it('says a code in its words', () =>
    expect(wordsOf(choices('methods'), 'drain_stream')).toBe('drain stream'));
  it('leaves a code of another version readable', () =>
    expect(wordsOf(TERMS.symptoms, 'rattle_of_the_chain')).toBe('rattle of the chain'));
  it('names buttons with a large letter', () => expect(capital('top-up')).toBe('Top-up'));
  it('has one letter for each channel', () =>
    expect(new Set(TERMS.channels.map((c) => c.letter)).size).toBe(TERMS.channels.length));
  it('offers every symptom that stops an engine', () =>
    expect(TERMS.symptoms.filter((s) => s.level === 3).length).toBeGreaterThan(8));
});
