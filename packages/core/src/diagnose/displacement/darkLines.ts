// Thin dark lines of a picture: what cracks look like, and folds, wires and drawn lines as well.
//
// A pixel lies on one where the pixels two steps away on both sides, in one of four directions, are lighter by more than the
// noise around. Lines are what hangs together of these, is long, and is nowhere wide. Thresholds: common practice, no source.
import { quantile } from '../../math/index.ts';

export const DARK_LINE_DEFAULTS = {
  /** L* by which a line is darker than both sides: at least, and in deviations of the picture's own unrest. */
  depth: 6,
  deviations: 6,
  /** Pixels from end to end, at least. */
  length: 8,
  /** Pixels of it to a pixel of its length, at most. */
  width: 2.5,
} as const;

export interface DarkLine {
  /** Its darkest pixel. */
  x: number;
  y: number;
  /** Pixels from end to end, and L* below its sides, the median. */
  length: number;
  depth: number;
}

/** Steps across a line, each way. */
const ACROSS = [[1, 0], [0, 1], [1, 1], [1, -1]] as const; // prettier-ignore
const STEP = 2;
/** From the median of absolute deviations to the standard deviation of a normal distribution. */
const TO_DEVIATION = 1.4826;

/** @param plane L* of each pixel, row by row @returns the longest first */
export function darkLines(plane: Float32Array, width: number): DarkLine[] {
  const { depth: least, deviations, length: shortest, width: widest } = DARK_LINE_DEFAULTS;
  const height = plane.length / width;
  const valley = new Float32Array(plane.length);
  const unrest: number[] = [];
  for (let y = STEP; y < height - STEP; y++)
    for (let x = STEP; x < width - STEP; x++) {
      const i = y * width + x;
      let deepest = 0;
      for (const [dx, dy] of ACROSS) {
        const by = STEP * (dx + dy * width);
        deepest = Math.max(deepest, Math.min(plane[i - by], plane[i + by]) - plane[i]);
      }
      valley[i] = deepest;
      // what is left of a plane through its two neighbours is noise, or texture
      unrest.push(Math.abs(plane[i] - (plane[i - 1] + plane[i + 1]) / 2));
    }
  if (unrest.length === 0) return [];
  const from = Math.max(least, deviations * TO_DEVIATION * quantile(unrest, 0.5));
  const lines: DarkLine[] = [];
  const seen = new Uint8Array(plane.length);
  valley.forEach((v, first) => {
    if (v < from || seen[first]) return;
    const own = connected(first, width, seen, (i) => valley[i] >= from);
    const length = 1 + Math.max(extent(own.map((i) => i % width)), extent(own.map((i) => Math.floor(i / width))));
    if (length < shortest || own.length > widest * length) return;
    const darkest = own.reduce((a, b) => (plane[b] < plane[a] ? b : a));
    lines.push({ x: darkest % width, y: Math.floor(darkest / width), length, depth: quantile(own.map((i) => valley[i]), 0.5) }); // prettier-ignore
  });
  return lines.sort((a, b) => b.length - a.length);
}

const extent = (values: number[]) => values.reduce((a, b) => Math.max(a, b)) - values.reduce((a, b) => Math.min(a, b));

/** Pixels that hang together with one, corners included; marks them as seen. */
function connected(first: number, width: number, seen: Uint8Array, belongs: (i: number) => boolean): number[] {
  const found = [first];
  seen[first] = 1;
  for (const i of found)
    for (const next of [-1, 1, -width, width, -width - 1, -width + 1, width - 1, width + 1].map((by) => i + by))
      if (next >= 0 && next < seen.length && !seen[next] && belongs(next)) {
        seen[next] = 1;
        found.push(next);
      }
  return found;
}
