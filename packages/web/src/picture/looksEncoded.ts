import { fromHalf } from '@dusting/core/formats';
import type { LayerPicture } from '../api.ts';

/** So many pixels are looked at, and so many have to tell. */
const LOOKED_AT = 20000;
const ENOUGH = 500;
/** Share of the telling pixels that must stand on steps of 1/255; by chance about one of twenty does. */
const MOST = 0.9;

/**
 * Whether linear numbers look like a picture that was encoded for display before: all within 0..1 and on the steps of 8
 * bits. Shown through a display transform it would be encoded twice. Common practice, no source.
 */
export function looksEncoded({ channels, halves }: LayerPicture): boolean {
  const n = channels.length;
  if (n < 3) return false;
  const pixels = halves.length / n;
  const step = Math.max(1, Math.floor(pixels / LOOKED_AT));
  let [telling, onSteps] = [0, 0];
  for (let i = 0; i < pixels; i += step) {
    let [inside, plain, fits] = [true, true, true];
    for (let k = 0; k < 3; k++) {
      const v = 255 * fromHalf(halves[i * n + k]);
      if (!(v >= 0 && v <= 255.2)) inside = false;
      if (v > 0.5 && v < 254.5) plain = false;
      // a half is good to 1 in 2048
      if (Math.abs(v - Math.round(v)) > 0.03 + v / 2048) fits = false;
    }
    if (!inside) return false;
    if (plain) continue;
    telling++;
    if (fits) onSteps++;
  }
  return telling >= ENOUGH && onSteps > MOST * telling;
}
