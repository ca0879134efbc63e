// What clamps take away, from a render without them that kept account of its light by brightness (render/pathTallies.ts).
import { clampLimit, SPLIT_LOBES, TALLY_GROUPS, type PathCounts } from '../../render/index.ts';
import { NO_CLAMP, type RenderSettings } from '../../scene/index.ts';

type Row = PathCounts['clamps'][number];
export type Clamp = RenderSettings['clamp'];
export type ClampKind = keyof Clamp;
/** By how many events a path has, and by the first of them. */
export const CLAMP_KINDS: ClampKind[] = ['direct', 'indirect', ...SPLIT_LOBES];

/** "direct 4", "transmission 10": those that are set. */
export const setClamps = (clamp: Clamp): string[] => CLAMP_KINDS.filter((kind) => clamp[kind] > 0).map((kind) => `${kind} ${clamp[kind]}`); // prettier-ignore

export const sum = (values: number[]) => values.reduce((all, v) => all + v, 0);

/** Luminance in each group of pixels that clamps take away together. */
export function clampedLight(rows: Row[], clamp: Clamp): number[] {
  const lost = new Array<number>(TALLY_GROUPS).fill(0);
  for (const { first, indirect, light, share } of rows) {
    const most = clampLimit(clamp, indirect, first);
    if (most < Infinity) light.forEach((v, g) => (lost[g] += Math.max(0, v - most * share[g])));
  }
  return lost;
}

/** All light that is clamped or could be: what the camera does not see itself. */
export const clampableLight = (rows: Row[]): number => sum(rows.flatMap(({ light }) => light));

/** The lowest step of brightness at which a clamp by itself takes away no more than a share of the light. */
export function clampThatKeeps(rows: Row[], kind: ClampKind, lost: number): number {
  const all = clampableLight(rows);
  const steps = [...new Set(rows.filter((row) => isOfKind(row, kind)).map(({ from }) => from))].sort((a, b) => a - b);
  return steps.find((step) => sum(clampedLight(rows, { ...NO_CLAMP, [kind]: step })) <= lost * all) ?? (steps.at(-1) ?? 1) * 2; // prettier-ignore
}

/** Whether a clamp of a kind takes from light. */
export const isOfKind = ({ first, indirect }: Pick<Row, 'first' | 'indirect'>, kind: ClampKind): boolean =>
  kind === 'direct' ? !indirect : kind === 'indirect' ? indirect : SPLIT_LOBES[first] === kind;
