/** First index of a list sorted by `value` whose value is not below the target; the length when all are. */
export function lowerBound<T>(items: readonly T[], value: (t: T) => number, target: number): number {
  let [low, high] = [0, items.length];
  while (low < high) {
    const mid = (low + high) >> 1;
    if (value(items[mid]!) < target) low = mid + 1;
    else high = mid;
  }
  return low;
}
