// What a region's noise and time become with any counts of samples, predicted from a pilot: a cheap render with several splits
// of everything that can be split.
//
// Two stages (Cochran 1977, 10.3): the variance of a pixel's mean is (between camera samples + within their splits) / N.
// How much lies within them is estimated from what fewer of them would have given (splitParts.ts); both fall by the law of the
// evenness that was measured (render/evenness.ts).
//
// Tried before: one pilot of two splits and the classical estimate of the variance within them. Evenly spread splits
// look like more variance than they bring, so that nothing was left between the camera samples. Two pilots with 1 and 4
// splits told the two apart on frosted glass and on bars, and failed on caustics: the few bright samples fell into one
// of them. From one pilot, few and many splits see the same bright samples. One share for all pixels of a tile: edges and
// soft shadows in one tile are not alike, and the noise of lifted shadows is far from linear; off by up to 3 times.
import {
  eyeWeight,
  gainAt,
  readNoiseData,
  regionNoise,
  total,
  weightedSum,
  type CostModel,
  type NoiseData,
} from '../predict/index.ts';
import { EYE_NOISE_GAIN, visibleNoise, VISIBLE_NOISE_DEFAULTS, type Picture, type Region } from '../image/index.ts'; // prettier-ignore
import { quantile } from '../math/index.ts';
import { SPLIT_KINDS, type SplitKind } from '../render/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { countOf, countsBut, countsOf, type Counts } from './counts.ts';
import { timesAt, unitTimes, type UnitTimes } from './unitTimes.ts';

/** Noise that is measured as it is told. */
const UNBENT = { power: 1, at: 1 };

export interface SamplingModel {
  pilot: Counts;
  /** What can be split here: kinds that rays were traced for. */
  kinds: SplitKind[];
  /** Variance of the luminance of each pixel's mean in the pilot. */
  base: Float32Array;
  /** The visible part of each kind in all. */
  shares: number[];
  /** Power by which it falls with the samples. */
  law: Float32Array;
  /** The part of it that the pilot's splits of each kind bring. */
  parts: Float32Array[];
  /** Counts of kinds that a search leaves as they are. */
  kept: Partial<Counts>;
  times: UnitTimes;
  /** What is told of the time by the camera samples, and by each of SPLIT_KINDS, is multiplied with this. */
  paces: number[];
  /** Seconds of a camera sample without its splits, and of one split of each kind: for each tile, over its pixels. */
  cameraSeconds: Float64Array;
  splitSeconds: Float64Array[];
  /** A render of the same picture measured so much of the variance that is predicted for its splits, near them. */
  held: { variance: number; splits: Counts };
  /** Noise is measured as `at` (noise / at) ^ power of what is told: noisePower.ts. */
  bend: { power: number; at: number };
  data: NoiseData;
  tileOf: Int32Array;
  /** Pixels of each tile. */
  tilePixels: Float64Array;
  stops: number;
  /** Share of the tiles that are to hold a limit. */
  share: number;
}

export interface ModelOptions {
  stops: number;
  share: number;
}

/** @throws InputError where the picture carries no statistics, or the region lies outside */
export function samplingModel(
  picture: Picture,
  settings: RenderSettings,
  region: Region,
  options: ModelOptions,
): SamplingModel {
  const data = readNoiseData(picture, region, options.stops);
  const { tile } = VISIBLE_NOISE_DEFAULTS;
  const { width, height } = data.region;
  const columns = Math.ceil(width / tile);
  const tileOf = Int32Array.from({ length: width * height }, (_, i) => Math.floor(Math.floor(i / width) / tile) * columns + Math.floor((i % width) / tile)); // prettier-ignore
  const tilePixels = new Float64Array(columns * Math.ceil(height / tile));
  for (const t of tileOf) tilePixels[t]++;
  const n = settings.pixelSamples;
  const kinds = SPLIT_KINDS.filter((_, k) => total(data.kindRays[k]) > 0);
  const parts = kinds.map((kind) => data.parts[SPLIT_KINDS.indexOf(kind)]);
  const perTile = (values: Float32Array) => sumTiles(values, tileOf, tilePixels.length);
  const spent = kinds.map((kind) => perTile(data.kindSeconds[SPLIT_KINDS.indexOf(kind)]));
  return {
    pilot: countsOf(settings),
    kinds,
    base: data.beauty,
    law: data.law,
    parts,
    shares: parts.map((part) => weightedSum(part, data.weight)),
    kept: {},
    times: unitTimes(data, settings),
    paces: [1, ...SPLIT_KINDS.map(() => 1)],
    cameraSeconds: perTile(data.seconds).map(
      (all, t) => Math.max(0, all - spent.reduce((sum, part) => sum + part[t], 0)) / n,
    ),
    splitSeconds: kinds.map((kind, k) => spent[k].map((part) => part / n / countOf(settings, kind))),
    held: { variance: 1, splits: countsOf(settings) },
    bend: UNBENT,
    data,
    tileOf,
    tilePixels,
    ...options,
  };
}

function sumTiles(values: Float32Array, tileOf: Int32Array, tiles: number): Float64Array {
  const sums = new Float64Array(tiles);
  for (let i = 0; i < values.length; i++) sums[tileOf[i]] += values[i];
  return sums;
}

/** Variance of each pixel's mean with these counts. */
export function variancesAt(model: SamplingModel, counts: Counts): Float32Array {
  const { base, kinds, law, parts, pilot } = model;
  const out = base.slice();
  kinds.forEach((kind, k) => {
    const more = Math.log(countOf(pilot, kind) / countOf(counts, kind));
    if (more !== 0) parts[k].forEach((v, i) => (out[i] += v * (Math.exp(more * law[i]) - 1)));
  });
  const more = Math.log(pilot.pixelSamples / counts.pixelSamples);
  const held = heldFactor(model, counts);
  return out.map((v, i) => held * Math.max(0, v) * Math.exp(more * law[i]));
}

/**
 * What the variance is multiplied with for what was measured: all of it at the splits of that render, nothing at those of the
 * pilot, which was measured itself. Between them by how far each kind has come on a logarithmic scale, by its part of the noise.
 */
function heldFactor({ held, kinds, pilot, shares }: SamplingModel, counts: Counts): number {
  let [come, whole] = [0, 0];
  kinds.forEach((kind, k) => {
    const way = Math.log(countOf(held.splits, kind) / countOf(pilot, kind));
    if (way === 0) return;
    const part = shares[k] * Math.abs(way);
    whole += part;
    come += part * Math.min(1, Math.max(0, Math.log(countOf(counts, kind) / countOf(pilot, kind)) / way));
  });
  return whole > 0 ? held.variance ** (come / whole) : held.variance;
}

/** Variance of one camera sample of each pixel with these splits, as the samples show it. */
export function sampleVariances(model: SamplingModel, counts: Counts): Float32Array {
  const { data, pilot } = model;
  const n = pilot.pixelSamples;
  return variancesAt(model, { ...counts, pixelSamples: n }).map((v, i) => (n * v) / gainAt(data, i));
}

/** Noise of the region as it would be measured, in L*. */
export function noiseAt(model: SamplingModel, counts: Counts): number {
  const { data, share, stops } = model;
  const { width, height } = data.region;
  return bent(model, visibleNoise(data.luminance, variancesAt(model, counts), width, { x: 0, y: 0, width, height }, { stops, quantile: share })); // prettier-ignore
}

/** Noise as it is measured, of noise as it is told. */
export function bent({ bend: { at, power } }: SamplingModel, noise: number): number {
  return power < 1 ? at * (noise / at) ** power : noise;
}

/** The model held against a render of the same picture: its law, how much it measured, and the power by which it did. */
export function heldAgainst(model: SamplingModel, data: NoiseData, counts: Counts): SamplingModel {
  const plain = { ...model, law: data.law };
  const measured = regionNoise(data, data.beauty, model.stops);
  const predicted = noiseAt({ ...plain, share: VISIBLE_NOISE_DEFAULTS.quantile }, counts);
  const variance = measured > 0 && predicted > 0 ? (measured / predicted) ** 2 : 1;
  const held = { ...plain, held: { variance, splits: counts } };
  return { ...held, bend: { power: data.power, at: noiseAt(held, counts) } };
}

/** Seconds of all pixels, on one thread. */
export function secondsAt({ paces, times }: SamplingModel, counts: Counts): number {
  return timesAt(times, counts).reduce((all, part, k) => all + part * paces[k], 0);
}

/**
 * The model of a region that tells the time of the frame, by the clock of a render that shows it. Kinds that the region
 * does not show are left at what is set now: they may be needed elsewhere.
 */
export function withFrame(
  model: SamplingModel,
  frame: { picture: Picture; settings: Counts },
  now: Counts,
): SamplingModel {
  const data = readNoiseData(frame.picture, frame.picture.dataWindow, model.stops);
  return { ...model, times: unitTimes(data, frame.settings), kept: countsBut(now, model.kinds) };
}

/** The model at the pace that renders went at. */
export const atPace = (model: SamplingModel, { factors }: CostModel): SamplingModel => ({ ...model, paces: factors });

/** Seconds of one camera sample of each pixel of a tile, as told by the pilot. */
export function tileSeconds(
  { cameraSeconds, kinds, splitSeconds }: SamplingModel,
  counts: Counts,
  tile: number,
): number {
  return kinds.reduce((sum, kind, k) => sum + countOf(counts, kind) * splitSeconds[k][tile], cameraSeconds[tile]);
}

/** The model seen at the noise of certain counts, tile by tile: quick, for a search. */
export interface TileModel {
  model: SamplingModel;
  /** L* squared, of one camera sample, before the eye's average: what n of them leave is this over n ^ law. */
  base: Float64Array;
  parts: Float64Array[];
  law: Float64Array;
}

/** @param near counts whose noise is near what is looked for: the eye's answer is not linear */
export function tileModel(model: SamplingModel, near: Counts): TileModel {
  const { base, data, parts, pilot, stops, tileOf, tilePixels } = model;
  const variance = variancesAt(model, near);
  const weight = eyeWeight(data.luminance, variance, stops);
  const sum = (values: Float32Array) => sumTiles(values, tileOf, tilePixels.length);
  const visible = variance.map((v, i) => v * weight[i]);
  const doubled = sum(visible.map((v, i) => v * 2 ** -model.law[i]));
  const law = sum(visible).map((v, t) => (doubled[t] > 0 ? Math.log2(v / doubled[t]) : 1));
  // at the samples that are looked at a tile is what its pixels are
  const one = weight.map((w, i) => w * pilot.pixelSamples ** model.law[i] * near.pixelSamples ** (law[tileOf[i]] - model.law[i])); // prettier-ignore
  const meanOf = (values: Float32Array) => sum(values.map((v, i) => v * one[i])).map((all, t) => all / tilePixels[t]);
  return { model, base: meanOf(base), parts: parts.map(meanOf), law };
}

/** Visible variance of each tile for one camera sample with these splits. */
export function tileVariances({ base, law, model, parts }: TileModel, counts: Counts): Float64Array {
  const out = base.slice();
  model.kinds.forEach((kind, k) => {
    const ratio = countOf(model.pilot, kind) / countOf(counts, kind);
    if (ratio !== 1) parts[k].forEach((v, t) => (out[t] += v * (ratio ** law[t] - 1)));
  });
  const held = heldFactor(model, counts);
  return out.map((v) => held * Math.max(0, v));
}

/** Noise in L*, by the tiles. @param samples of each tile, where they differ */
export function tileNoise(tiles: TileModel, counts: Counts, samples?: Float64Array): number {
  const { law, model } = tiles;
  const left = tileVariances(tiles, counts).map((v, t) => v / (samples?.[t] ?? counts.pixelSamples) ** law[t]);
  return bent(model, EYE_NOISE_GAIN * Math.sqrt(quantile(left, model.share)));
}

/** Pixel samples with which the tiles reach a noise with these splits. */
export function pixelSamplesFor(tiles: TileModel, splits: Counts, noise: number): number {
  const { law, model } = tiles;
  const { at, power } = model.bend;
  const plain = power < 1 ? at * (noise / at) ** (1 / power) : noise;
  const wanted = tileVariances(tiles, splits).map((v, t) => (v * (EYE_NOISE_GAIN / plain) ** 2) ** (1 / law[t]));
  return quantile(wanted, model.share);
}
