import { cropPicture } from './cropPicture.ts';
import { findChannel, MAIN_LAYER, splitChannelName, type Picture, type Region } from './picture.ts';

/** What the pixels of a region hold in one channel. Numbers that are not finite are counted and left out. */
export interface RegionRow {
  layer: string;
  channel: string;
  mean: number;
  least: number;
  most: number;
  /** Standard deviation between the pixels. */
  spread: number;
  /** Root mean square of the pixels' standard errors; null where the picture does not carry them. */
  error: number | null;
  notFinite: number;
}

/** One row for each channel; none where the region lies outside. Standard errors stand beside what they belong to. */
export function regionTable(picture: Picture, region: Region): RegionRow[] {
  const part = cropPicture(picture, region);
  if (!part) return [];
  return part.channels
    .map(({ name, data }) => ({ ...splitChannelName(name), data }))
    .filter(({ layer }) => layer !== 'error' && !layer.startsWith('error.'))
    .map(({ layer, channel, data }) => {
      const errors = findChannel(part, layer === MAIN_LAYER ? 'error' : `error.${layer}`, channel)?.data;
      return { layer, channel, ...summary(data), error: errors ? rootMeanSquare(errors) : null };
    });
}

function summary(data: Float32Array): Pick<RegionRow, 'mean' | 'least' | 'most' | 'spread' | 'notFinite'> {
  let [n, mean, squares, least, most] = [0, 0, 0, Infinity, -Infinity];
  for (const v of data) {
    if (!Number.isFinite(v)) continue;
    n++;
    // Welford 1962, "Note on a method for calculating corrected sums of squares and products"
    const before = v - mean;
    mean += before / n;
    squares += before * (v - mean);
    least = Math.min(least, v);
    most = Math.max(most, v);
  }
  return { mean, least, most, spread: n > 1 ? Math.sqrt(squares / (n - 1)) : 0, notFinite: data.length - n };
}

function rootMeanSquare(data: Float32Array): number {
  let sum = 0;
  for (const v of data) sum += v * v;
  return Math.sqrt(sum / data.length);
}
