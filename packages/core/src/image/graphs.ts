// What graphs of a picture show. Values of a channel stand in planes, row by row.
import { luminance } from '../color/index.ts';

export const HISTOGRAM_DEFAULTS = {
  bins: 160,
  /** Stops below and above 1. */
  from: -10,
  to: 6,
};

export interface Histogram {
  /** Counts for each plane, and, of three planes, for the luminance. */
  counts: Uint32Array[];
  pixels: number;
  /** Pixels with a value of 0 or less, above `limit`, and not finite, in any plane. */
  dark: number;
  clipped: number;
  notFinite: number;
}

/**
 * Counts over stops: bin 0 begins at 2^from, the last one ends at 2^to; what lies beyond is in neither.
 * @param limit value above which a pixel counts as clipped
 */
export function histogram(planes: Float32Array[], limit: number, options = HISTOGRAM_DEFAULTS): Histogram {
  const { bins, from, to } = options;
  const pixels = planes[0].length;
  const counts = [...planes, ...(planes.length === 3 ? [0] : [])].map(() => new Uint32Array(bins));
  const put = (plane: number, v: number) => {
    const bin = Math.floor(((Math.log2(v) - from) / (to - from)) * bins);
    if (bin >= 0 && bin < bins) counts[plane][bin]++;
  };
  let [dark, clipped, notFinite] = [0, 0, 0];
  for (let i = 0; i < pixels; i++) {
    let [isDark, isClipped, isFinite] = [false, false, true];
    for (let k = 0; k < planes.length; k++) {
      const v = planes[k][i];
      if (!Number.isFinite(v)) isFinite = false;
      else if (v > 0) put(k, v);
      else isDark = true;
      if (v > limit) isClipped = true;
    }
    if (planes.length === 3) {
      const y = luminance(planes[0][i], planes[1][i], planes[2][i]);
      if (y > 0 && y < Infinity) put(3, y);
    }
    if (isDark) dark++;
    if (isClipped) clipped++;
    if (!isFinite) notFinite++;
  }
  return { counts, pixels, dark, clipped, notFinite };
}

/**
 * How often each displayed value occurs in each column of the picture.
 * @param shown displayed values 0..1, row by row
 * @returns columns x rows counts, row 0 for the highest values
 */
export function waveform(shown: Float32Array, width: number, columns: number, rows: number): Uint32Array {
  const counts = new Uint32Array(columns * rows);
  for (let i = 0; i < shown.length; i++) {
    const column = Math.floor((((i % width) + 0.5) * columns) / width);
    const row = Math.min(rows - 1, Math.floor((1 - Math.min(1, Math.max(0, shown[i]))) * rows));
    counts[row * columns + column]++;
  }
  return counts;
}
