import type { Picture, Region } from '../../image/index.ts';
import { layerLuminance } from '../../render/index.ts';
import type { Firefly } from './findFireflies.ts';

export const SHOWN_BESIDE_DEFAULTS = {
  /** A highlight moves by no more from one frame to the next, pixels. No source. */
  reach: 2,
  /** It is at least so bright there, of what it stands out by here. No source. */
  least: 0.25,
} as const;

/**
 * Candidates that the frames before and after show as well: highlights stay from frame to frame, and fireflies do not. Both of
 * them have to: at one firefly in 500 pixels one has another within reach of a sixth of the fireflies.
 * @param neighbours frames of the same size
 */
export function shownBeside(
  candidates: Firefly[],
  neighbours: Picture[],
  { least, reach }: { least: number; reach: number } = SHOWN_BESIDE_DEFAULTS,
): Firefly[] {
  const frames = neighbours.flatMap((picture) => {
    const luminance = layerLuminance(picture, 'beauty');
    return luminance ? [{ luminance, at: picture.dataWindow }] : [];
  });
  return candidates.filter(
    ({ around, luminance, x, y }) =>
      frames.length > 0 &&
      frames.every((frame) => brightest(frame, x, y, reach) >= around + least * (luminance - around)),
  );
}

function brightest(
  { at, luminance }: { at: Region; luminance: Float32Array },
  x: number,
  y: number,
  reach: number,
): number {
  // prettier-ignore
  let most = -Infinity;
  for (let py = Math.max(at.y, y - reach); py <= Math.min(at.y + at.height - 1, y + reach); py++)
    for (let px = Math.max(at.x, x - reach); px <= Math.min(at.x + at.width - 1, x + reach); px++)
      most = Math.max(most, luminance[(py - at.y) * at.width + px - at.x]);
  return most;
}
