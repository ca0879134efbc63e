// Whether the parts of the light add up to the beauty picture, and where they do not.
import { luminance } from '../color/index.ts';
import { findChannel, listLayers, MAIN_LAYER, type Picture } from '../image/index.ts';
import { LIGHT_ROLES } from './layerRoles.ts';

export const SUM_GAP = 'sumGap';
/** Starts the names of layers of light without a role of their own. */
export const LIGHT_PREFIX = 'light.';
/** A pixel is off where the luminance of the gap is above this share of the beauty's, and above the floor: half floats, summed up ten times, stay below. Common practice, no source. */
const TOLERANCE = { share: 0.01, floor: 1e-3 };

export interface SumCheck {
  /** Layers that were summed. */
  parts: string[];
  /** Share of the pixels that are off, 0..1. */
  off: number;
  /** Mean luminance of the beauty picture, and of beauty minus the sum: above 0 light is missing from the parts. */
  beauty: number;
  gap: number;
  /** Largest gap, at a pixel of the frame. */
  worst: { x: number; y: number; gap: number };
}

/** Adds the layer of the gap where there are parts. */
export function addSumGap(picture: Picture): Picture {
  const parts = [...listLayers(picture).keys()].filter(
    (layer) => (LIGHT_ROLES as readonly string[]).includes(layer) || layer.startsWith(LIGHT_PREFIX),
  );
  const beauty = [...'RGB'].map((c) => findChannel(picture, MAIN_LAYER, c)?.data);
  if (parts.length === 0 || beauty.some((plane) => !plane)) return picture;
  const gaps = [...'RGB'].map((c, k) => {
    const data = Float32Array.from(beauty[k]!);
    for (const part of parts) {
      const own = findChannel(picture, part, c)?.data;
      if (own) for (let i = 0; i < data.length; i++) data[i] -= own[i];
    }
    return { name: `${SUM_GAP}.${c}`, type: 'float' as const, data };
  });
  return {
    ...picture,
    channels: [...picture.channels, ...gaps],
    metadata: { ...picture.metadata, [SUM_GAP]: JSON.stringify(parts) },
  };
}

/** @returns null where the picture has no parts to add up */
export function sumCheck(picture: Picture): SumCheck | null {
  const gaps = [...'RGB'].map((c) => findChannel(picture, SUM_GAP, c)?.data);
  if (gaps.some((plane) => !plane)) return null;
  const beauty = [...'RGB'].map((c) => findChannel(picture, MAIN_LAYER, c)!.data);
  const { x: left, y: top } = picture.dataWindow;
  const result: SumCheck = {
    parts: JSON.parse(picture.metadata[SUM_GAP]),
    off: 0,
    beauty: 0,
    gap: 0,
    worst: { x: left, y: top, gap: 0 },
  };
  const pixels = beauty[0].length;
  for (let i = 0; i < pixels; i++) {
    const y = luminance(beauty[0][i], beauty[1][i], beauty[2][i]);
    const gap = luminance(gaps[0]![i], gaps[1]![i], gaps[2]![i]);
    if (!Number.isFinite(gap)) continue;
    result.beauty += y / pixels;
    result.gap += gap / pixels;
    if (Math.abs(gap) > Math.max(TOLERANCE.floor, TOLERANCE.share * Math.abs(y))) result.off += 1 / pixels;
    if (Math.abs(gap) > Math.abs(result.worst.gap))
      result.worst = { x: left + (i % picture.width), y: top + Math.floor(i / picture.width), gap };
  }
  return result;
}
