export const MINUTE = 60_000;

/** Milliseconds as minutes and seconds: 754321 → 12:35, the last second counted until it is over. */
export function left(ms: number): string {
  const seconds = Math.max(0, Math.ceil(ms / 1000));
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
}
