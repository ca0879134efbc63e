/** Quantile q in [0, 1] with linear interpolation between order statistics (Hyndman & Fan 1996, type 7). NaN if empty. */
export function quantile(values: ArrayLike<number>, q: number): number {
  if (values.length === 0) return NaN;
  const sorted = Float64Array.from(values as ArrayLike<number>).sort();
  const at = q * (sorted.length - 1);
  const low = Math.floor(at);
  const high = Math.min(low + 1, sorted.length - 1);
  return sorted[low] + (at - low) * (sorted[high] - sorted[low]);
}

/**
 * Where to begin looking in a running sum of `count` entries that ends at 1: for each of as many even parts of 0..1 the first entry
 * that exceeds its lower end (the guide table of Chen & Asau 1974). Two looks find an entry on average, whatever the count.
 * @param guide of the same length as the sums
 */
export function guideRunningSum(sums: Float32Array, start: number, count: number, guide: Uint16Array): void {
  for (let part = 0, at = start; part < count; part++) {
    while (at < start + count - 1 && sums[at] <= part / count) at++;
    guide[start + part] = at - start;
  }
}

/** Index of the first entry of an ascending running sum that exceeds u, by its guide. @param u 0..1, below 1 */
export function guidedSearch(sums: Float32Array, guide: Uint16Array, start: number, count: number, u: number): number {
  let at = start + guide[start + Math.floor(u * count)];
  // the part of a number just below its lower end may be rounded up
  while (at > start && sums[at - 1] > u) at--;
  const last = start + count - 1;
  while (at < last && sums[at] <= u) at++;
  return at;
}
