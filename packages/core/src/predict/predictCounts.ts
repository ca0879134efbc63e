import { quantile, type Estimate } from '../math/index.ts';
import { visibleNoise, VISIBLE_NOISE_DEFAULTS } from '../image/index.ts';
import { COMPONENTS, SPLIT_KINDS, type Component, type SplitKind } from '../render/index.ts';

import { costModel } from './costModel.ts';
import { regionNoise, total, type NoiseData } from './noiseData.ts';
import { PART_RANGE } from './splitParts.ts';

/** A change of counts: new over old. */
export interface CountChange {
  pixels: number;
  /** Kinds whose splits stay as they are may be left out. */
  splits: Partial<Record<SplitKind, number>>;
}

/** Components that splits of a kind can have a part in. */
const COMPONENTS_OF: Record<SplitKind, Component[]> = {
  diffuse: ['directDiffuse', 'indirectDiffuse'],
  specular: ['directSpecular', 'indirectSpecular'],
  transmission: ['transmission'],
  volume: ['volume'],
  light: ['directDiffuse', 'directSpecular', 'transmission'],
};

/**
 * Noise after a change of counts. Two stages of sampling (Cochran 1977, 10.3): the variance of a pixel's mean is
 * the variance between camera samples plus that within their splits; pixel samples divide both, splits only the second.
 * Both are what was measured (splitParts.ts), and fall by the law of the evenness so far (render/evenness.ts), since splits
 * are points of one even set with the samples. Where one split was taken the second part is unknown: it lies between nothing
 * and the whole of what the kind has a part in.
 */
export function predictNoise(data: NoiseData, change: CountChange, stops: number, settings: SplitCounts): Estimate {
  const predicted = (known: number, single: number) => noiseWith(data, change, stops, settings, known, single);
  const all = PART_RANGE.flatMap((known) => [predicted(known, 0), predicted(known, 1)]);
  const value = (predicted(1, 0) + predicted(1, 1)) / 2;
  const spread = quantileSpread(data, stops);
  return { value, low: spread.low * Math.min(value, ...all), high: spread.high * Math.max(value, ...all) };
}

/** Counts of splits as the settings have them. */
export type SplitCounts = Record<`${SplitKind}Samples`, number>;

/**
 * @param known factor of what splits are known to bring
 * @param single share of what a single split has a part in that is taken for its own
 */
function noiseWith(
  data: NoiseData,
  change: CountChange,
  stops: number,
  settings: SplitCounts,
  known: number,
  single: number,
): number {
  const variance = data.beauty.slice();
  SPLIT_KINDS.forEach((kind, k) => {
    const ratio = change.splits[kind] ?? 1;
    if (ratio === 1) return;
    if (settings[`${kind}Samples`] > 1)
      data.parts[k].forEach(
        (v, i) => (variance[i] += Math.min(data.beauty[i], known * v) * (ratio ** -data.law[i] - 1)),
      );
    else
      for (const component of COMPONENTS_OF[kind])
        data.components[COMPONENTS.indexOf(component)].forEach((v, i) => (variance[i] += single * v * (1 / ratio - 1)));
  });
  const more = Math.log(change.pixels);
  for (let i = 0; i < variance.length; i++) variance[i] = Math.max(0, variance[i]) * Math.exp(-more * data.law[i]);
  const [now, after] = [regionNoise(data, data.beauty, stops), regionNoise(data, variance, stops)];
  return now > 0 ? now * (after / now) ** data.power : after;
}

/** Variance over what independent samples would tell. */
export const gainAt = ({ beauty, classical }: NoiseData, i: number) =>
  classical[i] > 0 ? beauty[i] / classical[i] : 1;

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
  const ratios = [1, ...SPLIT_KINDS.map((kind) => splits[kind] ?? 1)];
  return costModel([{ parts, seconds }]).seconds(parts.map((part, k) => part * pixels * ratios[k]));
}
