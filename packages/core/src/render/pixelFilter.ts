// Reconstruction filters, separable and sampled: a sample is placed by the filter instead of being shared out among
// neighbours, so that pixels stay independent and their statistics are plain means (Ernst, Stamminger & Greiner 2006,
// "Filter Importance Sampling"). Where a filter is negative its size is sampled and the sample counts with its sign.
import type { RenderSettings } from '../scene/index.ts';

const STEPS = 1024;
const FINE = 4096;

export interface PixelFilter {
  /** Offsets from the pixel centre by the inverse of the running integral of the filter's size, at i / STEPS. */
  offsets: Float64Array;
  width: number;
  /** Value at an offset of t times the width, t = -1/2..1/2. */
  shape: (t: number) => number;
  /** Integral of the size over that of the value: above 1 where the filter has negative lobes. */
  gain: number;
  /** Whether it is negative anywhere. */
  signed: boolean;
}

export function makePixelFilter({ kind, width }: RenderSettings['filter']): PixelFilter {
  const shape = SHAPES[kind](width);
  const sums = new Float64Array(FINE + 1);
  let integral = 0;
  for (let i = 0; i < FINE; i++) {
    const value = shape((i + 0.5) / FINE - 0.5);
    integral += value;
    sums[i + 1] = sums[i] + Math.abs(value);
  }
  const offsets = new Float64Array(STEPS + 1);
  let at = 0;
  for (let i = 0; i <= STEPS; i++) {
    const wanted = (i / STEPS) * sums[FINE];
    while (at < FINE - 1 && sums[at + 1] < wanted) at++;
    const step = sums[at + 1] - sums[at] || 1;
    offsets[i] = ((at + Math.min(1, (wanted - sums[at]) / step)) / FINE - 0.5) * width;
  }
  const gain = sums[FINE] / integral;
  return { offsets, width, shape, gain, signed: gain > 1 + 1e-9 };
}

/**
 * Places a sample by two numbers in [0, 1): out[0..1] offsets in pixels, out[2] its weight, which is its sign, so scaled
 * that a constant picture keeps its value.
 */
export function placeSample(filter: PixelFilter, by: Float64Array, out: Float64Array): void {
  const { offsets } = filter;
  for (let k = 0; k < 2; k++) {
    const x = by[k] * STEPS;
    const low = Math.min(STEPS - 1, Math.floor(x));
    out[k] = offsets[low] + (x - low) * (offsets[low + 1] - offsets[low]);
  }
  out[2] = 1;
  if (!filter.signed) return;
  const sign = filter.shape(out[0] / filter.width) * filter.shape(out[1] / filter.width) < 0 ? -1 : 1;
  out[2] = sign * filter.gain * filter.gain;
}

type Shape = (t: number) => number;
const SHAPES: Record<RenderSettings['filter']['kind'], (width: number) => Shape> = {
  box: () => () => 1,
  triangle: () => (t) => 1 - Math.abs(2 * t),
  /** Cut at three standard deviations. */
  gaussian: () => (t) => Math.exp(-18 * t * t),
  /** Mitchell & Netravali 1988, "Reconstruction filters in computer graphics", B = C = 1/3, stretched over the width. */
  mitchell: () => (t) => {
    const x = Math.abs(4 * t);
    if (x < 1) return (7 * x * x * x - 12 * x * x + 16 / 3) / 6;
    return x < 2 ? ((-7 / 3) * x * x * x + 12 * x * x - 20 * x + 32 / 3) / 6 : 0;
  },
  /** Four terms (Harris 1978). */
  'blackman-harris': () => (t) => {
    const a = 2 * Math.PI * (t + 0.5);
    return 0.35875 - 0.48829 * Math.cos(a) + 0.14128 * Math.cos(2 * a) - 0.01168 * Math.cos(3 * a);
  },
  /** sin(pi x) / (pi x) with zeros at whole pixels, under the main lobe of another (Duchon 1979, Lanczos window). */
  sinc: (width) => (t) => sinc(t * width) * sinc(2 * t),
};

function sinc(x: number): number {
  return Math.abs(x) < 1e-9 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
}
