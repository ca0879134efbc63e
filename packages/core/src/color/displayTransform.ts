// From linear Rec. 709 to what a display is sent, 0..1.
import { luminance } from './lightness.ts';
import { fromRec709 } from './primaries.ts';
import { linearToSrgb } from './transfer.ts';

export const DISPLAY_TRANSFORMS = ['srgb', 'rec709', 'displayP3', 'photographic', 'raw'] as const;
export type DisplayTransform = (typeof DISPLAY_TRANSFORMS)[number];

/** How a picture is displayed: with so many stops more, through a transform, with a gamma over it. */
export interface Display {
  stops: number;
  transform: DisplayTransform;
  gamma: number;
}

/** Linear Rec. 709 to linear Display P3, row by row. */
export const TO_DISPLAY_P3 = fromRec709('display-p3');

/** Luminance that the photographic curve brings to display white: two stops above it. */
export const PHOTOGRAPHIC_WHITE = 4;

/** Global photographic tone curve (Reinhard, Stark, Shirley & Ferwerda 2002, "Photographic tone reproduction for digital images", eq. 4). */
export function photographic(y: number): number {
  return (y * (1 + y / PHOTOGRAPHIC_WHITE ** 2)) / (1 + y);
}

/**
 * Encodes one colour in place.
 * srgb: IEC 61966-2-1. rec709: a display of ITU-R BT.1886 with black at 0, gamma 2.4. displayP3: the primaries of SMPTE EG 432-1
 * with the white and the curve of sRGB, as displays of that name take it. photographic: the luminance goes
 * through the curve, colours keep their ratios, then sRGB. raw: the numbers as they are.
 * @param gamma what is sent to the display is raised to 1 / gamma: above 1 brings up the shadows. Common practice, no source
 */
export function encodeForDisplay(rgb: Float64Array | number[], { transform, gamma }: Omit<Display, 'stops'>): void {
  if (transform === 'photographic') {
    const y = luminance(rgb[0], rgb[1], rgb[2]);
    const scale = y > 0 ? photographic(y) / y : 0;
    for (let k = 0; k < 3; k++) rgb[k] *= scale;
  }
  if (transform === 'displayP3') {
    const [r, g, b] = rgb;
    const m = TO_DISPLAY_P3;
    for (let k = 0; k < 3; k++) rgb[k] = m[k * 3] * r + m[k * 3 + 1] * g + m[k * 3 + 2] * b;
  }
  for (let k = 0; k < 3; k++) {
    const v = Math.min(1, Math.max(0, rgb[k]));
    const sent = transform === 'raw' ? v : transform === 'rec709' ? v ** (1 / 2.4) : linearToSrgb(v);
    rgb[k] = gamma === 1 ? sent : sent ** (1 / gamma);
  }
}
