// Light that few samples bring, taken out of a finished film: the last resort against fireflies, and biased.
//
// The samples of a pixel fall into groups by their numbers. Where the means of the groups are unlike each other, the brightest
// and the darkest of them are left out, the more the greater their Gini coefficient (Buisine, Delepoulle & Renaud 2021,
// "Firefly removal in Monte Carlo rendering with adaptive median of means"; from memory): none at 0, all but the middle one at 1.
// What the camera sees itself is no outlier and stays. Every part of the light of a pixel is scaled alike, so that components
// and light groups still add up to it, and its noise is that of what is left.
import { luminance } from '../color/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { COMPONENTS, FILM, MEASURED, MOST_GROUPS, OUTLIER_GROUP, SPLIT_KINDS, SPLIT_LEVELS, type Film } from './film.ts'; // prettier-ignore

const LIT = COMPONENTS.slice(0, COMPONENTS.indexOf('emission')).map(
  (_, c) => FILM.component + c * FILM.componentStride,
);

/** Changes the film, once: light that was taken stands where the groups stood, summed over the samples of the pixel, RGB. */
export function trimOutliers(
  { data, region, stride }: Film,
  { outlierGroups }: Pick<RenderSettings, 'outlierGroups'>,
): void {
  if (outlierGroups === 0) return;
  const end = FILM.stride + outlierGroups * OUTLIER_GROUP;
  const groups = Array.from({ length: outlierGroups }, () => new Float64Array(4));
  const [lit, kept, whole, share] = [0, 1, 2, 3].map(() => new Float64Array(3));
  for (let at = 0; at < region.width * region.height * stride; at += stride) {
    const used = readGroups(data, at + FILM.stride, groups);
    data.fill(0, at + FILM.stride, at + end);
    if (used.length < 2) continue;
    trimmedMean(used, kept);
    for (let k = 0; k < 3; k++) {
      lit[k] = LIT.reduce((sum, slot) => sum + data[at + slot + k], 0);
      kept[k] *= data[at + FILM.samples];
      whole[k] = data[at + FILM.beauty + k];
      share[k] = lit[k] > 0 ? kept[k] / lit[k] : 1;
      data[at + FILM.stride + k] = lit[k] - kept[k];
    }
    const y = yOf(lit) > 0 ? yOf(kept) / yOf(lit) : 1;
    for (const slot of LIT) {
      for (let k = 0; k < 3; k++) data[at + slot + k] *= share[k];
      data[at + slot + 3] *= y * y;
    }
    scaleWhole(data, at, whole, lit, kept);
  }
}

const yOf = (rgb: ArrayLike<number>) => luminance(rgb[0], rgb[1], rgb[2]);

/** Means of the groups that have samples, RGB and luminance, into the given rows. */
function readGroups(data: Film['data'], from: number, rows: Float64Array[]): Float64Array[] {
  return rows.filter((row, g) => {
    const at = from + g * OUTLIER_GROUP;
    const samples = data[at + 3];
    for (let k = 0; k < 3; k++) row[k] = data[at + k] / samples;
    row[3] = yOf(row);
    return samples > 0;
  });
}

function trimmedMean(groups: Float64Array[], out: Float64Array): void {
  const sorted = groups.sort((a, b) => a[3] - b[3]);
  const n = sorted.length;
  const sum = sorted.reduce((all, row) => all + row[3], 0);
  const gini = sum > 0 ? sorted.reduce((all, row, i) => all + (2 * i + 1 - n) * row[3], 0) / (n * sum) : 0;
  const left = Math.min((n - 1) >> 1, Math.floor((gini * n) / 2));
  for (let k = 0; k < 3; k++) {
    out[k] = 0;
    for (let i = left; i < n - left; i++) out[k] += sorted[i][k] / (n - 2 * left);
  }
}

/** What is of the pixel as a whole: beauty, light groups, and all that its noise is measured by. */
function scaleWhole(data: Film['data'], at: number, whole: Float64Array, lit: Float64Array, kept: Float64Array): void {
  const before = yOf(whole);
  const share = whole.map((v, k) => (v > 0 ? (v - lit[k] + kept[k]) / v : 1));
  const y = before > 0 ? (before - yOf(lit) + yOf(kept)) / before : 1;
  for (let k = 0; k < 3; k++) {
    data[at + FILM.beauty + k] *= share[k];
    data[at + FILM.beauty + 3 + k] *= share[k] ** 2;
    for (let g = 0; g < MOST_GROUPS; g++) data[at + FILM.group + 3 * g + k] *= share[k];
  }
  scale(data, at + FILM.beauty + 6, 1, y * y);
  scale(data, at + FILM.groupSquares, MOST_GROUPS, y * y);
  scale(data, at + FILM.splits, SPLIT_KINDS.length * SPLIT_LEVELS.length, y * y);
  scale(data, at + FILM.half, MEASURED.occlusion, y);
  scale(data, at + FILM.check, MEASURED.occlusion, y);
  scale(data, at + FILM.early, 1, y);
  scale(data, at + FILM.early + 1, 1, y * y);
}

function scale(data: Film['data'], from: number, count: number, by: number): void {
  for (let i = from; i < from + count; i++) data[i] *= by;
}
