import { quantile } from '../../math/index.ts';
import { visibleNoise, VISIBLE_NOISE_DEFAULTS } from '../../image/index.ts';
import { COMPONENTS, SPLIT_KINDS, SPLIT_LOBES, type SplitLobe } from '../../render/index.ts';
import type { Estimate } from '../contract.ts';
import { costModel } from './costModel.ts';
import { regionNoise, total, type NoiseData } from './noiseData.ts';

/** A change of counts: new over old. */
export interface CountChange {
  pixels: number;
  /** Lobes whose splits stay as they are may be left out. */
  splits: Partial<Record<SplitLobe, number>>;
}

const LOBE_COMPONENTS: Record<SplitLobe, number[]> = {
  diffuse: [COMPONENTS.indexOf('directDiffuse'), COMPONENTS.indexOf('indirectDiffuse')],
  specular: [COMPONENTS.indexOf('directSpecular'), COMPONENTS.indexOf('indirectSpecular')],
  transmission: [COMPONENTS.indexOf('transmission')],
  volume: [COMPONENTS.indexOf('volume')],
};

/**
 * Noise after a change of counts. Two stages of sampling (Cochran 1977, 10.3): the variance of a pixel's mean is
 * the variance between camera samples plus that within their splits; pixel samples divide both, splits only the second.
 * Where one split was taken the second part is unknown: it lies between nothing and the whole of the lobe's variance.
 */
export function predictNoise(data: NoiseData, change: CountChange, stops: number, settings: SplitCounts): Estimate {
  const lobes = SPLIT_LOBES.filter((lobe) => (change.splits[lobe] ?? 1) !== 1);
  const own = (lobe: SplitLobe, i: number) => LOBE_COMPONENTS[lobe].reduce((sum, c) => sum + data.components[c][i], 0);
  const measured = (lobe: SplitLobe, i: number) => data.splits[SPLIT_LOBES.indexOf(lobe)][i];
  if (lobes.every((lobe) => settings[`${lobe}Samples`] > 1)) {
    const value = noiseWith(data, change, lobes, stops, measured);
    const spread = quantileSpread(data, stops);
    return { value, low: value * spread.low, high: value * spread.high };
  }
  const one = noiseWith(data, change, lobes, stops, own);
  const other = noiseWith(data, change, lobes, stops, () => 0);
  return { value: (one + other) / 2, low: Math.min(one, other), high: Math.max(one, other) };
}

/** Counts of splits as the settings have them. */
export type SplitCounts = Record<`${SplitLobe}Samples`, number>;

function noiseWith(
  data: NoiseData,
  change: CountChange,
  lobes: SplitLobe[],
  stops: number,
  within: (lobe: SplitLobe, pixel: number) => number,
): number {
  const variance = new Float64Array(data.beauty.length);
  for (let i = 0; i < variance.length; i++) {
    let left = data.beauty[i];
    for (const lobe of lobes) left -= Math.min(within(lobe, i), data.beauty[i]) * (1 - 1 / change.splits[lobe]!);
    variance[i] = Math.max(0, left) / change.pixels;
  }
  const [now, after] = [regionNoise(data, data.beauty, stops), regionNoise(data, variance, stops)];
  return now > 0 ? now * (after / now) ** data.power : after;
}

/**
 * How far the reported quantile of the tiles is itself uncertain, as factors: the order statistics one standard
 * deviation of the binomial count to either side (distribution-free interval, David & Nagaraja, Order Statistics).
 */
export function quantileSpread(data: NoiseData, stops: number): { low: number; high: number } {
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

/** Seconds of all pixels by what they went to: camera samples by themselves, then each of SPLIT_KINDS. */
export function secondsByKind(data: NoiseData): number[] {
  const kinds = data.kindSeconds.map(total);
  return [Math.max(0, total(data.seconds) - kinds.reduce((sum, part) => sum + part, 0)), ...kinds];
}

/** Seconds for the whole frame after a change of counts. @param seconds what it took */
export function predictSeconds(frame: NoiseData, seconds: number, { pixels, splits }: CountChange): Estimate {
  const parts = secondsByKind(frame);
  const ratios = [1, ...SPLIT_KINDS.map((kind) => (kind === 'light' ? 1 : (splits[kind] ?? 1)))];
  return costModel([{ parts, seconds }]).seconds(parts.map((part, k) => part * pixels * ratios[k]));
}
