// What is kept of each pixel. Sums over camera samples, doubles while a chunk is rendered, single precision in transit.
//
// // 0..2 beauty RGB, 3..6 squares of R, G, B and of the luminance
// // 7 + 7c: component c: 3 sums RGB, 4 squares R, G, B, luminance
// // 56..70 light cut off: RGB for each of diffuse, specular, transmission, total limit, clamp
// // 71..73 variance of the mean of the splits (luminance), summed over samples: diffuse, specular, transmission
// // 74 samples, 75 time in ms, 76..80 rays: camera, diffuse, specular, transmission, shadow
// // 81..83 rays that follow a first diffuse, specular, transmission event (shadow rays included)
// // 84 luminance of the brightest sample, 85 its index
// // 86..88 albedo, 89..91 normal, 92 depth, 93 samples that met a surface, 94 object + 1, 95 surface + 1
// // 96..99 rays of the probes beyond the diffuse, specular, transmission, total limit
import type { Region } from '../image/index.ts';

export const COMPONENTS = [
  'directDiffuse',
  'indirectDiffuse',
  'directSpecular',
  'indirectSpecular',
  'transmission',
  'emission',
  'background',
] as const;
export type Component = (typeof COMPONENTS)[number];
export const LIMITS = ['diffuse', 'specular', 'transmission', 'total', 'clamp'] as const;
export type Limit = (typeof LIMITS)[number];
export const RAY_TYPES = ['camera', 'diffuse', 'specular', 'transmission', 'shadow'] as const;
export type RayType = (typeof RAY_TYPES)[number];

export const FILM = {
  beauty: 0,
  component: 7,
  componentStride: 7,
  cut: 56,
  within: 71,
  samples: 74,
  time: 75,
  rays: 76,
  branchRays: 81,
  brightest: 84,
  brightestIndex: 85,
  albedo: 86,
  normal: 89,
  depth: 92,
  surfaceSamples: 93,
  objectId: 94,
  surfaceId: 95,
  probeRays: 96,
  stride: 100,
} as const;

/** Sums for the pixels of one rectangle, row by row, FILM.stride numbers each. */
export interface Film {
  region: Region;
  data: Float64Array | Float32Array;
}

export function emptyFilm(region: Region): Film & { data: Float64Array } {
  return { region, data: new Float64Array(region.width * region.height * FILM.stride) };
}

/**
 * Adds a part to a film that contains its region. Sums depend on the order of merging in their last bits, so callers
 * merge in the order of the chunk plan, whoever rendered the parts.
 */
export function mergeFilm(into: Film, part: Film): void {
  const { stride, brightest, brightestIndex, objectId, surfaceId } = FILM;
  const dx = part.region.x - into.region.x;
  const dy = part.region.y - into.region.y;
  if (dx < 0 || dy < 0 || dx + part.region.width > into.region.width || dy + part.region.height > into.region.height)
    throw new RangeError('the part lies outside the film');
  for (let y = 0; y < part.region.height; y++)
    for (let x = 0; x < part.region.width; x++) {
      const to = ((y + dy) * into.region.width + x + dx) * stride;
      const from = (y * part.region.width + x) * stride;
      for (let k = 0; k < stride; k++) {
        if (k === brightest) {
          if (part.data[from + k] > into.data[to + k]) {
            into.data[to + k] = part.data[from + k];
            into.data[to + brightestIndex] = part.data[from + brightestIndex];
          }
        } else if (k === brightestIndex) continue;
        else if (k === objectId || k === surfaceId) {
          if (into.data[to + k] === 0) into.data[to + k] = part.data[from + k];
        } else into.data[to + k] += part.data[from + k];
      }
    }
}
