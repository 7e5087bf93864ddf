// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

vi.mock('svelte', async (real) => ({ ...(await real<typeof import('svelte')>()), onDestroy: vi.fn() }));
const { onKeydown, setSingleKeysOff, useKeys, keysHelp } = await import('./keys');

const press = (key: string, more: KeyboardEventInit = {}, target: EventTarget = document.body) => {
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more });
  Object.defineProperty(event, 'target', { value: target });
  onKeydown(event);
  return event;
};

const done: string[] = [];
useKeys({ a: () => done.push('a'), 'g w': () => done.push('g w'), Escape: () => done.push('Escape') }, [
  { keys: 'a', does: 'accept' },
]);

beforeEach(() => {
  done.length = 0;
  vi.useFakeTimers();
});
afterEach(() => {
  setSingleKeysOff(false);
  vi.useRealTimers();
});

describe('keys', () => {
  it('do what they say', () => {
    expect(press('a').defaultPrevented).toBe(true);
    expect(done).toEqual(['a']);
    expect(keysHelp()).toContainEqual({ keys: 'a', does: 'accept' });
  });

  it('take two strokes in time, and not later', () => {
    press('g');
    press('w');
    press('g');
    vi.advanceTimersByTime(5000);
    press('w');
    expect(done).toEqual(['g w']);
  });

  it.each(['input', 'textarea', 'select'])('are ignored while typing in a %s, but for Escape', (tag) => {
    const field = document.createElement(tag);
    press('a', {}, field);
    press('Escape', {}, field);
    expect(done).toEqual(['Escape']);
  });

  it.each([{ ctrlKey: true }, { metaKey: true }, { altKey: true }])('leave %o to the browser', (held) => {
    press('a', held);
    expect(done).toEqual([]);
  });

  it('leave Enter to the button that has the focus', () => {
    useKeys({ Enter: () => done.push('Enter') }, []);
    press('Enter', {}, document.createElement('button'));
    expect(done).toEqual([]);
    press('Enter');
    expect(done).toEqual(['Enter']);
  });

  it('can be switched off, but for the named ones', () => {
    setSingleKeysOff(true);
    press('a');
    press('Escape');
    expect(done).toEqual(['Escape']);
  });

  it('of two strokes go before a page that has the second one for itself', () => {
    useKeys({ w: () => done.push('w') }, []);
    press('g');
    press('w');
    press('w');
    expect(done).toEqual(['g w', 'w']);
  });

  it('of a newer layer come first', () => {
    useKeys({ a: () => done.push('newer') }, []);
    press('a');
    expect(done).toEqual(['newer']);
  });
});
