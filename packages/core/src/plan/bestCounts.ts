import type { SplitKind } from '../render/index.ts';
import type { Counts } from './counts.ts';
import {
  noiseAt,
  pixelSamplesFor,
  secondsAt,
  tileModel,
  tileNoise,
  type SamplingModel,
  type TileModel,
} from './samplingModel.ts';

export interface CountBounds {
  leastPixelSamples: number;
  mostPixelSamples: number;
  /** Of each kind. */
  mostSplits: number;
}
/** 9 pixel samples are the least that a filter of usual width gets along with: common practice, no source. */
export const BOUNDS_DEFAULTS: CountBounds = { leastPixelSamples: 9, mostPixelSamples: 65536, mostSplits: 64 };

/** What is wanted: the noise at most, or the seconds at most (of all pixels, one thread). */
export type Goal = { noise: number } | { seconds: number };

/** Times that the eye's answer is taken anew at the noise that was found. */
const ROUNDS = 3;

/**
 * The splits and pixel samples that reach a noise in the least time, or the least noise in a time.
 *
 * Time times variance is a sum of products of powers of the counts with positive factors, so that on a logarithmic scale
 * it has one valley (Boyd & Vandenberghe 2004, 4.5): going down along one count at a time finds its bottom, from two
 * ends because the counts are whole. Splits are powers of two, which alone are spread evenly.
 */
export function bestCounts(model: SamplingModel, goal: Goal, bounds: CountBounds = BOUNDS_DEFAULTS): Counts {
  let best = model.pilot;
  for (let round = 0; round < ROUNDS; round++) best = search(tileModel(model, best), goal, bounds);
  // the tiles were seen at the noise of the round before: what counts is what would be measured
  for (let round = 0; 'noise' in goal && round < ROUNDS; round++)
    best = { ...best, pixelSamples: within(bounds, Math.ceil(best.pixelSamples * (noiseAt(model, best) / goal.noise) ** (2 / model.bend.power) - 0.01)) }; // prettier-ignore
  return best;
}

const within = ({ leastPixelSamples, mostPixelSamples }: CountBounds, count: number) =>
  Math.min(mostPixelSamples, Math.max(leastPixelSamples, count));

function search(tiles: TileModel, goal: Goal, bounds: CountBounds): Counts {
  const { model } = tiles;
  let best: Counts | null = null;
  for (const start of [1, 8]) {
    let splits = withSplits(model, () => Math.min(start, bounds.mostSplits));
    let found = withPixels(tiles, splits, goal, bounds);
    for (let changed = true; changed;) {
      changed = false;
      for (const kind of model.kinds)
        for (let count = 1; count <= bounds.mostSplits; count *= 2) {
          const other = { ...splits, [`${kind}Samples`]: count };
          const there = withPixels(tiles, other, goal, bounds);
          if (!isBetter(tiles, there, found, goal)) continue;
          splits = other;
          found = there;
          changed = true;
        }
    }
    if (!best || isBetter(tiles, found, best, goal)) best = found;
  }
  return best!;
}

/** With as many pixel samples as the goal asks for, or allows. */
function withPixels(tiles: TileModel, splits: Counts, goal: Goal, bounds: CountBounds): Counts {
  const wanted =
    'noise' in goal
      ? Math.ceil(pixelSamplesFor(tiles, splits, goal.noise))
      : Math.floor(goal.seconds / secondsAt(tiles.model, { ...splits, pixelSamples: 1 }));
  return { ...splits, pixelSamples: within(bounds, wanted) };
}

function isBetter(tiles: TileModel, a: Counts, b: Counts, goal: Goal): boolean {
  const noise = [a, b].map((counts) => tileNoise(tiles, counts));
  const seconds = [a, b].map((counts) => secondsAt(tiles.model, counts));
  const [missed, price] =
    'noise' in goal ? [noise.map((n) => n / goal.noise), seconds] : [seconds.map((s) => s / goal.seconds), noise];
  // bounds may keep both from the goal: the nearer one then
  if (Math.max(...missed) > 1.001 && Math.abs(missed[0] - missed[1]) > 1e-9) return missed[0] < missed[1];
  return price[0] < price[1] * (1 - 1e-9);
}

function withSplits({ kept, kinds, pilot }: SamplingModel, count: (kind: SplitKind) => number): Counts {
  const splits = { ...pilot, diffuseSamples: 1, specularSamples: 1, transmissionSamples: 1, volumeSamples: 1, lightSamples: 1, ...kept }; // prettier-ignore
  for (const kind of kinds) splits[`${kind}Samples`] = count(kind);
  return splits;
}
