import {
  noiseInterval,
  type NoiseInterval,
  visibleNoise,
  VISIBLE_NOISE_DEFAULTS,
  type Region,
} from '../image/index.ts';
import { lightness, luminance } from '../color/index.ts';
import { DEPTH_LIMITS, FILM, LIMITS, MEASURED, MOST_GROUPS, RAY_TYPES, SPLIT_KINDS, SPLIT_LOBES, type Film, type Limit, type RayType, type SplitKind } from './film.ts'; // prettier-ignore
import { bandOf, bandsOf } from './bands.ts';
import { CheckedPixels, eachStretch, type NoiseCheck, type NoiseFactors } from './checkedPixels.ts';
import { poolNoise, varianceDoubt, type PooledNoise } from './measureNoise.ts';
import { noiseCells } from './noiseCells.ts';
import { emptyPathTallies, mergePathTallies, pathCounts, type PathCounts, type PathTallies } from './pathTallies.ts';

export interface RenderStatistics {
  pixels: number;
  /** Camera samples in all. */
  samples: number;
  rays: Record<RayType, number>;
  /** Noise of the whole region in L* at the shadow check. */
  noise: number;
  /** Four in five such renders would measure between these. */
  noiseRange: NoiseInterval;
  /** What the pixels that were rendered twice say of it. */
  noiseCheck: NoiseCheck;
  /** Mean luminance of the picture, and of what each limit cut off from it. */
  meanLuminance: number;
  cutOff: Record<Limit, number>;
  /** Sum of the times of all pixels over all workers, seconds. */
  pixelSeconds: number;
  /** The same by what it went to: the lights at the first surface, what follows a first event of each kind, the rest. */
  kindSeconds: Record<SplitKind | 'camera', number>;
  /** That of the lights, for each light group in the order of the shot. */
  lightSeconds: number[];
  /** Paths beyond half of each depth limit: their rays, and what they bring to the tile where it is seen most, in L*. */
  deep: Record<(typeof DEPTH_LIMITS)[number], { rays: number; brings: number }>;
  brightest: { luminance: number; x: number; y: number; sample: number };
  /** Samples that were not a number and were left black, and the first pixels where that happened. */
  badSamples: number;
  badAt: { x: number; y: number; sample: number }[];
  /** Where the render kept account of its paths. */
  paths?: PathCounts;
  /** Where they were counted. */
  fireflies?: FireflyCount;
}

export interface FireflyCount {
  count: number;
  /** The one that stands out most. */
  worst: { x: number; y: number } | null;
}

/** So many pixels with samples that were not a number are named. */
const MOST_NAMED = 20;

/** Of all types. What a render takes, where the clock of a busy machine would tell something else each time. */
export const raysIn = ({ rays }: Pick<RenderStatistics, 'rays'>) => Object.values(rays).reduce((sum, n) => sum + n, 0);

/** Totals of a film that is whole. */
export function filmStatistics(film: Film, stops: number): RenderStatistics {
  const builder = new StatisticsBuilder(film.region, stops);
  const checked = new CheckedPixels();
  for (const region of bandsOf(film.region)) {
    const band = bandOf(film, region);
    builder.addBand(band, poolNoise(band, MEASURED.beauty, noiseCells(band), checked));
  }
  if (film.paths) builder.addPaths(film.paths);
  return builder.finish(checked.factors());
}

/** Totals of a film that comes in bands. */
export class StatisticsBuilder {
  private readonly luminances: Float32Array;
  private readonly variances: Float32Array;
  /** By how much each of them may be off, before the check (varianceDoubt). */
  private readonly doubts: Float32Array;
  private readonly paths = emptyPathTallies();
  private hasPaths = false;
  private readonly totals: RenderStatistics;

  constructor(
    private readonly region: Region,
    private readonly stops: number,
  ) {
    const pixels = region.width * region.height;
    this.luminances = new Float32Array(pixels);
    this.variances = new Float32Array(pixels);
    this.doubts = new Float32Array(pixels);
    this.totals = {
      pixels,
      samples: 0,
      rays: { camera: 0, diffuse: 0, specular: 0, transmission: 0, volume: 0, shadow: 0 },
      noise: 0,
      noiseRange: { low: 0, high: 0 },
      noiseCheck: { pixels: 0, factor: 1, spread: null, doubt: 0 },
      meanLuminance: 0,
      cutOff: { diffuse: 0, specular: 0, transmission: 0, volume: 0, total: 0, clamp: 0 },
      pixelSeconds: 0,
      kindSeconds: { camera: 0, light: 0, diffuse: 0, specular: 0, transmission: 0, volume: 0 },
      lightSeconds: new Array<number>(MOST_GROUPS).fill(0),
      deep: Object.fromEntries(DEPTH_LIMITS.map((limit) => [limit, { rays: 0, brings: 0 }])) as RenderStatistics['deep'], // prettier-ignore
      brightest: { luminance: 0, x: region.x, y: region.y, sample: 0 },
      badSamples: 0,
      badAt: [],
    };
  }

  addPaths(paths: PathTallies): void {
    mergePathTallies(this.paths, paths);
    this.hasPaths = true;
  }

  addBand(band: Film, noise: PooledNoise): void {
    const { data, region, stride } = band;
    const { totals } = this;
    const start = (region.y - this.region.y) * this.region.width;
    const { pixels } = totals;
    for (let i = 0; i < region.width * region.height; i++) {
      const at = i * stride;
      const n = data[at + FILM.samples] || 1;
      const mean = luminanceAt(data, at + FILM.beauty) / n;
      this.luminances[start + i] = mean;
      this.variances[start + i] = noise.variance[i];
      this.doubts[start + i] = varianceDoubt(data[at + FILM.brightest], mean, noise.classical[i], noise.variance[i], n);
      totals.samples += data[at + FILM.samples];
      totals.badSamples += data[at + FILM.bad];
      if (data[at + FILM.badIndex] > 0 && totals.badAt.length < MOST_NAMED)
        totals.badAt.push({ ...pixelAt(i, region), sample: data[at + FILM.badIndex] - 1 });
      totals.meanLuminance += mean / pixels;
      totals.pixelSeconds += data[at + FILM.time] / 1000;
      SPLIT_LOBES.forEach((lobe, k) => (totals.kindSeconds[lobe] += data[at + FILM.kindTime + k] / 1000));
      for (let k = 0; k < MOST_GROUPS; k++) totals.lightSeconds[k] += data[at + FILM.lightTime + k] / 1000;
      DEPTH_LIMITS.forEach((limit, k) => (totals.deep[limit].rays += data[at + FILM.deepRays + k]));
      RAY_TYPES.forEach((type, k) => (totals.rays[type] += data[at + FILM.rays + k]));
      LIMITS.forEach((limit, k) => (totals.cutOff[limit] += luminanceAt(data, at + FILM.cut + k * 3) / n / pixels));
      if (data[at + FILM.brightest] > totals.brightest.luminance)
        totals.brightest = { luminance: data[at + FILM.brightest], ...pixelAt(i, region), sample: data[at + FILM.brightestIndex] }; // prettier-ignore
    }
    DEPTH_LIMITS.forEach((limit, k) => (totals.deep[limit].brings = Math.max(totals.deep[limit].brings, mostSeen(band, FILM.deepLight + k, this.stops)))); // prettier-ignore
  }

  /** @param found what the pixels that were rendered twice say of the beauty picture */
  finish(found: NoiseFactors): RenderStatistics {
    const { doubts, luminances, region, stops, totals, variances } = this;
    const { kindSeconds, lightSeconds } = totals;
    kindSeconds.light = lightSeconds.reduce((sum, s) => sum + s, 0);
    kindSeconds.camera = Math.max(0, totals.pixelSeconds - SPLIT_KINDS.reduce((sum, kind) => sum + kindSeconds[kind], 0)); // prettier-ignore
    eachStretch(found, region, 0, (kind, first, end) => {
      const factor = found.factors[kind];
      for (let i = first; i < end; i++) {
        variances[i] *= factor;
        doubts[i] *= factor ** 2;
      }
    });
    const local: Region = { x: 0, y: 0, width: region.width, height: region.height };
    totals.noiseCheck = found.check;
    totals.noise = visibleNoise(luminances, variances, region.width, local, { stops });
    totals.noiseRange = noiseInterval(luminances, variances, doubts, region, stops, found.check.doubt);
    if (this.hasPaths) totals.paths = pathCounts(this.paths);
    return totals;
  }
}

/** By how much the tile that would change most grows darker without the luminance in a slot, in L* at the shadow check. */
function mostSeen({ data, region, stride }: Film, slot: number, stops: number): number {
  const { tile } = VISIBLE_NOISE_DEFAULTS;
  const { width, height } = region;
  const gain = 2 ** stops;
  let most = 0;
  for (let y = 0; y < height; y += tile)
    for (let x = 0; x < width; x += tile) {
      let [whole, part, count] = [0, 0, 0];
      for (let py = y; py < Math.min(height, y + tile); py++)
        for (let px = x; px < Math.min(width, x + tile); px++) {
          const at = (py * width + px) * stride;
          const n = data[at + FILM.samples] || 1;
          whole += luminanceAt(data, at + FILM.beauty) / n;
          part += data[at + slot] / n;
          count++;
        }
      most = Math.max(most, lightness((gain * whole) / count) - lightness((gain * (whole - part)) / count));
    }
  return most;
}

/** Share of the light that a limit cuts off, 0..1: of what there would be without it. */
export function cutShare(
  { cutOff, meanLuminance }: Pick<RenderStatistics, 'cutOff' | 'meanLuminance'>,
  limit: Limit,
): number {
  return cutOff[limit] > 0 ? cutOff[limit] / (meanLuminance + cutOff[limit]) : 0;
}

/** What the pixels that were rendered twice say of the noise, in a sentence. */
export function noiseCheckNote({ noiseCheck: { factor, pixels, spread } }: RenderStatistics): string {
  if (spread === null)
    return 'No pixel was rendered twice: the noise is estimated from the halves of the samples alone.';
  const off = Math.sqrt(factor);
  return `${pixels} pixels were rendered twice: the estimate from the halves of the samples is corrected by a factor of ${off.toFixed(2)} (known to ${Math.round(50 * spread)} %).`;
}

function pixelAt(i: number, { x, y, width }: Region): { x: number; y: number } {
  return { x: x + (i % width), y: y + Math.floor(i / width) };
}

function luminanceAt(data: Film['data'], at: number): number {
  return luminance(data[at], data[at + 1], data[at + 2]);
}
