// Occlusion that surfaces multiply into their base: what it takes from the picture, and what the picture is without it.
import { lightness, luminance } from '../../color/index.ts';
import { cropPlane, findChannel, occlusionFactor, planeSum, type Picture, type Region } from '../../image/index.ts';
import { layerLuminance } from '../../render/index.ts';
import type { Patch, ShotDocument } from '../../scene/index.ts';
import type { Effect } from '../remedy.ts';
import type { Reference } from '../reference.ts';
import { occlusionPlane } from './occlusionPlane.ts';

/** Share of indirect diffuse light from which corners are darkened twice. Common practice, no source. */
export const TRACED = 0.05;
/** Least factor that is divided by: below it the light that was there cannot be recovered. No source. */
const DARKEST = 0.02;
/** Of the light that comes back, what single samples leave open. No source. */
const RANGE = 0.3;

export interface InSurfaces {
  surfaces: { id: string; name: string }[];
  /** L* that it takes of their pixels, on average. */
  taken: number;
  /** Of the light of the region, what came from matt surface to matt surface. */
  indirect: number;
  patch: Patch;
  about: Reference[];
  /** Mean luminance of the region without it. */
  effect: Effect;
}

/** Null where no surface that is seen does, or the picture has no layer. @param ids of the objects, by their numbers */
export function inSurfaces(picture: Picture, region: Region, document: ShotDocument, ids: string[]): InSurfaces | null {
  const open = occlusionPlane(picture, region);
  const plane = (layer: string, channel: string) => {
    const data = findChannel(picture, layer, channel)?.data;
    return data && cropPlane(picture, data, region);
  };
  const object = plane('object', 'id');
  const [beauty, direct, indirect] = ['beauty', 'directDiffuse', 'indirectDiffuse'].map((layer) => [...'RGB'].map((c) => plane(layer, c))); // prettier-ignore
  if (!open || !object || [...beauty, ...direct, ...indirect].some((p) => !p)) return null;
  const surfaces = new Map<string, string>();
  let [taken, count, before, after] = [0, 0, 0, 0];
  for (let i = 0; i < open.length; i++) {
    const y = luminance(beauty[0]![i], beauty[1]![i], beauty[2]![i]);
    before += y;
    const id = object[i] > 0 ? document.objects[ids[object[i] - 1]].surface : null;
    const surface = id === null ? null : document.surfaces[id];
    if (!surface || surface.occlusion_strength === 0) {
      after += y;
      continue;
    }
    surfaces.set(id!, surface.name);
    const [r, g, b] = [0, 1, 2].map((k) => {
      const factor = occlusionFactor(open[i], { strength: surface.occlusion_strength, contrast: 1 }, surface.occlusion_tint[k]); // prettier-ignore
      return (direct[k]![i] + indirect[k]![i]) * (1 / Math.max(DARKEST, factor) - 1);
    });
    const without = y + luminance(r, g, b);
    after += without;
    taken += lightness(without) - lightness(y);
    count++;
  }
  if (count === 0) return null;
  const light = (layer: string) => planeSum(picture, layerLuminance(picture, layer) ?? undefined, region);
  const [now, value] = [before / open.length, after / open.length];
  const margin = RANGE * (value - now) + 0.01 * value;
  return {
    surfaces: [...surfaces].map(([id, name]) => ({ id, name })),
    taken: taken / count,
    indirect: light('indirectDiffuse') / Math.max(1e-12, light('beauty')),
    patch: [...surfaces.keys()].map((id) => ({ op: 'replace', path: `/surfaces/${id}/occlusion_strength`, value: 0 })),
    about: [...surfaces].map(([id, name]) => ({ type: 'surface', id, name })),
    effect: { measure: 'luminance', now, target: null, value, low: value - margin, high: value + margin },
  };
}
