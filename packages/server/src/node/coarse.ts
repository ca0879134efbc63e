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
      const from = (y * inside.width + Math.min(x, inside.width - 1)) * film.stride + FILM.beauty;
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
  const { channels, dataWindow } = picture as PackedPicture;
  const planes = [...'RGB'].map(
    (c) => (findChannel({ channels }, MAIN_LAYER, c) ?? findChannel({ channels }, MAIN_LAYER, 'Y'))?.data,
  );
  const empty = new Float32Array(planes.every(Boolean) ? 0 : dataWindow.width * dataWindow.height);
  const [red, green, blue] = planes.map((plane) => (plane ?? empty) as Float32Array);
  const small = coarseRegion(dataWindow);
  const halves = new Uint16Array(small.width * small.height * 3);
  // plain loops: arrays and a closure for each pixel took 8 s at 8192 x 4096
  for (let y = 0; y < small.height; y++)
    for (let x = 0; x < small.width; x++) {
      let [r, g, b, count] = [0, 0, 0, 0];
      const right = Math.min(dataWindow.width, (x + 1) * COARSE_STEP);
      const bottom = Math.min(dataWindow.height, (y + 1) * COARSE_STEP);
      for (let py = y * COARSE_STEP; py < bottom; py++)
        for (let at = py * dataWindow.width + x * COARSE_STEP; at < py * dataWindow.width + right; at++) {
          if (!Number.isFinite(red[at] + green[at] + blue[at])) continue;
          r += red[at];
          g += green[at];
          b += blue[at];
          count++;
        }
      const to = (y * small.width + x) * 3;
      halves[to] = toHalf(r / Math.max(1, count));
      halves[to + 1] = toHalf(g / Math.max(1, count));
      halves[to + 2] = toHalf(b / Math.max(1, count));
    }
  return new Uint8Array(halves.buffer);
}
