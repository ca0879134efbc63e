/** Luminance of linear Rec. 709 primaries, ITU-R BT.709. */
export const LUMINANCE_R = 0.2126;
export const LUMINANCE_G = 0.7152;
export const LUMINANCE_B = 0.0722;

export function luminance(r: number, g: number, b: number): number {
  return LUMINANCE_R * r + LUMINANCE_G * g + LUMINANCE_B * b;
}

/** CIE 1976 lightness L* (0..100) of a luminance relative to display white, cut to 0..1 (CIE 15). */
export function lightness(y: number): number {
  if (!(y > 0)) return 0;
  if (y >= 1) return 100;
  return y > 216 / 24389 ? 116 * Math.cbrt(y) - 16 : (24389 / 27) * y;
}
