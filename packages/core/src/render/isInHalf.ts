import type { RenderSettings } from '../scene/index.ts';
import { ROUND } from './adaptive.ts';

/**
 * Whether a sample belongs to the half of a pixel's samples that is kept apart: the first half of them, which is as even a
 * set of points as the whole; of pixels that may stop at any time, every other round.
 */
export function isInHalf(
  sample: number,
  { adaptive, pixelSamples }: Pick<RenderSettings, 'adaptive' | 'pixelSamples'>,
): boolean {
  return adaptive.limit > 0 ? (Math.floor(sample / ROUND) & 1) === 0 : 2 * sample < pixelSamples;
}
