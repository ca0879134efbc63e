import type { RenderSettings } from './settings.ts';
import type { ShotDocument } from './shotDocument.ts';

/**
 * What a difference between the two sets of settings does: it changes the light that the picture shows, only its noise, its size,
 * or a layer beside it.
 */
export type DriftEffect = 'light' | 'noise' | 'size' | 'layer';
export interface DriftLine {
  /** Below the settings: "depth/total". */
  path: string;
  preview: unknown;
  final: unknown;
  effect: DriftEffect;
}

/** Where preview and final settings differ: what changes the light first, otherwise in the order of the schema. */
export function drift({ final, preview, surfaces }: Pick<ShotDocument, 'preview' | 'final' | 'surfaces'>): DriftLine[] {
  const [before, after] = [flat(preview), flat(final)];
  const multiplies = Object.values(surfaces).some(({ occlusion_strength }) => occlusion_strength > 0);
  return Object.keys(after)
    .filter((path) => before[path] !== after[path])
    .map((path) => ({ path, preview: before[path], final: after[path], effect: effectOf(path, multiplies) }))
    .sort((a, b) => ORDER.indexOf(a.effect) - ORDER.indexOf(b.effect));
}

/** Of these, the lines by which the final shows less light than the preview: a limit that is lower, a clamp that is tighter, outliers that are left out. */
export const finalLoses = (lines: DriftLine[]): DriftLine[] =>
  lines.filter(({ path, ...line }) => {
    const [preview, final] = [Number(line.preview), Number(line.final)];
    if (path.startsWith('depth/')) return final < preview;
    // 0 is off
    if (path.startsWith('clamp/') || path === 'rayDistance') return final > 0 && (preview === 0 || final < preview);
    if (path === 'outlierGroups') return final > 0 && preview === 0;
    if (path === 'clay') return line.final === true;
    return path === 'clearShadows' && line.final === 'off';
  });

const ORDER: DriftEffect[] = ['light', 'layer', 'noise', 'size'];

/** @param multiplies whether a surface multiplies the occlusion layer into its base */
function effectOf(path: string, multiplies: boolean): DriftEffect {
  if (path === 'width' || path === 'height') return 'size';
  if (path.startsWith('occlusion/')) return multiplies ? 'light' : 'layer';
  return /Samples$|^adaptive\/|^seed$/.test(path) ? 'noise' : 'light';
}

function flat(settings: RenderSettings): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(settings).flatMap(([key, value]) =>
      typeof value === 'object' ? Object.entries(value).map(([under, v]) => [`${key}/${under}`, v]) : [[key, value]],
    ),
  );
}
