import { fromHalf } from '@dusting/core/formats';
import { quantile } from '@dusting/core/math';
import type { LayerPicture } from '../api.ts';

/** Values that a quantile is taken from: of more pixels, every so manyth. */
const MOST_VALUES = 65536;

/**
 * Least and greatest finite value of a data layer, which is one channel; never empty.
 * @param most share of the values that the range holds: below 1 a few that stand out do not darken the rest
 */
export function rangeOf({ halves }: LayerPicture, most = 1): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const half of halves) {
    const v = fromHalf(half);
    if (!Number.isFinite(v)) continue;
    low = Math.min(low, v);
    high = Math.max(high, v);
  }
  if (low > high) return [0, 1];
  if (most < 1) {
    const step = Math.ceil(halves.length / MOST_VALUES);
    const values = Array.from({ length: Math.floor(halves.length / step) }, (_, i) => fromHalf(halves[i * step]));
    high = quantile(values.filter(Number.isFinite), most);
  }
  return high > low ? [low, high] : [low, low + 1];
}
