// Light and rays by the events of their paths, and light by how bright it is: from these, any combination of depth limits
// and clamps can be tried without a render, as far as the limits of this one reach.
import { tallyRow, tallyRows, mergeTally, type Tally } from './tally.ts';

/** The pixels fall into so many groups by chance: how far the groups are apart tells how well a number is known. */
export const TALLY_GROUPS = 16;

/** Events of each of SPLIT_LOBES, seven bits each. */
const BITS = 7;
const MOST = 2 ** BITS - 1;
/** Row of `depths`: rays, then the luminance in each group of pixels. */
const DEPTH_ROW = 1 + TALLY_GROUPS;
/** Row of `clamps`: luminance and share of it in each group of pixels. */
const CLAMP_ROW = 2 * TALLY_GROUPS;
/** So many steps of brightness double it. */
const STEPS = 8;
/** Keys of `clamps` for one kind of light: its first event, and whether there were more. */
const KIND = 1024;
const MIDDLE = 512;

export interface PathTallies {
  depths: Tally;
  clamps: Tally;
  /** Camera samples of each group of pixels. */
  samples: Float64Array;
}
export const emptyPathTallies = (): PathTallies => ({
  depths: new Map(),
  clamps: new Map(),
  samples: new Float64Array(TALLY_GROUPS),
});

export function mergePathTallies(into: PathTallies, part: PathTallies): void {
  mergeTally(into.depths, part.depths);
  mergeTally(into.clamps, part.clamps);
  part.samples.forEach((n, g) => (into.samples[g] += n));
}

const keyOf = (counts: ArrayLike<number>, lobe: number) => {
  let key = 0;
  for (let k = 3; k >= 0; k--) key = (key << BITS) | Math.min(MOST, counts[k] + (k === lobe ? 1 : 0));
  return key;
};

/** @param lobe of the event that the light of a shadow ray would add, or -1 */
export function tallyRay({ depths }: PathTallies, counts: ArrayLike<number>, lobe: number): void {
  tallyRow(depths, keyOf(counts, lobe), DEPTH_ROW)[0]++;
}

/**
 * @param first event of the path, as a place in SPLIT_LOBES; -1: there was none
 * @param luminance that the path brings, before clamping, undivided by splits
 * @param share of a sample that it stands for
 * @param kept of that share, once it is clamped
 * @param group of the pixel, below TALLY_GROUPS
 */
export function tallyLight(
  { clamps, depths }: PathTallies,
  counts: ArrayLike<number>,
  lobe: number,
  first: number,
  luminance: number,
  share: number,
  kept: number,
  group: number,
): void {
  if (!(luminance > 0 && luminance < Infinity)) return;
  tallyRow(depths, keyOf(counts, lobe), DEPTH_ROW)[1 + group] += luminance * kept;
  const events = counts[0] + counts[1] + counts[2] + counts[3] + (lobe < 0 ? 0 : 1);
  if (events === 0) return; // what the camera sees itself is not clamped
  const step = Math.min(KIND - 1, Math.max(0, MIDDLE + Math.floor(STEPS * Math.log2(luminance))));
  const kind = first * 2 + (events > 1 ? 1 : 0);
  const row = tallyRow(clamps, kind * KIND + step, CLAMP_ROW);
  row[group] += luminance * share;
  row[TALLY_GROUPS + group] += share;
}

/** As it stands in the statistics of a render. */
export interface PathCounts {
  /** Rays and light, once clamped, of paths with so many events: diffuse, specular, transmission, volume. `light` is by group of pixels. */
  depths: { events: [number, number, number, number]; rays: number; light: number[] }[];
  /** Light of samples between `from` and the next step of brightness, and the samples that it stands for, by group of pixels. */
  clamps: {
    /** Event of the path, as a place in SPLIT_LOBES. */ first: number;
    indirect: boolean;
    from: number;
    light: number[];
    share: number[];
  }[];
  /** Camera samples in each group of pixels. */
  samples: number[];
}

export function pathCounts({ clamps, depths, samples }: PathTallies): PathCounts {
  return {
    samples: [...samples],
    depths: tallyRows(depths).map(([key, rays, ...light]) => ({
      events: [0, 1, 2, 3].map((k) => (key >>> (k * BITS)) & MOST) as [number, number, number, number],
      rays,
      light,
    })),
    clamps: tallyRows(clamps).map(([key, ...values]) => ({
      first: key >> 11,
      indirect: (key & KIND) !== 0,
      from: 2 ** (((key % KIND) - MIDDLE) / STEPS),
      light: values.slice(0, TALLY_GROUPS),
      share: values.slice(TALLY_GROUPS),
    })),
  };
}

type Rows = [key: number, values: number[]][];
/** Tallies of a chunk as JSON. */
export interface PackedTallies {
  depths: Rows;
  clamps: Rows;
  samples: number[];
}
export const packTallies = ({ clamps, depths, samples }: PathTallies): PackedTallies => ({
  depths: rows(depths),
  clamps: rows(clamps),
  samples: [...samples],
});
export const unpackTallies = ({ clamps, depths, samples }: PackedTallies): PathTallies => ({
  depths: tally(depths),
  clamps: tally(clamps),
  samples: Float64Array.from(samples),
});
const rows = (of: Tally): Rows => [...of].map(([key, values]) => [key, [...values]]);
const tally = (of: Rows): Tally => new Map(of.map(([key, values]) => [key, Float64Array.from(values)]));
