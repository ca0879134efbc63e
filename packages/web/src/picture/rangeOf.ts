import { fromHalf } from '@dusting/core/formats';
import type { LayerPicture } from '../api.ts';

/** Least and greatest finite value of a data layer, which is one channel; never empty. */
export function rangeOf({ halves }: LayerPicture): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const half of halves) {
    const v = fromHalf(half);
    if (!Number.isFinite(v)) continue;
    low = Math.min(low, v);
    high = Math.max(high, v);
  }
  if (low > high) return [0, 1];
  return high > low ? [low, high] : [low, low + 1];
}
