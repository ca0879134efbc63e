// What a region's noise and time become with any counts of samples, told from a pilot: a cheap render with several splits
// of everything that can be split.
//
// Two stages (Cochran 1977, 10.3): the variance of a pixel's mean is (between camera samples + within their splits) / N.
// What fewer splits would have given is measured in the pilot itself (splitLevels.ts); what more would give goes on as
// the last doublings did.
//
// Tried before: one pilot of two splits and the classical estimate of the variance within them. Evenly spread splits
// look like more variance than they bring, so that nothing was left between the camera samples. Two pilots with 1 and 4
// splits told the two apart on frosted glass and on bars, and failed on caustics: the few bright samples fell into one
// of them. From one pilot, few and many splits see the same bright samples. One share for all pixels of a tile: edges and
// soft shadows in one tile are not alike, and the noise of lifted shadows is far from linear; off by up to 3 times.
import { eyeWeight, readNoiseData, total, type CostModel, type NoiseData } from '../diagnose/index.ts';
import { cropPlane, EYE_NOISE_GAIN, findChannel, visibleNoise, VISIBLE_NOISE_DEFAULTS, type Picture, type Region } from '../image/index.ts'; // prettier-ignore
import { quantile } from '../math/index.ts';
import { SPLIT_KINDS, SPLIT_LEVELS, type SplitKind } from '../render/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { countOf, countsBut, countsOf, type Counts } from './counts.ts';
import { timesAt, unitTimes, type UnitTimes } from './unitTimes.ts';

/** By what twice the splits take less away than the doubling before: 1/2 for independent ones, less for evenly spread. */
export const DECAY = { least: 0.2, most: 0.5 };

/** Noise that is measured as it is told. */
export const UNBENT = { power: 1, at: 1 };

export interface SamplingModel {
  pilot: Counts;
  /** What can be split here: kinds that rays were traced for. */
  kinds: SplitKind[];
  /** Variance of the luminance of one camera sample with the pilot's splits, for each pixel. */
  base: Float32Array;
  /** What comes to it with 1, 2 and 4 splits instead of the pilot's: for each kind, each level, each pixel. */
  fewer: Float32Array[][];
  /** What each further doubling takes away, of what the one before took: for each kind. */
  decay: number[];
  /** Counts of kinds that a search leaves as they are. */
  kept: Partial<Counts>;
  times: UnitTimes;
  /** What is told of the time by the camera samples, and by each of SPLIT_KINDS, is multiplied with this. */
  paces: number[];
  /** Seconds of a camera sample without its splits, and of one split of each kind: for each tile, over its pixels. */
  cameraSeconds: Float64Array;
  splitSeconds: Float64Array[];
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
  const plane = (layer: string, name: string) => {
    const found = findChannel(picture, layer, name)?.data;
    return found ? cropPlane(picture, found, data.region) : null;
  };
  const kinds = SPLIT_KINDS.filter((_, k) => total(data.kindRays[k]) > 0);
  const fewer = kinds.map(
    (kind) =>
    SPLIT_LEVELS.map((size) => plane(`splits${size}`, kind)?.map((error) => error * error * n)).filter((v) => v !== undefined), // prettier-ignore
  );
  const perTile = (values: Float32Array) => sumTiles(values, tileOf, tilePixels.length);
  const spent = kinds.map((kind) => perTile(data.kindSeconds[SPLIT_KINDS.indexOf(kind)]));
  return {
    pilot: countsOf(settings),
    kinds,
    base: data.beauty.map((variance) => variance * n),
    fewer,
    decay: fewer.map((levels) => decayOf(levels, data.weight)),
    kept: {},
    times: unitTimes(data, settings),
    paces: [1, ...SPLIT_KINDS.map(() => 1)],
    cameraSeconds: perTile(data.seconds).map(
      (all, t) => Math.max(0, all - spent.reduce((sum, part) => sum + part[t], 0)) / n,
    ),
    splitSeconds: kinds.map((kind, k) => spent[k].map((part) => part / n / countOf(settings, kind))),
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

function decayOf(levels: Float32Array[], weight: Float32Array): number {
  if (levels.length < 2) return DECAY.most;
  const [before, last] = levels.slice(-2).map((values) => values.reduce((sum, v, i) => sum + v * weight[i], 0));
  return before > last ? Math.min(DECAY.most, Math.max(DECAY.least, last / (before - last))) : DECAY.most;
}

/**
 * What the levels of a kind are multiplied with, and added up, for the growth of the variance from the pilot's splits to
 * `count` of them: below 0 for more of them.
 */
function growthFactors({ decay, fewer, kinds, pilot }: SamplingModel, k: number, count: number): number[] {
  const levels = fewer[k].length;
  const factors = new Array<number>(levels).fill(0);
  const from = countOf(pilot, kinds[k]);
  if (levels === 0 || count === from) return factors;
  if (count < from) {
    const place = Math.min(levels - 1, Math.log2(count));
    const low = Math.floor(place);
    factors[low] = 1 - (place - low);
    if (low + 1 < levels) factors[low + 1] = place - low;
    return factors;
  }
  const r = decay[k];
  factors[levels - 1] = (-r * (1 - r ** Math.log2(count / from))) / (1 - r);
  return factors;
}

/** Variance of each pixel's mean with these counts. */
export function variancesAt(model: SamplingModel, counts: Counts): Float32Array {
  const out = model.base.slice();
  model.kinds.forEach((kind, k) =>
    growthFactors(model, k, countOf(counts, kind)).forEach((factor, level) => {
      const values = model.fewer[k][level];
      if (factor !== 0) for (let i = 0; i < out.length; i++) out[i] += factor * values[i];
    }),
  );
  for (let i = 0; i < out.length; i++) out[i] = Math.max(0, out[i]) / counts.pixelSamples;
  return out;
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

/** The model with the power that a render of the same picture shows. @param counts of that render */
export function withPower(model: SamplingModel, power: number, counts: Counts): SamplingModel {
  return { ...model, bend: { power, at: noiseAt(model, counts) } };
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
  /** L* squared, of one camera sample, before the eye's average. */
  base: Float64Array;
  fewer: Float64Array[][];
}

/** @param near counts whose noise is near what is looked for: the eye's answer is not linear */
export function tileModel(model: SamplingModel, near: Counts): TileModel {
  const { base, data, fewer, stops, tileOf, tilePixels } = model;
  const weight = eyeWeight(data.luminance, variancesAt(model, near), stops);
  const meanOf = (values: Float32Array) =>
    sumTiles(values.map((v, i) => v * weight[i]), tileOf, tilePixels.length).map((sum, t) => sum / tilePixels[t]); // prettier-ignore
  return { model, base: meanOf(base), fewer: fewer.map((levels) => levels.map(meanOf)) };
}

/** Visible variance of each tile for one camera sample with these splits. */
export function tileVariances({ base, fewer, model }: TileModel, counts: Counts): Float64Array {
  const out = base.slice();
  model.kinds.forEach((kind, k) =>
    growthFactors(model, k, countOf(counts, kind)).forEach((factor, level) => {
      if (factor !== 0) for (let t = 0; t < out.length; t++) out[t] += factor * fewer[k][level][t];
    }),
  );
  return out.map((v) => Math.max(0, v));
}

/** Noise in L*, by the tiles. */
export function tileNoise(tiles: TileModel, counts: Counts): number {
  const told = EYE_NOISE_GAIN * Math.sqrt(quantile(tileVariances(tiles, counts), tiles.model.share) / counts.pixelSamples); // prettier-ignore
  return bent(tiles.model, told);
}
