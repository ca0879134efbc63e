import type { DisplayTransform } from '@dusting/core/color';
import type { Region } from '@dusting/core/image';
import type { LayerPicture } from '../api.ts';

/** A picture and where it lies in the frame. */
export interface PlacedPicture {
  picture: LayerPicture;
  window: Region;
}
export type CompareMode = 'one' | 'wipe' | 'side' | 'difference';
export const MODES: CompareMode[] = ['one', 'wipe', 'side', 'difference'];

/** How the picture is looked at. */
export interface View {
  /** Frame pixel at the middle of the canvas, and canvas pixels for one of the frame. */
  centre: { x: number; y: number };
  scale: number;
  mode: CompareMode;
  /** 0..1 across the canvas. */
  wipe: number;
  /** Exposure and shadow check together, in stops. */
  stops: number;
  transform: DisplayTransform;
  channel: 'color' | 'R' | 'G' | 'B' | 'Y';
  /** Of a data layer; null for a picture. */
  range: [number, number] | null;
  marks: boolean;
}
export const CHANNELS: View['channel'][] = ['color', 'R', 'G', 'B', 'Y'];

export interface PictureDrawer {
  draw(first: PlacedPicture | null, second: PlacedPicture | null, view: View): void;
}
