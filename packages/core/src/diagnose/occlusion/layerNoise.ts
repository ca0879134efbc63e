// Noise of an occlusion layer. Each ray is open or not, so that n of them leave a standard error of sqrt(p (1 - p) / n) where a
// share p is open (the binomial distribution); with a falloff the variance is that of the openness of single rays. Points
// of a pixel that are spread evenly leave less, and the less the more there are: see EVEN_POWER.
import { lightnessSlope, rayOpenness } from '../../render/index.ts';
import type { LayerWish, OcclusionSketch } from './occlusionSketch.ts';

/**
 * Noise of n evenly spread points over that of random ones is n^EVEN_POWER. Renders of the demo's room with two seeds gave 0.79 to
 * 1.06 with 4 rays, 0.60 to 0.86 with 16 and 0.54 to 0.66 with 64 (at 0.1 and 0.8 m); in a closed room without a limit, where
 * next to no ray is open, 1.1 to 1.3.
 */
const EVEN_POWER = -0.12;
/** By which the noise of a layer falls with its rays. */
export const NOISE_POWER = 0.5 - EVEN_POWER;
export const evenness = (rays: number) => ({ value: rays ** EVEN_POWER, low: 0.5 * rays ** EVEN_POWER, high: 1.1 });

/** Slope of L* over openness; in the dark, that of an openness of one in a hundred: below, a look's own value is chance. */
export const slopeAt = (open: number) => lightnessSlope(Math.max(0.01, open));

/** Variance of the openness of one ray at a look. */
export function rayVariance({ any, rays, solid }: OcclusionSketch, look: number, wish: LayerWish): number {
  const distances = wish.clearSurfaces ? any : solid;
  const reach = wish.distance || Infinity;
  let sum = 0;
  let squares = 0;
  for (let k = look * rays; k < (look + 1) * rays; k++) {
    const open = rayOpenness(distances[k], reach, wish.falloff);
    sum += open;
    squares += open * open;
  }
  // unbiased for the variance from a few rays
  return Math.max(0, squares - (sum * sum) / rays) / (rays - 1);
}

/** Standard error of each look in L* after so many random rays. @param layer of the same wish */
export function noiseOf(sketch: OcclusionSketch, layer: Float32Array, wish: LayerWish, rays: number): Float32Array {
  const noise = new Float32Array(layer.length);
  for (const look of sketch.seen)
    noise[look] = slopeAt(layer[look]) * Math.sqrt(rayVariance(sketch, look, wish) / rays);
  return noise;
}

/** Root mean square over what shows a surface. */
export function overall({ seen }: OcclusionSketch, noise: Float32Array): number {
  return Math.sqrt(seen.reduce((sum, look) => sum + noise[look] ** 2, 0) / Math.max(1, seen.length));
}
