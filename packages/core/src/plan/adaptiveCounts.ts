import { lightnessSlope, planChunks, ROUND, type Chunk } from '../render/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { bestCounts, type CountBounds } from './bestCounts.ts';
import type { Counts } from './counts.ts';
import { sampleVariances, tileModel, tileNoise, tileSeconds, type SamplingModel } from './samplingModel.ts';

/** Most pixel samples of a tile, as a multiple of what the plan without it gives to all. */
const MOST = 4;
/** Samples of every pixel before any tile may stop, where the bounds do not ask for more. */
const LEAST = 16;

export interface AdaptiveChoice {
  adaptive: RenderSettings['adaptive'];
  /** Their pixel samples are the most for a pixel. */
  counts: Counts;
  noise: number;
  /** Of the time that all samples of every tile would take. */
  timeShare: number;
}

/**
 * The adaptive limit with which the noise that is asked for is just held: each tile goes on in rounds until the rule of the
 * renderer (render/adaptive.ts) lets it stop. The splits are the best for as many pixel samples as every tile takes.
 */
export function adaptiveCounts(model: SamplingModel, noise: number, bounds: CountBounds): AdaptiveChoice {
  const least = Math.max(LEAST, bounds.leastPixelSamples);
  const counts = bestCounts(model, { noise }, { ...bounds, leastPixelSamples: least });
  const seen = tileModel(model, counts);
  const tiles = seen.base.length;
  const rule = new Float64Array(tiles);
  const level = new Float64Array(tiles);
  sampleVariances(model, counts).forEach((v, i) => {
    rule[model.tileOf[i]] += v / model.tilePixels[model.tileOf[i]];
    level[model.tileOf[i]] += model.data.luminance[i] / model.tilePixels[model.tileOf[i]];
  });
  for (let t = 0; t < tiles; t++) rule[t] *= lightnessSlope(level[t]) ** 2;
  const wanted = Math.ceil((MOST * counts.pixelSamples) / ROUND) * ROUND;
  const most = Math.max(least, Math.min(bounds.mostPixelSamples, wanted));
  const passes = planChunks({ x: 0, y: 0, width: 1, height: 1 }, { pixelSamples: most, adaptive: { limit: 1, least } }); // prettier-ignore
  const samples = (limit: number) => rule.map((v) => samplesTaken(v, limit, least, passes));
  const noiseAt = (limit: number) => tileNoise(seen, counts, samples(limit));
  const timed = (counted: Float64Array) => counted.reduce((sum, n, t) => sum + n * tileSeconds(model, counts, t), 0);
  let [low, high] = [0.01, 50];
  for (let step = 0; step < 24; step++) {
    const middle = Math.sqrt(low * high);
    if (noiseAt(middle) <= noise) low = middle;
    else high = middle;
  }
  const limit = Number(low.toPrecision(3));
  return {
    adaptive: { limit, least },
    counts: { ...counts, pixelSamples: most },
    noise: noiseAt(limit),
    timeShare: timed(samples(limit)) / timed(rule.map(() => most)),
  };
}

/**
 * Samples of a tile until it stops: every chunk decides by itself, after a round at least.
 * @param rule variance of one sample as the rule sees it, L* squared
 */
function samplesTaken(rule: number, limit: number, least: number, passes: Chunk[]): number {
  let taken = 0;
  for (const { sampleCount, sampleStart } of passes) {
    let here = sampleCount;
    if (sampleStart >= least && sampleCount > ROUND) {
      const enough = Math.ceil((rule / limit ** 2 - sampleStart) / ROUND) * ROUND;
      here = Math.min(sampleCount, Math.max(ROUND, enough));
    }
    taken += here;
  }
  return taken;
}
