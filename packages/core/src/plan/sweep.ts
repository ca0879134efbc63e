// A row of trials over the values of one setting, or of two.
import { InputError } from '../formats/index.ts';
import type { Patch, SettingsUse } from '../scene/index.ts';

export type SweepValue = number | string | boolean;
export interface SweepAxis {
  /** Of the settings, such as "pixelSamples" or "depth/total". */
  path: string;
  values: SweepValue[];
}
/** More trials than this are no sweep but a night's work. */
export const MOST_TRIALS = 36;

/** Every combination of the values, the last axis running fastest. @throws InputError for none, or too many */
export function sweepPatches(axes: SweepAxis[], use: SettingsUse): Patch[] {
  const count = axes.reduce((n, { values }) => n * values.length, 1);
  if (axes.length === 0 || count < 2) throw new InputError('a sweep needs two values at least');
  if (count > MOST_TRIALS) throw new InputError(`${count} trials are too many for a sweep: ${MOST_TRIALS} at most`);
  if (new Set(axes.map(({ path }) => path)).size < axes.length) throw new InputError('both settings are the same one');
  return axes.reduce<Patch[]>(
    (rows, { path, values }) =>
      rows.flatMap((row) =>
        values.map((value) => [...row, { op: 'replace' as const, path: `/${use}/${path}`, value }]),
      ),
    [[]],
  );
}

/** Values about the present one: doubled and halved, or, from nought, the first ones. @param whole no parts of one */
export function usualValues(now: number, whole: boolean): number[] {
  if (!(now > 0)) return [0, 1, 2, 4, 8];
  const values = [now / 4, now / 2, now, now * 2, now * 4];
  return whole ? [...new Set(values.map((v) => Math.max(1, Math.round(v))))] : values;
}

/**
 * The knee of a falling curve: the point farthest below the line from the first to the last, on scales from 0 to 1
 * (Satopaa et al. 2011, "Finding a kneedle in a haystack").
 * @returns its place, or -1 where fewer than three points fall
 */
export function kneeOf(points: { cost: number; gain: number }[]): number {
  if (points.length < 3) return -1;
  const order = points.map((_, i) => i).sort((a, b) => points[a].cost - points[b].cost);
  const [first, last] = [points[order[0]], points[order.at(-1)!]];
  const width = last.cost - first.cost;
  const height = first.gain - last.gain;
  if (!(width > 0) || !(height > 0)) return -1;
  let knee = -1;
  let most = 1e-6;
  for (const i of order) {
    const below = 1 - (points[i].cost - first.cost) / width - (points[i].gain - last.gain) / height;
    if (below > most) {
      most = below;
      knee = i;
    }
  }
  return knee;
}
