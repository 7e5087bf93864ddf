import { onDestroy } from 'svelte';

export interface KeyHelp {
  keys: string;
  does: string;
}

interface Layer {
  map: Record<string, () => void>;
  help: KeyHelp[];
}

const layers: Layer[] = [];
const OFF = 'keen-single-keys-off';
const SEQUENCE_MS = 1200;
let waiting = '';
let since = 0;

/** Keys of a place, for as long as its component lives. A key of two strokes is written "g w". */
export function useKeys(map: Record<string, () => void>, help: KeyHelp[]): void {
  const layer = { map, help };
  layers.push(layer);
  onDestroy(() => {
    layers.splice(layers.indexOf(layer), 1);
  });
}

export function keysHelp(): KeyHelp[] {
  return layers.flatMap((l) => l.help);
}

export function singleKeysOff(): boolean {
  return localStorage.getItem(OFF) === 'yes';
}

export function setSingleKeysOff(off: boolean): void {
  localStorage.setItem(OFF, off ? 'yes' : 'no');
}

function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}

/** The action of a stroke, given the one before it; two strokes go before one, the newest layer first. */
export function actionFor(stroke: string, before: string): (() => void) | undefined {
  const newest = [...layers].reverse();
  const named = (key: string) => newest.find((layer) => layer.map[key])?.map[key];
  return (before && named(`${before} ${stroke}`)) || named(stroke);
}

export function onKeydown(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
  if (typing(event.target) && event.key !== 'Escape') return;
  if (event.key.length === 1 && singleKeysOff()) return;
  // Enter and Space belong to the button or link that has the focus.
  const onControl = event.target instanceof HTMLElement && /^(BUTTON|A|SUMMARY)$/.test(event.target.tagName);
  if (onControl && (event.key === 'Enter' || event.key === ' ')) return;
  const before = performance.now() - since < SEQUENCE_MS ? waiting : '';
  const action = actionFor(event.key, before);
  waiting = action ? '' : event.key;
  since = performance.now();
  if (action) {
    event.preventDefault();
    action();
  }
}
