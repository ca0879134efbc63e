import type { RenderSettings } from '../../scene/index.ts';

/** Limits that cannot take effect, in words. */
export function limitNotes({ depth }: RenderSettings): string[] {
  return (['transmission', 'specular', 'diffuse', 'volume'] as const)
    .filter((key) => depth[key] > depth.total)
    .map(
      (key) =>
        `The total depth of ${depth.total} bites before the ${key} depth of ${depth[key]}: a path ends after ${depth.total} events of any kind. Raise the total depth to ${depth[key]} or more.`,
    );
}
