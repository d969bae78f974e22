/**
 * Median of every window of `half` values to either side, shortened at the ends. One sorted window is kept and changed by
 * one value in and one out, instead of sorting each anew.
 */
export function runningMedian(v: readonly number[], half: number): Float64Array {
  const out = new Float64Array(v.length);
  const sorted = new Float64Array(2 * half + 1);
  let size = 0;
  /** First place whose value is not below x. */
  const placeOf = (x: number): number => {
    let [low, high] = [0, size];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (sorted[middle]! < x) low = middle + 1;
      else high = middle;
    }
    return low;
  };
  const add = (x: number): void => {
    const at = placeOf(x);
    sorted.copyWithin(at + 1, at, size);
    sorted[at] = x;
    size++;
  };
  const drop = (x: number): void => {
    const at = placeOf(x);
    sorted.copyWithin(at, at + 1, size);
    size--;
  };
  for (let i = 0; i < Math.min(half, v.length); i++) add(v[i]!);
  for (let i = 0; i < v.length; i++) {
    if (i - half - 1 >= 0) drop(v[i - half - 1]!);
    if (i + half < v.length) add(v[i + half]!);
    const middle = size >> 1;
    out[i] = size % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
  }
  return out;
}
