// A picture with its occlusion layer multiplied in, as it is done after a render.
import { lightness, luminance } from '../color/index.ts';
import { darkestTenth } from './darkestTenth.ts';

export interface OcclusionComposite {
  /** 0 leaves the picture as it is, 1 multiplies the layer in as it is. */
  strength: number;
  /** Exponent of the layer: above 1 what is half open grows darker. */
  contrast: number;
  /** What is occluded turns to this share of the light, linear RGB, 0..1: black unless it is tinted. */
  color: [number, number, number];
}
export const OCCLUSION_COMPOSITE_DEFAULTS: OcclusionComposite = { strength: 1, contrast: 1, color: [0, 0, 0] };

/** What one channel of the light is multiplied by. @param open of the layer: 0 is closed, 1 open @param color of that channel */
export function occlusionFactor(
  open: number,
  { contrast, strength }: Omit<OcclusionComposite, 'color'>,
  color: number,
): number {
  return 1 - strength * (1 - color) * (1 - Math.min(1, Math.max(0, open)) ** contrast);
}

/**
 * L* that a composite takes from a picture: on average, and from the tenth that was darkest before.
 * @param rgb planes of the same length @param open the layer, likewise @param counts whether a pixel counts
 */
export function takenByOcclusion(
  rgb: ArrayLike<number>[],
  open: ArrayLike<number>,
  composite: OcclusionComposite,
  counts: (i: number) => boolean = () => true,
): { mean: number; darkest: number } {
  const before: number[] = [];
  const taken: number[] = [];
  for (let i = 0; i < open.length; i++) {
    if (!counts(i)) continue;
    const [r, g, b] = rgb.map((plane) => plane[i]);
    const [fr, fg, fb] = composite.color.map((color) => occlusionFactor(open[i], composite, color));
    const was = lightness(luminance(r, g, b));
    before.push(was);
    taken.push(was - lightness(luminance(r * fr, g * fg, b * fb)));
  }
  if (taken.length === 0) return { mean: 0, darkest: 0 };
  const mean = (of: number[]) => of.reduce((sum, v) => sum + v, 0) / of.length;
  return { mean: mean(taken), darkest: mean(darkestTenth(before).map((i) => taken[i])) };
}
