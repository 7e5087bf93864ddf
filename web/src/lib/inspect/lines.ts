import type { Schemas } from '../api/client';

export interface Point {
  x: number;
  y: number;
}

/** Where a press on the drawn picture lies, in points of the kept one. */
export function pointOf(
  press: { clientX: number; clientY: number },
  box: { left: number; top: number; width: number; height: number },
  picture: { width: number; height: number },
): Point {
  const clamp = (v: number, most: number) => Math.min(Math.max(v, 0), most);
  return {
    x: clamp(((press.clientX - box.left) / box.width) * picture.width, picture.width),
    y: clamp(((press.clientY - box.top) / box.height) * picture.height, picture.height),
  };
}

/** A point moved by a key: an arrow is one point of the picture, with Shift ten. */
export function nudged(
  p: Point,
  key: string,
  shift: boolean,
  picture: { width: number; height: number },
): Point | null {
  const by = shift ? 10 : 1;
  const moves: Record<string, [number, number]> = {
    ArrowUp: [0, -by],
    ArrowDown: [0, by],
    ArrowLeft: [-by, 0],
    ArrowRight: [by, 0],
  };
  const move = moves[key];
  if (!move) return null;
  return {
    x: Math.min(Math.max(p.x + move[0], 0), picture.width),
    y: Math.min(Math.max(p.y + move[1], 0), picture.height),
  };
}

/** The digits a length deserves: as many as its half width leaves standing. */
export function mm(value: number, half: number): string {
  const places = Math.min(Math.max(1 - Math.floor(Math.log10(Math.max(half, 1e-6))), 0), 3);
  return `${value.toFixed(places)} ± ${half.toFixed(places)} mm`;
}

/** The newest scale of a picture, and the particles measured by it. */
export function sorted(lines: Schemas['LineOut'][]): {
  scale: Schemas['LineOut'] | undefined;
  particles: Schemas['LineOut'][];
} {
  return {
    scale: lines.findLast((l) => l.kind === 'scale'),
    particles: lines.filter((l) => l.kind === 'particle'),
  };
}

/** What of known size people lay into a picture: how many mm where it is always the same, and how well that is known. */
export const KNOWN = [
  { code: 'rule', words: 'a rule', mm: 10, sd: 0.05 },
  { code: 'pin', words: 'a pin, its thickness typed', mm: null, sd: 0.02 },
  { code: 'coin', words: 'a coin, its size typed', mm: null, sd: 0.05 },
  { code: 'bolt', words: 'a bolt, across flats', mm: null, sd: 0.1 },
  { code: 'tube', words: 'a tube, its outside typed', mm: null, sd: 0.1 },
  { code: 'field', words: "the microscope's field", mm: null, sd: 0.02 },
] as const;
