// How the values of a layer were stored, as far as they tell it by themselves: turned over, or through a curve that is meant for
// pictures.
import { linearToSrgb, srgbToLinear } from '../../color/index.ts';
import { quantile } from '../../math/index.ts';

/** Curves that a layer may have been stored through; undoing them makes even steps of its values. */
export const LAYER_CURVES = {
  /** As a file holds it. */
  plain: (v: number) => v,
  /** Read as the color of a screen. */
  decoded: linearToSrgb,
  squared: Math.sqrt,
  /** Written for a screen, and not read back. */
  encoded: srgbToLinear,
};
export type LayerCurve = keyof typeof LAYER_CURVES;

/** A layer of 8 bits has no more values, and of a picture with fewer nothing is said. */
const LEVELS = 256;
const LEAST_LEVELS = 24;
/** Mean distance from the nearest of 256 even steps, in steps: by chance it is 0.25, of halves near 1 it is 0.06. */
const EVEN = 0.1;

/**
 * The curve that the values of an 8-bit layer have gone through; null where they are finer, or too few to tell.
 * @param values 0..1
 */
export function layerCurve(values: Float32Array): LayerCurve | null {
  const levels = [...new Set(values)].filter((v) => v > 0 && v < 1);
  if (levels.length > LEVELS || levels.length < LEAST_LEVELS) return null;
  const off = (curve: (v: number) => number) => levels.reduce((sum, v) => sum + Math.abs(curve(v) * 255 - Math.round(curve(v) * 255)), 0) / levels.length; // prettier-ignore
  const [best] = (Object.keys(LAYER_CURVES) as LayerCurve[]).map((name) => ({ name, off: off(LAYER_CURVES[name]) })).sort((a, b) => a.off - b.off); // prettier-ignore
  return best.off < EVEN ? best.name : null;
}

/** Bends of the sharpest pixels that count, as a share; and by how much those of one sign lead. Common practice, no source. */
const SHARPEST = 0.01;
const LEADS = 1.3;

/**
 * Whether a layer is turned over. Corners are dark valleys with a sharp bottom, open surfaces are wide and light: turned over,
 * corners are light ridges on a dark ground. Steps at the edges of objects bend either way alike.
 * @param shows whether a pixel shows a surface
 */
export function isInverted(plane: Float32Array, width: number, shows: (i: number) => boolean): boolean {
  const seen = plane.filter((_, i) => shows(i));
  if (seen.length === 0 || quantile(seen, 0.5) >= 0.5) return false;
  const bends: number[] = [];
  for (let i = width + 1; i + width + 1 < plane.length; i++)
    for (const step of [1, width])
      if (shows(i - step) && shows(i) && shows(i + step)) bends.push(plane[i - step] - 2 * plane[i] + plane[i + step]);
  if (bends.length === 0) return false;
  const [valleys, ridges] = [quantile(bends, 1 - SHARPEST), -quantile(bends, SHARPEST)];
  return ridges > LEADS * valleys;
}
