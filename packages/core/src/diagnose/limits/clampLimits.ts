// What clamps take away, from a render without them that kept account of its light by brightness (render/pathTallies.ts).
import { TALLY_GROUPS, type PathCounts } from '../../render/index.ts';

type Row = PathCounts['clamps'][number];
export type ClampKind = 'direct' | 'indirect';

export const sum = (values: number[]) => values.reduce((all, v) => all + v, 0);

/** Luminance in each group of pixels that a clamp takes away. @param clamp luminance of a sample; 0 is off */
export function clampedLight(rows: Row[], kind: ClampKind, clamp: number): number[] {
  const lost = new Array<number>(TALLY_GROUPS).fill(0);
  if (clamp > 0)
    for (const { light, share } of ofKind(rows, kind))
      light.forEach((v, g) => (lost[g] += Math.max(0, v - clamp * share[g])));
  return lost;
}

/** All light that is clamped or could be: what the camera does not see itself. */
export const clampableLight = (rows: Row[]): number => sum(rows.flatMap(({ light }) => light));

/** The lowest step of brightness at which a clamp takes away no more than a share of the light. */
export function clampThatKeeps(rows: Row[], kind: ClampKind, lost: number): number {
  const all = clampableLight(rows);
  const steps = ofKind(rows, kind).map(({ from }) => from).sort((a, b) => a - b); // prettier-ignore
  return steps.find((step) => sum(clampedLight(rows, kind, step)) <= lost * all) ?? (steps.at(-1) ?? 1) * 2;
}

const ofKind = (rows: Row[], kind: ClampKind) => rows.filter(({ indirect }) => indirect === (kind === 'indirect'));
