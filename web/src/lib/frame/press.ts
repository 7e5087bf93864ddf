/** How far a pointer may have moved between down and up for it to be one press. */
const STILL_PX = 8;
const CONTROLS = 'button, summary, label, a[href]';

interface Down {
  on: HTMLElement;
  x: number;
  y: number;
}
let down: Down | null = null;

const near = (event: MouseEvent, { x, y }: Down) =>
  Math.abs(event.clientX - x) < STILL_PX && Math.abs(event.clientY - y) < STILL_PX;
const off = (control: HTMLElement) => control instanceof HTMLButtonElement && control.disabled;

export function onPointerdown(event: PointerEvent): void {
  const on = event.target instanceof Element ? event.target.closest<HTMLElement>(CONTROLS) : null;
  down = on && event.isPrimary && event.button === 0 ? { on, x: event.clientX, y: event.clientY } : null;
}

/** A press is of what lay under the pointer when it went down. An answer that comes in meanwhile may push the
 * page down, and then the browser would tell a click of whatever lies there when the pointer comes up: of
 * nothing, or of another button. */
export function onClick(event: MouseEvent): void {
  const meant = down;
  down = null;
  if (!meant || !near(event, meant) || !meant.on.isConnected || off(meant.on)) return;
  if (event.target instanceof Node && meant.on.contains(event.target)) return;
  event.preventDefault();
  event.stopPropagation();
  meant.on.click();
}
