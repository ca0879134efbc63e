// Hit distances for every pixel of a region, from a render of its own: the layer alone, with its rays counted by distance.
import { findChannel, type Region } from '../../image/index.ts';
import { HIT_RINGS, hitChannel, HITS } from '../../render/index.ts';
import type { Patch } from '../../scene/index.ts';
import type { DiagnosisContext } from '../contract.ts';
import { setTo } from '../limits/setTo.ts';
import { planeBytes } from './dialLayer.ts';
import { words } from './words.ts';

export const SKETCH_RENDER_DEFAULTS = {
  /** Larger regions are not rendered: their data would take more than 64 MB for each way of clear surfaces. */
  pixels: 1_050_000,
  /** Rays of all pixels together, so that it takes some seconds. */
  rays: 4_000_000,
  /** Of a pixel, at least and at most. */
  least: 8,
  most: 32,
} as const;

/** Camera samples of a pixel. They smooth edges, and each takes as long as eight rays. */
const PIXEL_SAMPLES = 2;

export interface SketchPlanes {
  /** For each way of clear surfaces, in it for each cone, in it for each distance a plane (`planeBytes`): shares of stopped rays in 255 parts. */
  bytes: Uint8Array;
  /** Of each pixel. */
  rays: number;
}

/**
 * @param values distances, m, shortest first @param clear whether clear surfaces count, one way or both
 * @returns null where the region is too large
 */
export async function sketchRender(
  { pause, scene, use }: Pick<DiagnosisContext, 'pause' | 'scene' | 'use'>,
  region: Region,
  values: number[],
  clear: boolean[],
): Promise<SketchPlanes | null> {
  const { least, most, pixels, rays: all } = SKETCH_RENDER_DEFAULTS;
  const size = region.width * region.height;
  if (!scene || size > pixels) return null;
  const samples = Math.round(Math.min(most, Math.max(least, all / size)) / PIXEL_SAMPLES);
  const planes = HIT_RINGS * values.length;
  const each = planeBytes(size);
  const bytes = new Uint8Array(clear.length * planes * each);
  for (const [way, blocks] of clear.entries()) {
    const patch: Patch = [
      setTo(use, 'clay', true),
      setTo(use, 'pixelSamples', PIXEL_SAMPLES),
      setTo(use, 'adaptive/limit', 0),
      setTo(use, 'occlusion/samples', samples),
      setTo(use, 'occlusion/distance', values.at(-1)!),
      setTo(use, 'occlusion/clearSurfaces', blocks),
    ];
    const { picture } = await scene.render({ title: words.sketching, region, patch, extras: [{ hits: values }], layers: /^hits$/ }); // prettier-ignore
    for (let k = 0; k < planes; k++) {
      const { data } = findChannel(picture, HITS, hitChannel(Math.floor(k / values.length), k % values.length))!;
      const at = (way * planes + k) * each;
      for (let i = 0; i < size; i++) bytes[at + i] = Math.round(255 * data[i]);
      await pause();
    }
  }
  return { bytes, rays: samples * PIXEL_SAMPLES };
}
