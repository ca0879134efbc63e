// Some of the pixels are rendered twice, the second time with points that have nothing to do with those of the picture. What
// lies between the two tells how far a pixel is from its mean: unbiased, whatever the points are.
import { luminance } from '../color/index.ts';
import { hashPair } from '../math/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { FILM, MEASURED, type Film } from './film.ts';
import type { PathTracer } from './pathTracer.ts';

/** About so many pixels of a frame are looked at twice: enough to know a factor of the variance to 2 %. */
const WANTED = 4096;
/** Side of the squares that hold one of them: 6 % more time for small frames, below 2 % for large ones. */
const STEP = { least: 4, most: 8 };
/** Number of the second set of points. */
const SECOND = 1;

const noClock = () => 0;

/** Whether a pixel is rendered twice: one in each square of some pixels, chosen by chance, whatever region is rendered. */
export function isChecked(
  px: number,
  py: number,
  { width, height, seed }: Pick<RenderSettings, 'width' | 'height' | 'seed'>,
): boolean {
  const step = Math.min(STEP.most, Math.max(STEP.least, Math.floor(Math.sqrt((width * height) / WANTED))));
  const chosen = (hashPair(hashPair(Math.floor(px / step), Math.floor(py / step)), seed) >>> 0) % (step * step);
  return (px % step) + step * (py % step) === chosen;
}

/** Adds the second set's samples of the pixels that have one, as many as the film holds of the first. @param start of them */
export function addChecks(tracer: PathTracer, { data, region, stride }: Film, start: number): void {
  const { settings } = tracer;
  if (settings.pixelSamples < 2) return;
  const second = new Float64Array(stride);
  for (let y = 0; y < region.height; y++)
    for (let x = 0; x < region.width; x++) {
      if (!isChecked(region.x + x, region.y + y, settings)) continue;
      const at = (y * region.width + x) * stride;
      const count = data[at + FILM.samples];
      second.fill(0);
      tracer.renderPixel(region.x + x, region.y + y, start, count, second, 0, noClock, SECOND);
      for (let k = 0; k < MEASURED.all; k++) data[at + FILM.check + k] += measuredSum(second, 0, k);
      data[at + FILM.checkSamples] += count;
    }
}

/** Luminance of one of MEASURED, summed over the samples of a pixel. @param at first slot of the pixel */
export function measuredSum(data: Film['data'], at: number, measured: number): number {
  if (measured === MEASURED.occlusion) return data[at + FILM.occlusion];
  const slot = at + sumSlot(measured);
  return luminance(data[slot], data[slot + 1], data[slot + 2]);
}

/** Squares of the same. */
export function measuredSquares(data: Film['data'], at: number, measured: number): number {
  if (measured === MEASURED.occlusion) return data[at + FILM.occlusion + 1];
  if (measured >= MEASURED.group) return data[at + FILM.groupSquares + measured - MEASURED.group];
  return data[at + sumSlot(measured) + (measured === MEASURED.beauty ? 6 : 3)];
}

function sumSlot(measured: number): number {
  if (measured === MEASURED.beauty) return FILM.beauty;
  if (measured < MEASURED.group) return FILM.component + (measured - MEASURED.component) * FILM.componentStride;
  return FILM.group + (measured - MEASURED.group) * 3;
}
