// The noise of a picture, estimated from its pixels alone, for frames that carry no statistics.
//
// What is left of the picture is [1 -2 1] across and down, over 6: independent noise keeps its spread, and shading that is
// smooth, or an edge that stands upright or lies flat, leaves nothing (Immerkaer, Fast noise variance estimation, Computer
// Vision and Image Understanding 64, 1996). It is also the diagonal detail of the 5/3 wavelet, so that the median rule of
// Donoho & Johnstone (Ideal spatial adaptation by wavelet shrinkage, Biometrika 81, 1994) applies to it: half of the pixels
// may be edges or texture.
//
// Over nine parts of LH-010 at 16 and 64 samples the visible noise so told was, of the measured one, 0.85 to 1.36 by the
// median and 0.95 to 2.2 by the mean. Windows of 24 and 32 pixels gave 0.67 and 0.39 of it where noise is patchy; windows
// of 12 took twice the time and were no better.
import type { Region } from './picture.ts';

/** Side of the squares that get one value, and of the windows around them that it is estimated from. */
const TILE = 8;
const WINDOW = 16;
/** Pixels from which on the squares are as large as their windows: 4K takes a second instead of three and a half. */
const LARGE = 1e6;
/** Median and mean of the size of a normal variable with spread 1. */
const NORMAL_MEDIAN = 0.67449;
const NORMAL_MEAN = Math.sqrt(2 / Math.PI);

export interface NoiseFromPicture {
  /** Variance of each pixel of the region, by the median: what edges and texture hardly touch. */
  variance: Float32Array;
  /** The same by the mean: it counts them as noise, and single bright pixels too. */
  most: Float32Array;
}

/**
 * @param plane one channel or the luminance, row by row; values that are not finite are left out
 * @param region inside the picture; windows reach beyond it where there is more picture
 * @returns zeros where there are fewer than 3 x 3 pixels. Neighbouring pixels are taken as independent: a picture that was
 *   smoothed shows less noise than it has
 */
export function noiseFromPicture(plane: Float32Array, width: number, height: number, region: Region): NoiseFromPicture {
  const tile = region.width * region.height > LARGE ? WINDOW : TILE;
  const around = (WINDOW - tile) >> 1;
  const [left, top] = [Math.max(1, region.x - around), Math.max(1, region.y - around)];
  const right = Math.min(width - 1, region.x + region.width + WINDOW);
  const bottom = Math.min(height - 1, region.y + region.height + WINDOW);
  const across = Math.max(0, right - left);
  const detail = new Float32Array(across * Math.max(0, bottom - top));
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) {
      const [i, above, below] = [y * width + x, (y - 1) * width + x, (y + 1) * width + x];
      const corners = plane[above - 1] + plane[above + 1] + plane[below - 1] + plane[below + 1];
      const sides = plane[above] + plane[below] + plane[i - 1] + plane[i + 1];
      detail[(y - top) * across + x - left] = Math.abs(corners - 2 * sides + 4 * plane[i]) / 6;
    }
  const variance = new Float32Array(region.width * region.height);
  const most = new Float32Array(variance.length);
  const sizes = new Float32Array(WINDOW * WINDOW);
  for (let ty = 0; ty < region.height; ty += tile)
    for (let tx = 0; tx < region.width; tx += tile) {
      const [x0, y0] = [region.x + tx - around, region.y + ty - around];
      let n = 0;
      let sum = 0;
      for (let y = Math.max(top, y0); y < Math.min(bottom, y0 + WINDOW); y++)
        for (let x = Math.max(left, x0); x < Math.min(right, x0 + WINDOW); x++) {
          const size = detail[(y - top) * across + x - left];
          if (!(size < Infinity)) continue;
          sizes[n++] = size;
          sum += size;
        }
      if (n === 0) continue;
      const middle = (sizes.subarray(0, n).sort()[n >> 1] / NORMAL_MEDIAN) ** 2;
      const mean = (sum / n / NORMAL_MEAN) ** 2;
      for (let y = ty; y < Math.min(region.height, ty + tile); y++) {
        const row = y * region.width;
        variance.fill(middle, row + tx, row + Math.min(region.width, tx + tile));
        most.fill(mean, row + tx, row + Math.min(region.width, tx + tile));
      }
    }
  return { variance, most };
}
