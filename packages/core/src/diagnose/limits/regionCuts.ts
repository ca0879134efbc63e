import { luminance } from '../../color/index.ts';
import { findChannel, intersectRegions, planeSum, type Picture, type Region } from '../../image/index.ts';
import { LIMITS, type Limit } from '../../render/index.ts';

/** Mean luminance of a region, and of what each limit cut off from it, as probes measured it. */
export interface RegionCuts {
  meanLuminance: number;
  cutOff: Record<Limit, number>;
}

/** @returns null where the picture does not say, or shows nothing of the region */
export function regionCuts(picture: Picture, part: Region): RegionCuts | null {
  const region = intersectRegions(part, picture.dataWindow);
  if (!region || !findChannel(picture, 'cut.total', 'R')) return null;
  const cutOff = Object.fromEntries(LIMITS.map((limit) => [limit, meanOf(picture, `cut.${limit}`, region)]));
  return { meanLuminance: meanOf(picture, 'beauty', region), cutOff: cutOff as Record<Limit, number> };
}

function meanOf(picture: Picture, layer: string, region: Region): number {
  const sums = [...'RGB'].map((c) => planeSum(picture, findChannel(picture, layer, c)?.data, region));
  return luminance(sums[0], sums[1], sums[2]) / (region.width * region.height);
}
