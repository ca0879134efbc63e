import type { PathCounts } from '../../render/index.ts';

type Row = PathCounts['clamps'][number];
export type ClampKind = 'direct' | 'indirect';

/** Luminance that a clamp takes away, of all that the render brought. @param clamp luminance of a sample; 0 is off */
export function clampedLight(rows: Row[], kind: ClampKind, clamp: number): number {
  if (clamp === 0) return 0;
  return ofKind(rows, kind).reduce((lost, { light, share }) => lost + Math.max(0, light - clamp * share), 0);
}

/** The lowest step of brightness at which a clamp takes away no more than a share of the light. */
export function clampThatKeeps(rows: Row[], kind: ClampKind, lost: number): number {
  const steps = ofKind(rows, kind).map(({ from }) => from).sort((a, b) => a - b); // prettier-ignore
  const all = rows.reduce((sum, { light }) => sum + light, 0);
  return steps.find((step) => clampedLight(rows, kind, step) <= lost * all) ?? (steps.at(-1) ?? 1) * 2;
}

export const ofKind = (rows: Row[], kind: ClampKind) => rows.filter(({ indirect }) => indirect === (kind === 'indirect')); // prettier-ignore
