/** The lowest and highest value, never the same two. */
export function rangeOf(values: number[]): [number, number] {
  const low = Math.min(...values);
  const high = Math.max(...values);
  return low < high ? [low, high] : [low - 1, high + 1];
}

/** A path through values at equal steps over `width`, the range over `height`, upwards. */
export function polyline(
  values: number[],
  width: number,
  height: number,
  [low, high]: readonly [number, number],
): string {
  const step = width / Math.max(values.length - 1, 1);
  return values
    .map(
      (v, n) =>
        `${n === 0 ? 'M' : 'L'}${(n * step).toFixed(1)} ${(height - ((v - low) / (high - low)) * height).toFixed(1)}`,
    )
    .join('');
}
