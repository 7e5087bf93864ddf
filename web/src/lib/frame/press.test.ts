// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { onClick, onPointerdown } from './press';

const told: string[] = [];
const control = (name: string) => {
  const made = document.createElement('button');
  made.addEventListener('click', () => told.push(name));
  document.body.append(made);
  return made;
};
/** Down on one thing, up on another, as the browser tells it when the page moved between. */
const press = (from: Element, to: Element, across = 0) => {
  const more = { bubbles: true, cancelable: true, clientX: 100, clientY: 100 };
  const event = new MouseEvent('pointerdown', more);
  Object.defineProperty(event, 'isPrimary', { value: true });
  from.dispatchEvent(event);
  to.dispatchEvent(new MouseEvent('click', { ...more, clientX: 100 + across }));
};

beforeEach(() => {
  told.length = 0;
  window.addEventListener('pointerdown', onPointerdown as EventListener, true);
  window.addEventListener('click', onClick, true);
});
afterEach(() => {
  window.removeEventListener('pointerdown', onPointerdown as EventListener, true);
  window.removeEventListener('click', onClick, true);
  document.body.replaceChildren();
});

describe('a press', () => {
  it('is told once where nothing moved', () => {
    const keep = control('keep');
    press(keep, keep);
    expect(told).toEqual(['keep']);
  });

  it('is of what lay under the pointer when it went down', () => {
    const keep = control('keep');
    press(keep, document.body);
    press(keep, control('remove'));
    expect(told).toEqual(['keep', 'keep']);
  });

  it('is none when the pointer was drawn away, or the button is gone or cannot be pressed', () => {
    const keep = control('keep');
    press(keep, document.body, 30);
    keep.disabled = true;
    press(keep, document.body);
    keep.disabled = false;
    const gone = control('gone');
    gone.remove();
    press(gone, document.body);
    expect(told).toEqual([]);
  });

  it('ticks the box of a label once', () => {
    const label = document.createElement('label');
    const box = label.appendChild(document.createElement('input'));
    box.type = 'checkbox';
    document.body.append(label);
    press(label, label);
    expect(box.checked).toBe(true);
    press(label, document.body);
    expect(box.checked).toBe(false);
  });
});
