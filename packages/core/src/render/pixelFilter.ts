import type { RenderSettings } from '../scene/index.ts';

const STEPS = 1024;

/**
 * Offsets from the pixel centre by the inverse of the filter's running integral, STEPS + 1 numbers from u = 0 to 1.
 * The filter is sampled instead of weighting its neighbours, so that pixels stay independent and their statistics
 * are plain means (Ernst, Stamminger & Greiner 2006, "Filter Importance Sampling").
 */
export function filterOffsets(filter: RenderSettings['filter']): Float64Array {
  const offsets = new Float64Array(STEPS + 1);
  const fine = 4096;
  const sums = new Float64Array(fine + 1);
  for (let i = 0; i < fine; i++) sums[i + 1] = sums[i] + shape(filter.kind, (i + 0.5) / fine);
  let at = 0;
  for (let i = 0; i <= STEPS; i++) {
    const wanted = (i / STEPS) * sums[fine];
    while (at < fine - 1 && sums[at + 1] < wanted) at++;
    const step = sums[at + 1] - sums[at] || 1;
    offsets[i] = ((at + Math.min(1, (wanted - sums[at]) / step)) / fine - 0.5) * filter.width;
  }
  return offsets;
}

export function filterOffset(offsets: Float64Array, u: number): number {
  const x = u * STEPS;
  const low = Math.min(STEPS - 1, Math.floor(x));
  return offsets[low] + (x - low) * (offsets[low + 1] - offsets[low]);
}

/** Value over the support 0..1. Blackman-Harris: four terms (Harris 1978). */
function shape(kind: RenderSettings['filter']['kind'], t: number): number {
  if (kind === 'box') return 1;
  const a = 2 * Math.PI * t;
  return 0.35875 - 0.48829 * Math.cos(a) + 0.14128 * Math.cos(2 * a) - 0.01168 * Math.cos(3 * a);
}
