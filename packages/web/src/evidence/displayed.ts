import { linearToSrgb } from '@dusting/core/color';

/** A linear colour as the style sheet writes it; brighter than white is white. */
export const displayed = (rgb: [number, number, number]): string =>
  `rgb(${rgb.map((v) => Math.round(255 * linearToSrgb(Math.min(1, Math.max(0, v))))).join(' ')})`;
