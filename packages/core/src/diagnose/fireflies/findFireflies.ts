// Single pixels that are far too bright by chance.
//
// A pixel is a candidate where its luminance stands out from its surroundings: the median and the median absolute deviation
// of the logarithm over the pixels of the same object about as far away (Rousseeuw & Croux 1993 for the deviation; the
// logarithm, since noise of light grows with it). Stars, thin lines and texels stand out as well. They differ in
// how many samples carry the excess: the squared ratio of the excess to the standard error of independent samples is
// k (n - 1) / (n - k) where k of n samples carry it alike. A highlight is seen by many of them, a firefly by one or two.
// Light that the camera sees itself (emission, background) is no light by chance and is taken off before.
//
// Without such layers, a highlight of a single pixel looks like a firefly: only what is bright with its neighbours is left
// out, and the findings say so.
import { lightness } from '../../color/index.ts';
import { cropPlane, findChannel, type Picture, type Region } from '../../image/index.ts';
import { layerLuminance } from '../../render/index.ts';
import { FIREFLY_DEFAULTS, type FireflyOptions } from './fireflyDefaults.ts';

export interface Firefly {
  /** Of the frame, pixels. */
  x: number;
  y: number;
  luminance: number;
  /** Median luminance of its surroundings. */
  around: number;
  /** Luminance from which on it counts as one. */
  limit: number;
  /** Samples that carry its excess, about; null where the picture does not say. */
  carriers: number | null;
  /** Luminance of its brightest sample, and which one it is; null where the picture does not say. */
  sample: { luminance: number; index: number } | null;
  /** Samples of the pixel; 0 where the picture does not say. */
  samples: number;
}

/** Whether a picture says how samples are spread, so that highlights can be kept apart from fireflies. */
export const saysSamples = (picture: Picture) =>
  ['spread', 'brightest'].every((layer) => findChannel(picture, layer, 'Y'));

/** @param region within the picture's data window @returns the brightest over its surroundings first */
export function findFireflies(picture: Picture, region: Region, options: FireflyOptions = FIREFLY_DEFAULTS): Firefly[] {
  const { height, width } = region;
  const plane = (layer: string, channel: string) => {
    const found = findChannel(picture, layer, channel);
    return found && cropPlane(picture, found.data, region);
  };
  const crop = (layer: string) => {
    const found = layerLuminance(picture, layer);
    return found && cropPlane(picture, found, region);
  };
  const all = crop('beauty')!;
  const seen = [crop('emission'), crop('background')];
  const [spread, brightest, index, samples] = [plane('spread', 'Y'), plane('brightest', 'Y'), plane('brightest', 'sample'), plane('samples', 'N')]; // prettier-ignore
  const guides: Guides = {
    object: plane('object', 'id'),
    depth: plane('depth', 'Z'),
    normal: ['X', 'Y', 'Z'].map((c) => plane('normal', c)),
  };
  const around = new Surroundings(all, width, height, guides, options);
  const found: Firefly[] = [];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const own = all[i] - (seen[0]?.[i] ?? 0) - (seen[1]?.[i] ?? 0);
      if (!around.standsOut(x, y, own / options.times)) continue;
      around.look(x, y);
      const { median, deviation } = around;
      const limit = Math.max(median * Math.max(options.times, Math.exp(options.deviations * deviation)), brighterBy(median, options.visible)); // prettier-ignore
      if (!(own > limit)) continue;
      const error = spread?.[i] ?? 0;
      const carriers = spread ? (error > 0 ? ((own - median) / error) ** 2 : Infinity) : null;
      if (carriers !== null && carriers >= options.carriers) continue;
      if (carriers === null && around.isShared(x, y, own)) continue;
      found.push({
        x: region.x + x,
        y: region.y + y,
        luminance: all[i],
        around: median,
        limit,
        carriers,
        sample: brightest && index ? { luminance: brightest[i], index: index[i] } : null,
        samples: samples?.[i] ?? 0,
      });
    }
  return found.sort(brightestFirst);
}

/** Over their surroundings. */
export const brightestFirst = (a: Firefly, b: Firefly): number => b.luminance - b.around - (a.luminance - a.around);

/** Luminance that is lighter than another by so many L* (CIE 15, the other way round); white where that is not seen any more. */
function brighterBy(luminance: number, lightnesses: number): number {
  const wanted = lightness(luminance) + lightnesses;
  return wanted >= 100 ? Math.max(1, luminance) : wanted > 8 ? ((wanted + 16) / 116) ** 3 : (wanted * 27) / 24389;
}

interface Guides {
  object?: Float32Array;
  depth?: Float32Array;
  normal: (Float32Array | undefined)[];
}

/** Median and deviation of the surroundings of single pixels. */
class Surroundings {
  median = 0;
  /** Robust standard deviation of the logarithm: 1.4826 times the median absolute deviation. */
  deviation = 0;
  private readonly like: Float64Array;
  private readonly others: Float64Array;

  constructor(
    private readonly luminance: Float32Array,
    private readonly width: number,
    private readonly height: number,
    private readonly guides: Guides,
    private readonly options: FireflyOptions,
  ) {
    const side = 2 * options.reach + 1;
    this.like = new Float64Array(side * side);
    this.others = new Float64Array(side * side);
  }

  /** Whether most of the eight neighbours are below a luminance: cheap, and enough to pass over most pixels. */
  standsOut(x: number, y: number, from: number): boolean {
    if (!(from > 0)) return false;
    const { height, luminance, width } = this;
    let [below, all] = [0, 0];
    for (let py = Math.max(0, y - 1); py <= Math.min(height - 1, y + 1); py++)
      for (let px = Math.max(0, x - 1); px <= Math.min(width - 1, x + 1); px++) {
        all++;
        if (luminance[py * width + px] < from) below++;
      }
    // the pixel itself is never below; of eight neighbours four may be as bright
    return 2 * below >= all - 1;
  }

  look(x: number, y: number): void {
    const { height, like, luminance, options, others, width } = this;
    const { least, reach } = options;
    const at = y * width + x;
    let alike = 0;
    let all = 0;
    for (let py = Math.max(0, y - reach); py <= Math.min(height - 1, y + reach); py++)
      for (let px = Math.max(0, x - reach); px <= Math.min(width - 1, x + reach); px++) {
        const i = py * width + px;
        if (i === at) continue;
        others[all++] = luminance[i];
        if (this.isAlike(at, i)) like[alike++] = luminance[i];
      }
    const values = alike >= least ? like.subarray(0, alike) : others.subarray(0, all);
    values.sort();
    this.median = middle(values);
    const from = Math.log(Math.max(this.median, 1e-12));
    for (let k = 0; k < values.length; k++) values[k] = Math.abs(Math.log(Math.max(values[k], 1e-12)) - from);
    values.sort();
    this.deviation = Math.max(options.leastSpread, 1.4826 * middle(values));
  }

  private isAlike(a: number, b: number): boolean {
    const { depth, normal, object } = this.guides;
    const { depthStep, normalStep } = this.options;
    if (object && object[a] !== object[b]) return false;
    if (depth && Math.abs(depth[a] - depth[b]) > depthStep * Math.min(depth[a], depth[b])) return false;
    const [nx, ny, nz] = normal;
    return !(nx && ny && nz) || nx[a] * nx[b] + ny[a] * ny[b] + nz[a] * nz[b] >= normalStep;
  }

  /** Whether a neighbour shares the light of a pixel, as with a line or a disc. */
  isShared(x: number, y: number, own: number): boolean {
    const { height, luminance, median, width } = this;
    for (let py = Math.max(0, y - 1); py <= Math.min(height - 1, y + 1); py++)
      for (let px = Math.max(0, x - 1); px <= Math.min(width - 1, x + 1); px++)
        if ((px !== x || py !== y) && luminance[py * width + px] > median + (own - median) / 4) return true;
    return false;
  }
}

const middle = (sorted: Float64Array) => (sorted.length === 0 ? 0 : sorted[sorted.length >> 1]);
