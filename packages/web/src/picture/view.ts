import type { DisplayTransform } from '@dusting/core/color';
import type { Region } from '@dusting/core/image';
import type { LayerPicture } from '../api.ts';

/** A picture and where it lies in the frame; a preview may have fewer pixels than its place. */
export interface PlacedPicture {
  picture: LayerPicture;
  window: Region;
}
export const MODES = ['one', 'wipe', 'blink', 'side', 'difference'] as const;
export type CompareMode = (typeof MODES)[number];
/** second - first about grey; its size; its size over that of the first, in false colour. */
export const DIFFERENCES = ['signed', 'absolute', 'relative'] as const;
/** Those, and maps that the server computes. */
export const DIFFERENCE_KINDS = [...DIFFERENCES, 'deltaE', 'similarity'] as const;
export type DifferenceKind = (typeof DIFFERENCE_KINDS)[number];
/** What differences may be multiplied by. */
export const GAINS = [1, 2, 4, 8, 16, 32, 64];

/** How the picture is looked at. */
export interface View {
  /** Frame pixel at the middle of the canvas, and canvas pixels for one of the frame. */
  centre: { x: number; y: number };
  scale: number;
  mode: CompareMode;
  /** Where the line stands across the canvas, 0..1, and which way it is crossed: 0 degrees to the right, 90 down. */
  wipe: { at: number; angle: number };
  /** While blinking: the second one is up. */
  blink: boolean;
  difference: (typeof DIFFERENCES)[number];
  /** What differences are multiplied by. */
  gain: number;
  /** Exposure and shadow check together, in stops. */
  stops: number;
  transform: DisplayTransform;
  /** Over the transform; 1: none. */
  gamma: number;
  channel: 'color' | 'R' | 'G' | 'B' | 'Y' | 'A';
  /** Of a data layer; null for a picture. */
  range: [number, number] | null;
  marks: boolean;
  /** Lines of equal value: at every stop of luminance, or at every tenth of the range. */
  isolines: boolean;
}
/** How a picture is shown by itself, at its place. */
export const VIEW_DEFAULTS: Omit<View, 'centre' | 'scale'> = {
  mode: 'one',
  wipe: { at: 0.5, angle: 0 },
  blink: false,
  difference: 'signed',
  gain: 1,
  stops: 0,
  transform: 'srgb',
  gamma: 1,
  channel: 'color',
  range: null,
  marks: false,
  isolines: false,
};
export const CHANNELS: View['channel'][] = ['color', 'R', 'G', 'B', 'Y', 'A'];
/** Relative differences are taken over the first one's luminance and this. */
export const RELATIVE_FLOOR = 0.01;

/** How far a point of the canvas lies beyond the line of the wipe, in its pixels; below 0 the first one is shown. */
export function beyondWipe({ at, angle }: View['wipe'], x: number, y: number, width: number, height: number): number {
  const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
  const span = Math.abs(c) * width + Math.abs(s) * height;
  return (x - width / 2) * c + (y - height / 2) * s - (at - 0.5) * span;
}

export interface PictureDrawer {
  draw(first: PlacedPicture | null, second: PlacedPicture | null, view: View): void;
}
