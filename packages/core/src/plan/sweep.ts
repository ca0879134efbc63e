// A row of trials over the values of one parameter, or of two: of the render, or of what the scene is made of.
import { InputError } from '../formats/index.ts';
import {
  isOfScene,
  parameterAt,
  pathKeys,
  valueAt,
  type Parameter,
  type Patch,
  type SettingsUse,
  type ShotDocument,
} from '../scene/index.ts';
import { isCount } from './predictChange.ts';

export type SweepValue = number | string | boolean;
export interface SweepAxis {
  /** JSON Pointer into the document, such as "/final/depth/total" or "/surfaces/honey/specular_roughness". */
  path: string;
  values: SweepValue[];
}
/** More trials than this are no sweep but a night's work. */
export const MOST_TRIALS = 36;

/** Parts of a document whose parameters a sweep may run over, besides the settings of its use. */
const SWEPT_PARTS = ['surfaces', 'lights', 'environment', 'objects', 'cameras'] as const;

/** Whether a parameter has one value at a time, that trials can differ in. */
export function canSweep(keys: string[], use: SettingsUse): boolean {
  const kind = [use, ...SWEPT_PARTS].some((part) => part === keys[0]) ? parameterAt(keys)?.kind : undefined;
  return kind === 'number' || kind === 'whole' || kind === 'switch' || kind === 'choice';
}

/**
 * Every combination of the values, the last axis running fastest.
 * @throws InputError for none, too many, or what is no parameter of the scene or of the settings of this use
 */
export function sweepPatches(axes: SweepAxis[], use: SettingsUse): Patch[] {
  const count = axes.reduce((n, { values }) => n * values.length, 1);
  if (axes.length === 0 || count < 2) throw new InputError('a sweep needs two values at least');
  if (count > MOST_TRIALS) throw new InputError(`${count} trials are too many for a sweep: ${MOST_TRIALS} at most`);
  if (new Set(axes.map(({ path }) => path)).size < axes.length)
    throw new InputError('both parameters are the same one');
  for (const { path } of axes)
    if (!canSweep(pathKeys(path), use)) throw new InputError(`a sweep cannot run over "${path}"`);
  return axes.reduce<Patch[]>(
    (rows, { path, values }) =>
      rows.flatMap((row) => values.map((value) => [...row, { op: 'replace' as const, path, value }])),
    [[]],
  );
}

/** What a trial has for an axis: the last that its patch says of it. */
export function sweptValue(patch: Patch, path: string): SweepValue | undefined {
  const line = patch.findLast((operation) => operation.path === path);
  return line && 'value' in line ? (line.value as SweepValue) : undefined;
}

/**
 * What the trials are judged by. Of counts: the noise against the rays. Of other settings: the difference from the
 * most expensive trial against the rays. Of the scene: the noise against the difference from what the scene is now.
 */
export type SweepCurve = 'noise against rays' | 'difference against rays' | 'noise against difference';
export function sweepCurve(axes: SweepAxis[]): SweepCurve {
  if (axes.some(isOfScene)) return 'noise against difference';
  const counts = axes.every(({ path }) => isCount(pathKeys(path).slice(1).join('/')));
  return counts ? 'noise against rays' : 'difference against rays';
}

/**
 * The trial that the others are held against: of those with what the scene is now, the most expensive (of equals the last).
 * @param document what the shot is but for the sweep
 * @returns null where none has it
 */
export function referenceTrial<T extends { patch: Patch; rays: number }>(
  trials: T[],
  axes: SweepAxis[],
  document: ShotDocument,
): T | null {
  const asNow = trials.filter(({ patch }) =>
    axes.filter(isOfScene).every(({ path }) => sweptValue(patch, path) === valueAt(document, pathKeys(path))),
  );
  return asNow.reduce<T | null>((most, trial) => (most && trial.rays < most.rays ? most : trial), null);
}

/** Steps to both sides of a value that has no lower end to count from. */
const STEPS: Record<string, number> = { EV: 1, deg: 15 };

/**
 * Values about the present one, which is among them: doubled and halved, of what counts from another least value (as an
 * index of refraction does) the distance from that. From the least value itself: quarters of a short range, or 1, 2, 4.
 * What may be below 0 goes in even steps to both sides.
 */
export function valuesAbout(now: number, { kind, unit, minimum, maximum }: Parameter): number[] {
  const isWhole = kind === 'whole';
  const least = isWhole ? Math.min(minimum, 0) : minimum;
  const step = STEPS[unit] ?? (maximum - minimum) / 8;
  const quarter = maximum - least <= 10 ? (maximum - least) / 4 : 0;
  const all =
    least < 0
      ? [-2, -1, 0, 1, 2].map((k) => now + k * step)
      : now > least
        ? [1 / 4, 1 / 2, 1, 2, 4].map((k) => least + (now - least) * k)
        : [0, 1, 2, 3, 4].map((k) => least + (quarter ? quarter * k : [0, 1, 2, 4, 8][k]));
  const tidy = all.map((v) => (isWhole ? Math.round(v) : Number(v.toPrecision(4))));
  const others = tidy.filter((v) => v >= minimum && v <= maximum && Math.abs(v - now) > 1e-3 * Math.abs(now));
  return [...new Set([...others, now])].sort((a, b) => a - b);
}

/** Of the first value: a smaller fall may be chance. */
const LEAST_FALL = 0.05;

/**
 * The knee of a falling curve: the point farthest below the line from the first to the last, on scales from 0 to 1
 * (Satopaa et al. 2011, "Finding a kneedle in a haystack").
 * @returns its place, or -1 where there are fewer than three points, or they hardly fall
 */
export function kneeOf(points: { cost: number; gain: number }[]): number {
  if (points.length < 3) return -1;
  const order = points.map((_, i) => i).sort((a, b) => points[a].cost - points[b].cost);
  const [first, last] = [points[order[0]], points[order.at(-1)!]];
  const width = last.cost - first.cost;
  const height = first.gain - last.gain;
  if (!(width > 0) || !(height > LEAST_FALL * Math.abs(first.gain))) return -1;
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
