// How far two pictures are apart, by the usual measures.
import { deltaE2000, linearToSrgb, luminance, toLab } from '../color/index.ts';
import { atFrame } from './atFrame.ts';
import { findChannel, intersectRegions, MAIN_LAYER, type Picture, type Region } from './picture.ts';

export interface Differences {
  /** Root mean square of the differences of R, G and B, linear. */
  rmse: number;
  /** Mean of (a - b)^2 / (b^2 + 0.01) over R, G and B (Rousselle, Knaus & Zwicker 2011, "Adaptive sampling and reconstruction using greedy error minimization"). */
  relative: number;
  /** Structural similarity of the luminance as displayed, 1 where alike (Wang, Bovik, Sheikh & Simoncelli 2004). */
  similarity: number;
  /** Mean CIEDE2000 of the pixels as displayed. */
  deltaE: number;
}

const RELATIVE_FLOOR = 0.01;
// Wang et al. 2004: Gaussian window of 11 x 11 with a deviation of 1.5, constants (0.01)^2 and (0.03)^2 for a range of 1
const WINDOW = 11;
const DEVIATION = 1.5;
const C1 = 0.01 ** 2;
const C2 = 0.03 ** 2;

/** Measures of what is seen, pixel by pixel over a region. */
export interface DifferenceMaps {
  region: Region;
  similarity: Float32Array;
  deltaE: Float32Array;
}

/**
 * @param before of a frame of another size, it is placed in that of the other one (atFrame)
 * @param region in the frame of the other one
 * @param layer a layer with R, G, B in both pictures
 * @param stops exposure at which they are displayed, for the measures of what is seen
 * @returns null where the pictures share no pixel of the region, or one of them lacks the layer
 */
export function differencesOf(
  before: Picture,
  after: Picture,
  region: Region,
  stops: number,
  layer = MAIN_LAYER,
): Differences | null {
  const pair = cropBoth(before, after, region, layer);
  if (!pair) return null;
  const { one, two } = pair;
  let [squares, relative] = [0, 0];
  for (let k = 0; k < 3; k++)
    for (let i = 0; i < one[k].length; i++) {
      const difference = (two[k][i] - one[k][i]) ** 2;
      squares += difference;
      relative += difference / (one[k][i] ** 2 + RELATIVE_FLOOR);
    }
  const values = 3 * one[0].length;
  const { similarity, deltaE } = mapsOf(pair, stops);
  return {
    rmse: Math.sqrt(squares / values),
    relative: relative / values,
    similarity: mean(similarity),
    deltaE: mean(deltaE),
  };
}

/** The measures of what is seen as maps; parameters and result as with differencesOf(). */
export function differenceMaps(
  before: Picture,
  after: Picture,
  region: Region,
  stops: number,
  layer = MAIN_LAYER,
): DifferenceMaps | null {
  const pair = cropBoth(before, after, region, layer);
  return pair && { region: pair.part, ...mapsOf(pair, stops) };
}

interface Pair {
  part: Region;
  one: Float32Array[];
  two: Float32Array[];
}

function mapsOf({ part, one, two }: Pair, stops: number): Omit<DifferenceMaps, 'region'> {
  const pixels = part.width * part.height;
  const gain = 2 ** stops;
  const shown = (v: number) => Math.min(1, Math.max(0, v * gain));
  const [labOne, labTwo] = [[0, 0, 0], [0, 0, 0]]; // prettier-ignore
  const [lumaOne, lumaTwo] = [new Float64Array(pixels), new Float64Array(pixels)];
  const deltaE = new Float32Array(pixels);
  for (let i = 0; i < pixels; i++) {
    toLab(shown(one[0][i]), shown(one[1][i]), shown(one[2][i]), labOne);
    toLab(shown(two[0][i]), shown(two[1][i]), shown(two[2][i]), labTwo);
    deltaE[i] = deltaE2000(labOne, labTwo);
    lumaOne[i] = linearToSrgb(shown(luminance(one[0][i], one[1][i], one[2][i])));
    lumaTwo[i] = linearToSrgb(shown(luminance(two[0][i], two[1][i], two[2][i])));
  }
  return { deltaE, similarity: structuralSimilarity(lumaOne, lumaTwo, part.width, part.height) };
}

function mean(values: Float32Array): number {
  let sum = 0;
  for (const v of values) sum += v;
  return sum / values.length;
}

function cropBoth(before: Picture, after: Picture, region: Region, layer: string): Pair | null {
  const placed = atFrame(before, after.displayWindow);
  const shared = intersectRegions(placed.dataWindow, after.dataWindow);
  const part = shared && intersectRegions(shared, region);
  const one = part && crop(placed, part, layer);
  const two = part && crop(after, part, layer);
  return part && one && two ? { part, one, two } : null;
}

function crop(picture: Picture, { x, y, width, height }: Region, layer: string): Float32Array[] | null {
  const channels = ['R', 'G', 'B'].map((c) => findChannel(picture, layer, c)?.data);
  if (channels.some((c) => !c)) return null;
  return channels.map((data) => {
    const out = new Float32Array(width * height);
    for (let row = 0; row < height; row++) {
      const from = (row + y - picture.dataWindow.y) * picture.width + x - picture.dataWindow.x;
      out.set(data!.subarray(from, from + width), row * width);
    }
    return out;
  });
}

/** Pixel by pixel; at the edges the window is cut and weighed anew. Values 0..1. */
export function structuralSimilarity(a: Float64Array, b: Float64Array, width: number, height: number): Float32Array {
  const product = (p: Float64Array, q: Float64Array) => p.map((v, i) => v * q[i]);
  const blurred = [a, b, product(a, a), product(b, b), product(a, b)].map((p) => blur(p, width, height));
  const [ma, mb, aa, bb, ab] = blurred;
  const map = new Float32Array(a.length);
  for (let i = 0; i < a.length; i++) {
    const [va, vb, cov] = [aa[i] - ma[i] ** 2, bb[i] - mb[i] ** 2, ab[i] - ma[i] * mb[i]];
    map[i] = ((2 * ma[i] * mb[i] + C1) * (2 * cov + C2)) / ((ma[i] ** 2 + mb[i] ** 2 + C1) * (va + vb + C2));
  }
  return map;
}

function blur(source: Float64Array, width: number, height: number): Float64Array {
  const half = (WINDOW - 1) / 2;
  const weights = Array.from({ length: WINDOW }, (_, i) => Math.exp(-((i - half) ** 2) / (2 * DEVIATION ** 2)));
  const pass = (from: Float64Array, count: number, step: number, lines: number, lineStep: number) => {
    const out = new Float64Array(from.length);
    for (let line = 0; line < lines; line++)
      for (let i = 0; i < count; i++) {
        let [sum, weight] = [0, 0];
        for (let k = Math.max(0, i - half); k <= Math.min(count - 1, i + half); k++) {
          const w = weights[k - i + half];
          sum += w * from[line * lineStep + k * step];
          weight += w;
        }
        out[line * lineStep + i * step] = sum / weight;
      }
    return out;
  };
  return pass(pass(source, width, 1, height, width), height, width, width, 1);
}
