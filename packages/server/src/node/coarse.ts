import { toHalf } from '@dusting/core/formats';
import { FILM, frameOf, PathTracer, renderChunk } from '@dusting/core/render';
import { forgetLookUps, largeTextures, type LargeTexture } from '@dusting/core/shade';
import { findChannel, MAIN_LAYER, type PackedPicture, type Picture, type Region } from '@dusting/core/image';
import type { LoadedScene } from './sceneLoader.ts';

/** One pixel of the coarse picture stands for so many of the proof, each way. */
export const COARSE_STEP = 4;

export interface FirstLook {
  /** RGB halves, row by row. */
  coarse: Uint8Array;
  textures: LargeTexture[];
}

/** A quick look at the region: one sample for every 16 pixels. */
export function renderCoarse({ document, scene, settings }: LoadedScene, region: Region): FirstLook {
  const small = {
    ...settings,
    width: Math.max(1, Math.round(settings.width / COARSE_STEP)),
    height: Math.max(1, Math.round(settings.height / COARSE_STEP)),
    transmissionSamples: 1,
    volumeSamples: 1,
    specularSamples: 1,
    diffuseSamples: 1,
  };
  const part = coarseRegion(region);
  const tracer = new PathTracer(scene, small);
  const inside = { ...part, width: Math.max(1, Math.min(part.width, frameOf(small).width - part.x)) };
  forgetLookUps(scene.textures);
  const film = renderChunk(tracer, { region: inside, sampleStart: 0, sampleCount: 1 });
  const halves = new Uint16Array(part.width * part.height * 3);
  for (let y = 0; y < part.height; y++)
    for (let x = 0; x < part.width; x++) {
      const from = (y * inside.width + Math.min(x, inside.width - 1)) * FILM.stride + FILM.beauty;
      for (let k = 0; k < 3; k++) halves[(y * part.width + x) * 3 + k] = toHalf(film.data[from + k]);
    }
  const textures = largeTextures(scene.textures, Object.values(document.textures), COARSE_STEP);
  return { coarse: new Uint8Array(halves.buffer), textures };
}

export function coarseRegion(region: Region): Region {
  return {
    x: Math.floor(region.x / COARSE_STEP),
    y: Math.floor(region.y / COARSE_STEP),
    width: Math.max(1, Math.ceil(region.width / COARSE_STEP)),
    height: Math.max(1, Math.ceil(region.height / COARSE_STEP)),
  };
}

/** A picture at the same small size: means over its pixels, without those that are no numbers. Its beauty is not packed. */
export function shrinkPicture(picture: Picture | PackedPicture): Uint8Array {
  const { channels } = picture as PackedPicture;
  const planes = [...'RGB'].map(
    (c) => (findChannel({ channels }, MAIN_LAYER, c) ?? findChannel({ channels }, MAIN_LAYER, 'Y'))?.data,
  );
  return shrink(picture.dataWindow, (pixel, sums) => {
    const rgb = planes.map((plane) => plane?.[pixel] ?? 0);
    if (!rgb.every(Number.isFinite)) return 0;
    for (let k = 0; k < 3; k++) sums[k] += rgb[k];
    return 1;
  });
}

/** @param add adds a pixel to the sums and returns its weight */
function shrink(region: Region, add: (pixel: number, sums: number[]) => number): Uint8Array {
  const small = coarseRegion(region);
  const halves = new Uint16Array(small.width * small.height * 3);
  for (let y = 0; y < small.height; y++)
    for (let x = 0; x < small.width; x++) {
      const sums = [0, 0, 0];
      let samples = 0;
      for (let py = y * COARSE_STEP; py < Math.min(region.height, (y + 1) * COARSE_STEP); py++)
        for (let px = x * COARSE_STEP; px < Math.min(region.width, (x + 1) * COARSE_STEP); px++)
          samples += add(py * region.width + px, sums);
      for (let k = 0; k < 3; k++) halves[(y * small.width + x) * 3 + k] = toHalf(sums[k] / Math.max(1, samples));
    }
  return new Uint8Array(halves.buffer);
}
