// What counts of samples will give, predicted from a pilot, held against what was measured, and how far it can be trusted.
import { type Estimate } from '../diagnose/index.ts';
import { costModel, PART_RANGE, quantileSpread, readNoiseData, type CostModel } from '../predict/index.ts';
import { cropPlane, findChannel, VISIBLE_NOISE_DEFAULTS, type Picture, type Region } from '../image/index.ts';
import { tailIndex } from '../math/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { countOf, countsOf, type Counts } from './counts.ts';
import { heldAgainst, noiseAt, samplingModel, withFrame, type SamplingModel } from './samplingModel.ts';
import { timesAt, unitTimes } from './unitTimes.ts';
import type { Counted } from './waste.ts';

/** A finished render: what it looks like, how it was set, what the frame took. */
export interface Rendered {
  picture: Picture;
  settings: RenderSettings;
  seconds: number;
  counted?: Counted;
}
/** What a render took, without its picture. */
export type Timed = Pick<Rendered, 'settings' | 'seconds'>;

export interface Foretold {
  /** Of the frame, and of the region alone. */
  seconds: Estimate;
  regionSeconds: Estimate;
  /** L* over the region. */
  noise: Estimate;
}

/**
 * Noise and time with other counts.
 * @param measured a proof of the same picture
 * @param timed what that and others of the same picture and size took, for the frame
 */
export function foretell(
  pilot: Rendered,
  measured: Rendered,
  timed: Timed[],
  after: RenderSettings,
  region: Region,
  stops: number,
): Foretold {
  const told = samplingModel(pilot.picture, pilot.settings, region, { stops, share: VISIBLE_NOISE_DEFAULTS.quantile });
  const counts = countsOf(after);
  const model = withFrame(asMeasured(told, measured), measured, counts);
  const cost = costOf(model, timed);
  const part = unitTimes(readNoiseData(measured.picture, region, stops), measured.settings);
  const noise = noiseAt(model, counts);
  return {
    seconds: cost.seconds(timesAt(model.times, counts)),
    regionSeconds: cost.seconds(timesAt(part, counts)),
    noise: uncertainNoise(model, counts, noise, tailOf(pilot, model), countsOf(measured.settings)),
  };
}

/** The model as a render of the same picture measures it. */
export function asMeasured(
  model: SamplingModel,
  { picture, settings }: Pick<Rendered, 'picture' | 'settings'>,
): SamplingModel {
  return heldAgainst(model, readNoiseData(picture, model.data.region, model.stops), countsOf(settings));
}

/** What renders of the frame took, by the parts that are told of them. */
export function costOf(model: SamplingModel, timed: Timed[]): CostModel {
  return costModel(
    timed.map(({ seconds, settings }) => ({ parts: timesAt(model.times, countsOf(settings)), seconds })),
  );
}

/** How heavy the tail of the samples is, from the brightest of each pixel over the pixel's mean. */
export function tailOf({ picture }: Rendered, { data }: SamplingModel): number {
  const brightest = findChannel(picture, 'brightest', 'Y')?.data;
  if (!brightest) return Infinity;
  return tailIndex(cropPlane(picture, brightest, data.region).map((y, i) => (data.luminance[i] > 0 ? y / data.luminance[i] : 0))); // prettier-ignore
}

/**
 * The range of a predicted noise: the tiles that the quantile falls between; how much of it the splits bring; and, upwards, a tail whose variance grows with the samples
 * (sums of squares of n grow as n^(2 / index), Feller, An Introduction to Probability Theory II, XVII.5; from memory).
 */
export function uncertainNoise(
  model: SamplingModel,
  counts: Counts,
  value: number,
  tail: number,
  held: Counts,
): Estimate {
  if (isSame(counts, held)) return { value, low: value, high: value };
  const tiles = quantileSpread(model.data, model.stops);
  const noiseOf = (of: SamplingModel) => noiseAt(of, counts) / (noiseAt(of, held) || 1);
  const middle = noiseOf(model) || 1;
  const shares = PART_RANGE.map((factor) => noiseOf({ ...model, parts: model.parts.map((part) => part.map((v, i) => Math.min(model.base[i], factor * v))) }) / middle); // prettier-ignore
  const most = (c: Counts) => c.pixelSamples * Math.max(1, ...model.kinds.map((kind) => countOf(c, kind)));
  const heavier = tail < 2 ? Math.max(1, (most(counts) / most(model.pilot)) ** (1 / tail - 1 / 2)) : 1;
  return {
    value,
    low: value * tiles.low * Math.min(1, ...shares),
    high: value * tiles.high * Math.max(1, ...shares) * heavier,
  };
}

const isSame = (a: Counts, b: Counts) => JSON.stringify(countsOf(a)) === JSON.stringify(countsOf(b));
