// What is kept of each pixel: sums over camera samples, doubles while a chunk is rendered, single precision in transit.
// FILM names the first slot of each part.
import type { Region } from '../image/index.ts';
import { layOutRow } from '../math/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { hitSteps, type FilmExtra } from './filmExtras.ts';
import { hitSlots } from './hitSketch.ts';
import { emptyPathTallies, mergePathTallies, type PathTallies } from './pathTallies.ts';

export const COMPONENTS = [
  'directDiffuse',
  'indirectDiffuse',
  'directSpecular',
  'indirectSpecular',
  'transmission',
  'volume',
  'emission',
  'background',
] as const;
export type Component = (typeof COMPONENTS)[number];
export const LIMITS = ['diffuse', 'specular', 'transmission', 'volume', 'total', 'clamp'] as const;
export type Limit = (typeof LIMITS)[number];
export const RAY_TYPES = ['camera', 'diffuse', 'specular', 'transmission', 'volume', 'shadow'] as const;
export type RayType = (typeof RAY_TYPES)[number];

/** Kinds of events that a camera sample can be split into, in the order of the lobes of a surface; then scattering in a volume. */
export const SPLIT_LOBES = ['diffuse', 'specular', 'transmission', 'volume'] as const;
export type SplitLobe = (typeof SPLIT_LOBES)[number];
/** The first event of the paths of each component, as a place in SPLIT_LOBES; -1: there was none. */
export const FIRST_EVENT = [0, 0, 1, 1, 2, 3, -1, -1];
/** All that is sampled several times for a camera sample: those, and the lights at its first surface. */
export const SPLIT_KINDS = [...SPLIT_LOBES, 'light'] as const;
export type SplitKind = (typeof SPLIT_KINDS)[number];
/** Sizes of the groups of splits that are told apart (splitLevels.ts). */
export const SPLIT_LEVELS = [1, 2, 4] as const;
/** Depth limits, which probes look beyond: all of LIMITS but the clamp. */
export const DEPTH_LIMITS = LIMITS.slice(0, -1) as Exclude<Limit, 'clamp'>[];
/** Light of so many groups is kept apart. */
export const MOST_GROUPS = 8;

/** So many objects, and surfaces, of a pixel are told apart. */
export const MATTE_RANKS = 4;

/** What noise is measured of, by its luminance: the beauty picture, each component, each light group, occlusion. */
export const MEASURED = { beauty: 0, component: 1, group: 1 + COMPONENTS.length, occlusion: 1 + COMPONENTS.length + MOST_GROUPS, all: 2 + COMPONENTS.length + MOST_GROUPS } as const; // prettier-ignore

/** Of a component: three sums RGB, and the squares of its luminance. */
const COMPONENT_STRIDE = 4;
const PARTS = {
  beauty: 7, // sums RGB, and squares of R, G, B, luminance
  component: COMPONENT_STRIDE * COMPONENTS.length,
  cut: 3 * LIMITS.length, // RGB cut off by each limit
  splits: SPLIT_KINDS.length * SPLIT_LEVELS.length, // spread of groups of splits (luminance), summed over samples
  samples: 1,
  time: 1, // ms
  kindTime: SPLIT_LOBES.length, // ms of what follows a first event of each kind, measured on some of the samples
  lightTime: MOST_GROUPS, // ms of asking the lights of each group at the first surface, likewise
  rays: RAY_TYPES.length,
  branchRays: SPLIT_LOBES.length, // rays that follow a first event of each kind, shadow rays included
  probeRays: LIMITS.length - 1, // rays of the probes beyond each depth limit
  deepRays: LIMITS.length - 1, // rays of paths beyond half of each depth limit
  deepLight: LIMITS.length - 1, // luminance that those brought
  early: 2, // luminance of the first quarter of the samples, and its squares
  half: MEASURED.all, // luminance of one half of the samples (measureNoise.ts)
  halfSamples: 1,
  check: MEASURED.all, // luminance of a second set of points, on some of the pixels
  checkSamples: 1,
  brightest: 1, // luminance of the brightest sample
  brightestIndex: 1,
  surfaceSamples: 1, // samples that met a surface
  albedo: 3,
  normal: 3,
  depth: 1,
  position: 3,
  uv: 2,
  occlusion: 2, // and its square
  shadow: 3, // light kept away by shadows
  objects: 2 * MATTE_RANKS, // pairs of number + 1 and samples
  surfaces: 2 * MATTE_RANKS,
  group: 3 * MOST_GROUPS,
  groupSquares: MOST_GROUPS, // of their luminance
  bad: 1, // samples that were not a number
  badIndex: 1, // the first of them + 1
} as const;

/**
 * Beside them, for each of the groups of samples that tell outliers (trimOutliers.ts): light RGB but for what the camera
 * sees itself, and samples.
 */
export const OUTLIER_GROUP = 4;

/** Samples that stand for the first quarter of them; 0 where they are too few to tell a variance. */
export const earlySamples = (pixelSamples: number) => (pixelSamples < 8 ? 0 : Math.max(4, pixelSamples >> 2));

/** First slot of each part of a pixel, and their number. */
export const FILM = { ...layOutRow(PARTS), componentStride: COMPONENT_STRIDE };

/** Slots that are added up, from and to; the others are merged by what they mean. */
const SUMS = [
  [0, FILM.brightest],
  [FILM.brightestIndex + 1, FILM.objects],
  [FILM.group, FILM.badIndex],
];

/** First slot of a pixel's hit distances: they stand behind the groups that tell outliers. */
export const hitsSlot = ({ outlierGroups }: Pick<RenderSettings, 'outlierGroups'>) =>
  FILM.stride + OUTLIER_GROUP * outlierGroups;

/** Numbers of a pixel in a render with these settings: what is asked for beside the parts of FILM stands behind those. */
export function filmStride(settings: Pick<RenderSettings, 'outlierGroups'>, extras: readonly FilmExtra[]): number {
  const steps = hitSteps(extras);
  return hitsSlot(settings) + (steps ? hitSlots(steps) : 0);
}

/** Sums for the pixels of one rectangle, row by row, `stride` numbers each. */
export interface Film {
  region: Region;
  data: Float64Array | Float32Array;
  stride: number;
  /** Where the render was asked for them. */
  paths?: PathTallies;
}

export function emptyFilm(region: Region, stride: number = FILM.stride): Film & { data: Float64Array } {
  return { region, stride, data: new Float64Array(region.width * region.height * stride) };
}

/** An empty film for a region that is no larger, in the memory of one that is not needed any more. */
export function reuseFilm(
  { data, stride }: ReturnType<typeof emptyFilm>,
  region: Region,
): ReturnType<typeof emptyFilm> {
  const own = data.subarray(0, region.width * region.height * stride).fill(0);
  return { region, stride, data: own };
}

/**
 * Adds a part to a film that contains its region. Sums depend on the order of merging in their last bits, so callers
 * merge in the order of the chunk plan, whoever rendered the parts.
 */
export function mergeFilm(into: Film, part: Film): void {
  const { brightest, brightestIndex, objects, surfaces, badIndex } = FILM;
  const { stride } = into;
  if (part.stride !== stride) throw new RangeError('the part holds other numbers than the film');
  const dx = part.region.x - into.region.x;
  const dy = part.region.y - into.region.y;
  if (dx < 0 || dy < 0 || dx + part.region.width > into.region.width || dy + part.region.height > into.region.height)
    throw new RangeError('the part lies outside the film');
  if (part.paths) mergePathTallies((into.paths ??= emptyPathTallies()), part.paths);
  for (let y = 0; y < part.region.height; y++)
    for (let x = 0; x < part.region.width; x++) {
      const to = ((y + dy) * into.region.width + x + dx) * stride;
      const from = (y * part.region.width + x) * stride;
      for (let k = FILM.stride; k < stride; k++) into.data[to + k] += part.data[from + k];
      for (const [first, end] of SUMS) for (let k = first; k < end; k++) into.data[to + k] += part.data[from + k];
      if (part.data[from + brightest] > into.data[to + brightest]) {
        into.data[to + brightest] = part.data[from + brightest];
        into.data[to + brightestIndex] = part.data[from + brightestIndex];
      }
      if (into.data[to + badIndex] === 0) into.data[to + badIndex] = part.data[from + badIndex];
      for (const slot of [objects, surfaces])
        for (let k = slot; k < slot + 2 * MATTE_RANKS; k += 2)
          if (part.data[from + k] > 0) countId(into.data, to + slot, part.data[from + k], part.data[from + k + 1]);
    }
}

/** Adds samples of an id to the pairs of id and count that begin at a slot; ids that find no free pair are left out. */
export function countId(data: Film['data'], slot: number, id: number, count: number): void {
  for (let k = slot; k < slot + 2 * MATTE_RANKS; k += 2) {
    if (data[k] === id) {
      data[k + 1] += count;
      return;
    }
    if (data[k] !== 0) continue;
    data[k] = id;
    data[k + 1] = count;
    return;
  }
}
