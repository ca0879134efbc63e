// The two proofs of a comparison, number beside number: first of the region, then of the whole.
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
  const add = (label: string, [a, b]: [number | null, number | null], format: (n: number) => string) => {
    if (a !== null && b !== null)
      rows.push({ label, before: format(a), after: format(b), ratio: a > 0 ? `× ${(b / a).toFixed(2)}` : '' });
  };
  const [one, two] = [comparison.before, comparison.after];
  const both = (of: (statistics: RegionStatistics) => number): [number | null, number | null] =>
    one.statistics && two.statistics ? [of(one.statistics), of(two.statistics)] : [null, null];
  add(
    'Noise',
    both((s) => s.noise),
    lightnessUnits,
  );
  add(
    'Thread time here',
    both((s) => s.seconds),
    seconds,
  );
  add('Mean luminance', [luminance(one.mean), luminance(two.mean)], value);
  add(
    'Light cut off',
    both((s) => sum(s.cutOff)),
    value,
  );
  add(
    'Brightest sample',
    both((s) => s.brightest.luminance),
    value,
  );
  add('Time of the whole', [before.seconds, after.seconds], seconds);
  add('Memory of the scene', [before.memory && sum(before.memory), after.memory && sum(after.memory)], megabytes);
  add('Rays a pixel', [raysAPixel(before), raysAPixel(after)], (n) => n.toFixed(0));
  return rows;
}

const luminance = (rgb: number[]) => 0.2126 * rgb[0] + 0.7152 * rgb[1] + 0.0722 * rgb[2];
const sum = (parts: object) => (Object.values(parts) as number[]).reduce((s, v) => s + v, 0);
function raysAPixel({ statistics, region }: Proof): number | null {
  const all = statistics ? sum(statistics.rays) : 0;
  return all > 0 ? all / (region.width * region.height) : null;
}
