import { quantile } from '../../math/index.ts';
import { visibleNoise, VISIBLE_NOISE_DEFAULTS } from '../../image/index.ts';
import { COMPONENTS, type SplitLobe } from '../../render/index.ts';
import type { Estimate } from '../contract.ts';
import type { NoiseData } from './noiseData.ts';

/** A change of counts: new over old. */
export interface CountChange {
  pixelFactor: number;
  lobe: SplitLobe | null;
  lobeFactor: number;
}

const LOBE_COMPONENTS: Record<SplitLobe, number[]> = {
  diffuse: [COMPONENTS.indexOf('directDiffuse'), COMPONENTS.indexOf('indirectDiffuse')],
  specular: [COMPONENTS.indexOf('directSpecular'), COMPONENTS.indexOf('indirectSpecular')],
  transmission: [COMPONENTS.indexOf('transmission')],
};
const LOBE_INDEX: Record<SplitLobe, number> = { diffuse: 0, specular: 1, transmission: 2 };

/**
 * Noise after a change of counts. Two stages of sampling (Cochran 1977, 10.3): the variance of a pixel's mean is
 * the variance between camera samples plus that within their splits; pixel samples divide both, splits only the second.
 * Where one split was taken the second part is unknown: it lies between nothing and the whole of the lobe's variance.
 */
export function predictNoise(data: NoiseData, change: CountChange, stops: number, splitsMeasured: boolean): Estimate {
  if (change.lobe === null || splitsMeasured) {
    const value = noiseWith(data, change, stops, (lobe, i) => data.splits[LOBE_INDEX[lobe]][i]);
    const spread = quantileSpread(data, stops);
    return { value, low: value * spread.low, high: value * spread.high };
  }
  const low = noiseWith(data, change, stops, (lobe, i) =>
    LOBE_COMPONENTS[lobe].reduce((sum, c) => sum + data.components[c][i], 0),
  );
  const high = noiseWith(data, change, stops, () => 0);
  return { value: (low + high) / 2, low, high };
}

function noiseWith(
  data: NoiseData,
  { pixelFactor, lobe, lobeFactor }: CountChange,
  stops: number,
  within: (lobe: SplitLobe, pixel: number) => number,
): number {
  const variance = new Float64Array(data.beauty.length);
  for (let i = 0; i < variance.length; i++) {
    const saved = lobe ? Math.min(within(lobe, i), data.beauty[i]) * (1 - 1 / lobeFactor) : 0;
    variance[i] = (data.beauty[i] - saved) / pixelFactor;
  }
  return regionNoise(data, variance, stops);
}

/** Noise of the region for given variances of its pixels. */
export function regionNoise(data: NoiseData, variance: ArrayLike<number>, stops: number): number {
  const { width, height } = data.region;
  return visibleNoise(data.luminance, variance, width, { x: 0, y: 0, width, height }, { stops });
}

/**
 * How far the reported quantile of the tiles is itself uncertain, as factors: the order statistics one standard
 * deviation of the binomial count to either side (distribution-free interval, David & Nagaraja, Order Statistics).
 */
function quantileSpread(data: NoiseData, stops: number): { low: number; high: number } {
  const { tile, quantile: q } = VISIBLE_NOISE_DEFAULTS;
  const { width, height } = data.region;
  const values: number[] = [];
  for (let y = 0; y < height; y += tile)
    for (let x = 0; x < width; x += tile) {
      const part = { x, y, width: Math.min(tile, width - x), height: Math.min(tile, height - y) };
      values.push(visibleNoise(data.luminance, data.beauty, width, part, { stops }));
    }
  const middle = quantile(values, q);
  if (!(middle > 0)) return { low: 1, high: 1 };
  const step = Math.sqrt((q * (1 - q)) / values.length);
  return {
    low: quantile(values, Math.max(0, q - step)) / middle,
    high: quantile(values, Math.min(1, q + step)) / middle,
  };
}

/**
 * Seconds for the whole frame after a change of counts: the measured time, scaled by the rays that are traced more
 * often. The range takes the cost of the added rays from the middle half of the pixels.
 */
export function predictSeconds(frame: NoiseData, seconds: number, { pixelFactor, lobe, lobeFactor }: CountChange): Estimate {
  const rays = sum(frame.rays);
  const added = (lobe ? (sum(frame.branchRays[LOBE_INDEX[lobe]]) / rays) * (lobeFactor - 1) : 0) * pixelFactor + pixelFactor - 1;
  const mean = sum(frame.seconds) / rays;
  const costs = Array.from(frame.rays, (n, i) => frame.seconds[i] / Math.max(1, n));
  const low = mean > 0 ? Math.min(1, quantile(costs, 0.25) / mean) : 1;
  const high = mean > 0 ? Math.max(1, quantile(costs, 0.75) / mean) : 1;
  const total = (cost: number) => seconds * (1 + added * cost);
  return { value: total(1), low: total(low), high: total(high) };
}

function sum(values: Float32Array): number {
  let total = 0;
  for (const value of values) total += value;
  return total;
}
