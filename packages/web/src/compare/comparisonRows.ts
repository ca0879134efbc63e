// The two proofs of a comparison, number beside number: of the region, and of the whole where both show the same part of the
// frame. A region against a frame is compared by what the frame spent on it.
import type { Comparison, Proof, RegionStatistics } from '../api.ts';
import { lightnessUnits, megabytes, seconds, value } from '../words.ts';

export interface ComparisonRow {
  label: string;
  before: string;
  after: string;
  /** Of the later over the earlier one; empty where that says nothing. */
  ratio: string;
}

export function comparisonRows(comparison: Comparison, before: Proof, after: Proof): ComparisonRow[] {
  const rows: ComparisonRow[] = [];
  const add = (label: string, format: (n: number) => string, [a, b]: [number | null, number | null]) => {
    if (a !== null && b !== null)
      rows.push({ label, before: format(a), after: format(b), ratio: a > 0 ? `× ${(b / a).toFixed(2)}` : '' });
  };
  const [one, two] = [comparison.before, comparison.after];
  const measured = (label: string, format: (n: number) => string, of: (statistics: RegionStatistics) => number) => {
    if (one.statistics && two.statistics) add(label, format, [of(one.statistics), of(two.statistics)]);
  };
  measured('Noise', lightnessUnits, (s) => s.noise);
  add('Noise, about', lightnessUnits, [one.estimated?.value ?? null, two.estimated?.value ?? null]);
  measured('Thread time here', seconds, (s) => s.seconds);
  add('Mean luminance', value, [luminance(one.mean), luminance(two.mean)]);
  measured('Light cut off', value, (s) => sum(s.cutOff));
  measured('Brightest sample', value, (s) => s.brightest.luminance);
  add('Time of the region', seconds, [regionSeconds(before, one.statistics), regionSeconds(after, two.statistics)]);
  const isAlike = JSON.stringify(before.region) === JSON.stringify(after.region);
  if (isAlike) add('Frame time', seconds, [before.seconds, after.seconds]);
  // the film is as large as what is rendered
  add(`Memory of the scene${isAlike ? '' : ', without film'}`, megabytes, [memoryOf(before, isAlike), memoryOf(after, isAlike)]); // prettier-ignore
  if (isAlike) add('Rays a pixel', (n) => n.toFixed(0), [raysAPixel(before), raysAPixel(after)]);
  return rows;
}

/** The part of a proof's time that its pixels of the region took. */
function regionSeconds({ seconds, statistics }: Proof, here: RegionStatistics | null): number | null {
  return seconds !== null && here && statistics ? (seconds * here.seconds) / (statistics.pixelSeconds || 1) : null;
}
const memoryOf = ({ memory }: Proof, film: boolean) => memory && sum(memory) - (film ? 0 : memory.film);
const luminance = (rgb: number[]) => 0.2126 * rgb[0] + 0.7152 * rgb[1] + 0.0722 * rgb[2];
const sum = (parts: object) => (Object.values(parts) as number[]).reduce((s, v) => s + v, 0);
function raysAPixel({ statistics, region }: Proof): number | null {
  const all = statistics ? sum(statistics.rays) : 0;
  return all > 0 ? all / (region.width * region.height) : null;
}
