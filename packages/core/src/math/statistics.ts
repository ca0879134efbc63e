/** Quantile q in [0, 1] with linear interpolation between order statistics (Hyndman & Fan 1996, type 7). NaN if empty. */
export function quantile(values: ArrayLike<number>, q: number): number {
  if (values.length === 0) return NaN;
  const sorted = Float64Array.from(values as ArrayLike<number>).sort();
  const at = q * (sorted.length - 1);
  const low = Math.floor(at);
  const high = Math.min(low + 1, sorted.length - 1);
  return sorted[low] + (at - low) * (sorted[high] - sorted[low]);
}

/** Index of the first entry of an ascending running sum that exceeds u. */
export function searchRunningSum(sums: Float32Array | Float64Array, start: number, count: number, u: number): number {
  let low = start;
  let high = start + count - 1;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (sums[middle] > u) high = middle;
    else low = middle + 1;
  }
  return low;
}
