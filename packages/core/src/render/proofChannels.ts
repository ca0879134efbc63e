// The channels of a proof, for a band of its film.
//
// Beauty is single precision; components and all that lies near or below the noise are halves. Variances are kept as the
// standard error of the mean: a variance of 1e-8 would vanish in a half, its root does not. "error" is what was measured
// (measureNoise.ts), "spread" what independent samples would tell of the same, s / sqrt(n), "halves" what two halves would.
import { splitChannelName, type Channel } from '../image/index.ts';
import { idOfName } from '../formats/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import {
  COMPONENTS,
  DEPTH_LIMITS,
  earlySamples,
  FILM,
  hitsSlot,
  LIMITS,
  MATTE_RANKS,
  MEASURED,
  MOST_GROUPS,
  RAY_TYPES,
  SPLIT_KINDS,
  SPLIT_LOBES,
  type Film,
} from './film.ts';
import { HIT_RINGS, hitChannel, HITS, stoppedShares } from './hitSketch.ts';
import { largestId } from './largestId.ts';
import type { PooledNoise } from './measureNoise.ts';
import type { FilmNames } from './filmNames.ts';
import { splitShare } from './splitShare.ts';

/** A slot of the film, divided by another one; by 1 where that is -1. Read in a loop of their own, these take a third of a call each. */
export interface Sum {
  slot: number;
  over: number;
}

export interface ProofChannel {
  name: string;
  type: Channel['type'];
  /** What it holds of a pixel: a sum of it, or by its first slot, its samples and its number in the band. */
  value: Sum | ((at: number, samples: number, pixel: number) => number);
  /** One of MEASURED: the values are to be multiplied with the root of its factor. */
  scaledBy?: number;
}

/** So many samples of a pixel send fewer rays, and take fewer milliseconds, than the largest half float. */
const HALF_SAMPLES = 128;

/** Dots part layers from channels in the names of OpenEXR. */
export const channelSafe = (name: string): string => name.replace(/[^A-Za-z0-9_-]+/g, '-');

/** What noise is measured of in a render with these groups and settings, with the names of the layers. */
export function measuredLayers(
  { groups }: FilmNames,
  { occlusion }: RenderSettings,
): [layer: string, measured: number][] {
  return [
    ['', MEASURED.beauty],
    ...COMPONENTS.map((name, c): [string, number] => [name, MEASURED.component + c]),
    ...(occlusion.samples > 0 ? [['occlusion', MEASURED.occlusion] as [string, number]] : []),
    ...(groups.length > 1 ? groups.map((name, i): [string, number] => [`group.${channelSafe(name)}`, MEASURED.group + i]) : []), // prettier-ignore
  ];
}

/**
 * @param noise of the band, by what it was measured of; of the beauty at least
 * @param keeps whether a layer is wanted
 */
export function proofChannels(
  film: Film,
  settings: RenderSettings,
  names: FilmNames,
  noise: Map<number, PooledNoise>,
  keeps: (layer: string) => boolean,
): ProofChannel[] {
  const { data } = film;
  const { groups } = names;
  // counts of few samples fit a half float, to a part in two thousand
  const counted = settings.pixelSamples <= HALF_SAMPLES ? 'half' : 'float';
  const channels: ProofChannel[] = [];
  const put = (name: string, type: Channel['type'], value: ProofChannel['value'], scaledBy?: number) => {
    if (keeps(splitChannelName(name).layer)) channels.push({ name, type, value, scaledBy });
  };
  const mean = (name: string, type: Channel['type'], slot: number) => put(name, type, { slot, over: FILM.samples });
  const total = (name: string, type: Channel['type'], slot: number) => put(name, type, { slot, over: -1 });
  const mean3 = (layer: string, type: Channel['type'], slot: number) =>
    [...'RGB'].forEach((c, k) => mean(layer ? `${layer}.${c}` : c, type, slot + k));
  mean3('', 'float', FILM.beauty);
  const beauty = noise.get(MEASURED.beauty)!;
  // colours are as even as their luminance
  [...'RGB'].forEach((c, k) =>
    put(
      `error.${c}`,
      'half',
      (at, n, i) =>
        beauty.classical[i] > 0
          ? standardError(data[at + FILM.beauty + k], data[at + FILM.beauty + 3 + k], n) *
            Math.sqrt(beauty.variance[i] / beauty.classical[i])
          : 0,
      MEASURED.beauty,
    ),
  );
  put('spread.Y', 'half', (_at, _n, i) => Math.sqrt(beauty.classical[i]));
  put('halves.Y', 'half', (_at, _n, i) => Math.sqrt(beauty.halves[i]));
  for (const [layer, measured] of measuredLayers(names, settings)) {
    const found = noise.get(measured);
    if (found) put(layer ? `error.${layer}.Y` : 'error.Y', 'half', (_at, _n, i) => Math.sqrt(found.variance[i]), measured); // prettier-ignore
  }
  COMPONENTS.forEach((name, c) => mean3(name, 'half', FILM.component + c * FILM.componentStride));
  LIMITS.forEach((name, i) => mean3(`cut.${name}`, 'half', FILM.cut + i * 3));
  SPLIT_LOBES.forEach((name, i) => total(`branchRays.${name}`, counted, FILM.branchRays + i));
  // the part of "spread" that splits bring; of single ones it is not known
  SPLIT_KINDS.forEach((kind, i) => {
    const count = settings[`${kind}Samples`];
    if (count < 2 || !keeps('splits')) return;
    const share = splitShare(film, i, count);
    put(`splits.${kind}`, 'half', (_at, _n, pixel) => Math.sqrt(share[pixel]));
  });
  total('samples.N', counted, FILM.samples);
  total('time.ms', counted, FILM.time);
  SPLIT_LOBES.forEach((name, i) => total(`kindTime.${name}`, 'half', FILM.kindTime + i));
  put('kindTime.light', 'half', (at) => {
    let sum = 0;
    for (let k = 0; k < MOST_GROUPS; k++) sum += data[at + FILM.lightTime + k];
    return sum;
  });
  RAY_TYPES.forEach((name, i) => total(`rays.${name}`, counted, FILM.rays + i));
  DEPTH_LIMITS.forEach((name, i) => total(`probeRays.${name}`, counted, FILM.probeRays + i));
  // what the first quarter of the samples would have said
  const early = settings.adaptive.limit > 0 ? 0 : earlySamples(settings.pixelSamples);
  if (early > 0) {
    put('early.mean', 'half', (at) => data[at + FILM.early] / early);
    put('early.error', 'half', (at) => standardError(data[at + FILM.early], data[at + FILM.early + 1], early));
  }
  total('brightest.Y', 'half', FILM.brightest);
  total('brightest.sample', 'uint', FILM.brightestIndex);
  mean3('albedo', 'half', FILM.albedo);
  const surfaceMean = (slot: number): Sum => ({ slot, over: FILM.surfaceSamples });
  [...'XYZ'].forEach((c, k) => put(`normal.${c}`, 'half', surfaceMean(FILM.normal + k)));
  [...'XYZ'].forEach((c, k) => put(`position.${c}`, 'float', surfaceMean(FILM.position + k)));
  [...'UV'].forEach((c, k) => put(`uv.${c}`, 'half', surfaceMean(FILM.uv + k)));
  if (settings.occlusion.samples > 0) put('occlusion.Y', 'half', surfaceMean(FILM.occlusion));
  mean3('shadow', 'half', FILM.shadow);
  if (settings.outlierGroups > 0) mean3('outliers', 'half', FILM.stride);
  if (groups.length > 1) groups.forEach((name, i) => mean3(`group.${channelSafe(name)}`, 'half', FILM.group + i * 3));
  put('depth.Z', 'float', (at) => data[at + FILM.depth] / (data[at + FILM.surfaceSamples] || 1) || Infinity);
  put('object.id', 'uint', (at) => largestId(data, at + FILM.objects));
  put('surface.id', 'uint', (at) => largestId(data, at + FILM.surfaces));
  if (keeps(HITS)) channels.push(...hitChannels(film, settings));
  if (keeps('objects00')) channels.push(...matteChannels(film, 'objects', names.objects, FILM.objects));
  if (keeps('surfaces00')) channels.push(...matteChannels(film, 'surfaces', names.surfaces, FILM.surfaces));
  return channels;
}

/** Shares of the occlusion rays of each cone that met something before each step of distance. */
function hitChannels(film: Film, settings: RenderSettings): ProofChannel[] {
  const slot = hitsSlot(settings);
  const steps = (film.stride - slot) / HIT_RINGS - 1;
  if (steps < 0) return [];
  const shares = stoppedShares(film, slot, steps);
  const each = HIT_RINGS * steps;
  return Array.from({ length: each }, (_, k) => ({ name: `${HITS}.${hitChannel(Math.floor(k / steps), k % steps)}`, type: 'half', value: (_at, _n, i) => shares[i * each + k] })); // prettier-ignore
}

/** What covers each pixel, the largest share first (formats/idMattes.ts). @param slot first pair of id and samples */
function matteChannels({ data, region, stride }: Film, of: string, names: string[], slot: number): ProofChannel[] {
  const ids = names.map(idOfName);
  const pixels = region.width * region.height;
  // place of the pair that stands at each rank, MATTE_RANKS for each pixel
  const order = new Uint8Array(pixels * MATTE_RANKS);
  for (let i = 0; i < pixels; i++) {
    const at = i * stride + slot + 1;
    // put in one by one: few of them are used
    for (let k = 0; k < MATTE_RANKS; k++) {
      let rank = i * MATTE_RANKS + k;
      for (; rank > i * MATTE_RANKS && data[at + order[rank - 1] * 2] < data[at + k * 2]; rank--)
        order[rank] = order[rank - 1];
      order[rank] = k;
    }
  }
  return Array.from({ length: MATTE_RANKS }, (_, rank) => {
    const layer = `${of}${String(rank >> 1).padStart(2, '0')}`;
    const [first, second] = rank & 1 ? 'BA' : 'RG';
    const pairOf = (at: number, i: number) => at + slot + order[i * MATTE_RANKS + rank] * 2;
    const id: ProofChannel = { name: `${layer}.${first}`, type: 'float', value: (at, _n, i) => ids[data[pairOf(at, i)] - 1] ?? 0 }; // prettier-ignore
    const share: ProofChannel = { name: `${layer}.${second}`, type: 'half', value: (at, n, i) => data[pairOf(at, i) + 1] / n }; // prettier-ignore
    return [id, share];
  }).flat();
}

/** Standard error of the mean of n values from their sum and the sum of their squares; 0 where n is 1. */
export function standardError(sum: number, squares: number, n: number): number {
  return n > 1 ? Math.sqrt(Math.max(0, squares - (sum * sum) / n) / (n * (n - 1))) : 0;
}
