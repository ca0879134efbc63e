// A finished film as layers of a picture, and back to what a diagnosis reads.
//
// Beauty and the components are single precision, so that their sum holds. Variances are kept as the standard error of
// the mean, in half precision: a variance of 1e-8 would vanish in a half, its root does not. "error" is what was measured
// (measureNoise.ts), "spread" what independent samples would tell of the same, s / sqrt(n), "halves" what two halves would.
import { luminance } from '../color/index.ts';
import { findChannel, type Channel, type Picture } from '../image/index.ts';
import { makeIdMattes, packIdMattes, type IdMattes } from '../formats/index.ts';
import type { RenderSettings, ShotDocument } from '../scene/index.ts';
import { lightGroups } from './compileLights.ts';
import {
  COMPONENTS,
  DEPTH_LIMITS,
  earlySamples,
  FILM,
  LIMITS,
  MATTE_RANKS,
  MEASURED,
  MOST_GROUPS,
  RAY_TYPES,
  SPLIT_KINDS,
  SPLIT_LOBES,
  type Film,
} from './film.ts';
import { frameOf } from './chunks.ts';
import { largestId } from './largestId.ts';
import { measureNoise } from './measureNoise.ts';
import { noiseCells } from './noiseCells.ts';
import { splitShare } from './splitShare.ts';

/** Metadata key under which a proof carries its settings and statistics as JSON. */
export const PROOF_ATTRIBUTE = 'dustingProof';

/** What a channel holds of a pixel, by its first slot, its samples and its number. */
type Value = (at: number, samples: number, pixel: number) => number;

/** Sums of so many pixels fit the cache. */
const PIXELS_AT_ONCE = 128;

/** Names of what a film counts, in its order. */
export interface FilmNames {
  /** Light groups; layers are made of them where there are several. */
  groups: string[];
  objects: string[];
  surfaces: string[];
}

/**
 * @param record what the proof carries under PROOF_ATTRIBUTE
 */
export function proofPicture(film: Film, settings: RenderSettings, names: FilmNames, record: object = {}): Picture {
  const { data, region } = film;
  const { groups } = names;
  const pixels = region.width * region.height;
  const channels: Channel[] = [];
  const values: Value[] = [];
  const put = (name: string, type: Channel['type'], value: Value) => {
    channels.push({ name, type, data: new Float32Array(pixels) });
    values.push(value);
  };
  const mean = (name: string, type: Channel['type'], slot: number) => put(name, type, (at, n) => data[at + slot] / n);
  const mean3 = (layer: string, type: Channel['type'], slot: number, names = 'RGB') =>
    [...names].forEach((c, k) => mean(layer ? `${layer}.${c}` : c, type, slot + k));
  const cells = noiseCells(film);
  const errorOf = (layer: string, measured: number) => {
    const { variance } = measureNoise(film, measured, cells);
    put(`error.${layer}.Y`, 'half', (_at, _n, i) => Math.sqrt(variance[i]));
  };
  mean3('', 'float', FILM.beauty);
  const noise = measureNoise(film, MEASURED.beauty, cells);
  // colours are as even as their luminance
  [...'RGB'].forEach((c, k) =>
    put(`error.${c}`, 'half', (at, n, i) =>
      noise.classical[i] > 0
        ? standardError(data[at + k], data[at + 3 + k], n) * Math.sqrt(noise.variance[i] / noise.classical[i])
        : 0,
    ),
  );
  put('error.Y', 'half', (_at, _n, i) => Math.sqrt(noise.variance[i]));
  put('spread.Y', 'half', (_at, _n, i) => Math.sqrt(noise.classical[i]));
  put('halves.Y', 'half', (_at, _n, i) => Math.sqrt(noise.halves[i]));
  COMPONENTS.forEach((name, c) => {
    mean3(name, 'float', FILM.component + c * FILM.componentStride);
    errorOf(name, MEASURED.component + c);
  });
  LIMITS.forEach((name, i) => mean3(`cut.${name}`, 'half', FILM.cut + i * 3));
  SPLIT_LOBES.forEach((name, i) => put(`branchRays.${name}`, 'float', (at) => data[at + FILM.branchRays + i]));
  // the part of "spread" that splits bring; of single ones it is not known
  SPLIT_KINDS.forEach((kind, i) => {
    const count = settings[`${kind}Samples`];
    if (count < 2) return;
    const share = splitShare(film, i, count);
    put(`splits.${kind}`, 'half', (_at, _n, pixel) => Math.sqrt(share[pixel]));
  });
  put('samples.N', 'float', (at) => data[at + FILM.samples]);
  put('time.ms', 'float', (at) => data[at + FILM.time]);
  SPLIT_LOBES.forEach((name, i) => put(`kindTime.${name}`, 'half', (at) => data[at + FILM.kindTime + i]));
  put('kindTime.light', 'half', (at) => {
    let sum = 0;
    for (let k = 0; k < MOST_GROUPS; k++) sum += data[at + FILM.lightTime + k];
    return sum;
  });
  RAY_TYPES.forEach((name, i) => put(`rays.${name}`, 'float', (at) => data[at + FILM.rays + i]));
  DEPTH_LIMITS.forEach((name, i) => put(`probeRays.${name}`, 'float', (at) => data[at + FILM.probeRays + i]));
  // what the first quarter of the samples would have told
  const early = settings.adaptive.limit > 0 ? 0 : earlySamples(settings.pixelSamples);
  if (early > 0) {
    put('early.mean', 'half', (at) => data[at + FILM.early] / early);
    put('early.error', 'half', (at) => standardError(data[at + FILM.early], data[at + FILM.early + 1], early));
  }
  put('brightest.Y', 'half', (at) => data[at + FILM.brightest]);
  put('brightest.sample', 'uint', (at) => data[at + FILM.brightestIndex]);
  mean3('albedo', 'half', FILM.albedo);
  const surfaceMean = (slot: number) => (at: number) => data[at + slot] / (data[at + FILM.surfaceSamples] || 1);
  [...'XYZ'].forEach((c, k) => put(`normal.${c}`, 'half', surfaceMean(FILM.normal + k)));
  [...'XYZ'].forEach((c, k) => put(`position.${c}`, 'float', surfaceMean(FILM.position + k)));
  [...'UV'].forEach((c, k) => put(`uv.${c}`, 'half', surfaceMean(FILM.uv + k)));
  if (settings.occlusion.samples > 0) {
    put('occlusion.Y', 'half', surfaceMean(FILM.occlusion));
    errorOf('occlusion', MEASURED.occlusion);
  }
  mean3('shadow', 'half', FILM.shadow);
  if (groups.length > 1)
    groups.forEach((name, i) => {
      mean3(`group.${channelSafe(name)}`, 'half', FILM.group + i * 3);
      errorOf(`group.${channelSafe(name)}`, MEASURED.group + i);
    });
  put('depth.Z', 'float', (at) => surfaceMean(FILM.depth)(at) || Infinity);
  put('object.id', 'uint', (at) => largestId(data, at + FILM.objects));
  put('surface.id', 'uint', (at) => largestId(data, at + FILM.surfaces));
  // all channels of some pixels, then the next: their sums stay in the cache (0.5 of the time of channel by channel)
  for (let first = 0; first < pixels; first += PIXELS_AT_ONCE) {
    const end = Math.min(pixels, first + PIXELS_AT_ONCE);
    values.forEach((value, c) => {
      const { data: out } = channels[c];
      for (let i = first; i < end; i++) {
        const at = i * FILM.stride;
        out[i] = value(at, data[at + FILM.samples] || 1, i);
      }
    });
  }
  const mattes = [
    filmMattes('objects', names.objects, film, FILM.objects),
    filmMattes('surfaces', names.surfaces, film, FILM.surfaces),
  ].map(packIdMattes);
  return {
    width: region.width,
    height: region.height,
    dataWindow: region,
    displayWindow: frameOf(settings),
    channels: [...channels, ...mattes.flatMap((m) => m.channels)],
    metadata: {
      ...Object.assign({}, ...mattes.map((m) => m.metadata)),
      [PROOF_ATTRIBUTE]: JSON.stringify(record),
    },
  };
}

/** What covers each pixel, the largest share first. @param slot first pair of id and samples */
function filmMattes(name: string, names: string[], { data, region }: Film, slot: number): IdMattes {
  const pixels = region.width * region.height;
  const ranks = Array.from({ length: MATTE_RANKS }, () => ({
    number: new Int32Array(pixels).fill(-1),
    coverage: new Float32Array(pixels),
  }));
  for (let i = 0; i < pixels; i++) {
    const at = i * FILM.stride;
    const order = ranks.map((_, k) => k).sort((a, b) => data[at + slot + b * 2 + 1] - data[at + slot + a * 2 + 1]);
    ranks.forEach(({ number, coverage }, r) => {
      const pair = at + slot + order[r] * 2;
      number[i] = data[pair] - 1;
      coverage[i] = data[pair + 1] / (data[at + FILM.samples] || 1);
    });
  }
  return makeIdMattes(name, names, ranks);
}

/** Names of the objects and surfaces of a shot, each once. */
export function filmNames(document: ShotDocument): FilmNames {
  const once = (list: Record<string, { name: string }>) => {
    const all = Object.values(list).map((v) => v.name);
    return Object.entries(list).map(([id, { name }]) => (all.filter((n) => n === name).length > 1 ? id : name));
  };
  return { groups: lightGroups(document), objects: once(document.objects), surfaces: once(document.surfaces) };
}

/** Dots part layers from channels in the names of OpenEXR. */
export function channelSafe(name: string): string {
  return name.replace(/[^A-Za-z0-9_-]+/g, '-');
}

/** Standard error of the mean of n values from their sum and the sum of their squares; 0 where n is 1. */
export function standardError(sum: number, squares: number, n: number): number {
  return n > 1 ? Math.sqrt(Math.max(0, squares - (sum * sum) / n) / (n * (n - 1))) : 0;
}

/** Luminance of a layer's R, G, B, or null where they are missing. */
export function layerLuminance(picture: Picture, layer: string): Float32Array | null {
  const [r, g, b] = ['R', 'G', 'B'].map((c) => findChannel(picture, layer, c)?.data);
  if (!r || !g || !b) return null;
  const out = new Float32Array(r.length);
  for (let i = 0; i < out.length; i++) out[i] = luminance(r[i], g[i], b[i]);
  return out;
}
