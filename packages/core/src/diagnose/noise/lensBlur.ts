import { cropPlane, findChannel, type Picture, type Region } from '../../image/index.ts';
import { quantile } from '../../math/index.ts';
import { proofRecord } from './proofRecord.ts';

/**
 * How far the lens spreads a point of a region, in pixels: the median radius of the circle of confusion (Potmesil &
 * Chakravarty 1981) at the depths of its pixels. 0 where the proof was rendered without a lens, or shows no surface there.
 */
export function lensBlur(picture: Picture, region: Region): number {
  const { lens } = proofRecord(picture);
  const depth = findChannel(picture, 'depth', 'Z')?.data;
  if (!lens || !depth) return 0;
  const { apertureRadius, focusDistance, orthographic, pixel } = lens;
  const radii = [...cropPlane(picture, depth, region)]
    .filter((distance) => distance > 0 && Number.isFinite(distance))
    .map((distance) => (apertureRadius * Math.abs(distance - focusDistance)) / focusDistance / (orthographic ? 1 : distance) / pixel); // prettier-ignore
  return radii.length > 0 ? quantile(radii, 0.5) : 0;
}
