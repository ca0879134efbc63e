import { visibleNoise, type Region } from '../image/index.ts';
import { luminance } from '../color/index.ts';
import { FILM, LIMITS, RAY_TYPES, type Film, type Limit, type RayType } from './film.ts';
import { standardError } from './proofPicture.ts';

export interface RenderStatistics {
  pixels: number;
  /** Camera samples in all. */
  samples: number;
  rays: Record<RayType, number>;
  /** Noise of the whole region in L* at the shadow check. */
  noise: number;
  /** Mean luminance of the picture, and of what each limit cut off from it. */
  meanLuminance: number;
  cutOff: Record<Limit, number>;
  /** Sum of the times of all pixels over all workers, seconds. */
  pixelSeconds: number;
  brightest: { luminance: number; x: number; y: number; sample: number };
  /** Samples that were not a number and were left black, and the first pixels where that happened. */
  badSamples: number;
  badAt: { x: number; y: number; sample: number }[];
}

/** So many pixels with samples that were not a number are named. */
const MOST_NAMED = 20;

/** Totals of a merged film. */
export function filmStatistics(film: Film, stops: number): RenderStatistics {
  const { data, region } = film;
  const pixels = region.width * region.height;
  const luminances = new Float64Array(pixels);
  const variances = new Float64Array(pixels);
  const totals: RenderStatistics = {
    pixels,
    samples: 0,
    rays: { camera: 0, diffuse: 0, specular: 0, transmission: 0, volume: 0, shadow: 0 },
    noise: 0,
    meanLuminance: 0,
    cutOff: { diffuse: 0, specular: 0, transmission: 0, volume: 0, total: 0, clamp: 0 },
    pixelSeconds: 0,
    brightest: { luminance: 0, x: region.x, y: region.y, sample: 0 },
    badSamples: 0,
    badAt: [],
  };
  for (let i = 0; i < pixels; i++) {
    const at = i * FILM.stride;
    const n = data[at + FILM.samples] || 1;
    const sum = luminanceAt(data, at + FILM.beauty);
    luminances[i] = sum / n;
    variances[i] = standardError(sum, data[at + FILM.beauty + 6], n) ** 2;
    totals.samples += data[at + FILM.samples];
    totals.badSamples += data[at + FILM.bad];
    if (data[at + FILM.badIndex] > 0 && totals.badAt.length < MOST_NAMED)
      totals.badAt.push({ ...pixelAt(i, region), sample: data[at + FILM.badIndex] - 1 });
    totals.meanLuminance += luminances[i] / pixels;
    totals.pixelSeconds += data[at + FILM.time] / 1000;
    RAY_TYPES.forEach((type, k) => (totals.rays[type] += data[at + FILM.rays + k]));
    LIMITS.forEach((limit, k) => (totals.cutOff[limit] += luminanceAt(data, at + FILM.cut + k * 3) / n / pixels));
    if (data[at + FILM.brightest] > totals.brightest.luminance)
      totals.brightest = {
        luminance: data[at + FILM.brightest],
        ...pixelAt(i, region),
        sample: data[at + FILM.brightestIndex],
      };
  }
  const local: Region = { x: 0, y: 0, width: region.width, height: region.height };
  totals.noise = visibleNoise(luminances, variances, region.width, local, { stops });
  return totals;
}

/** A sentence about samples that were not a number and where they were, or none. */
export function badSamplesNote({ badSamples, badAt }: RenderStatistics): string[] {
  if (badSamples === 0) return [];
  const places = badAt.slice(0, 5).map(({ x, y, sample }) => `(${x}, ${y}) sample ${sample}`);
  const more = badAt.length > places.length ? ', …' : '';
  return [`${badSamples} samples were not a number and were left black, first at pixel ${places.join(', ')}${more}`];
}

function pixelAt(i: number, { x, y, width }: Region): { x: number; y: number } {
  return { x: x + (i % width), y: y + Math.floor(i / width) };
}

function luminanceAt(data: Film['data'], at: number): number {
  return luminance(data[at], data[at + 1], data[at + 2]);
}
