// How deep the shadows of a region are, from the light that they keep away, which a render carries as a layer of its own; and how
// deep they would be with other strengths of lights, from the layers of the groups, without a render.
import { cropPlane, type Picture, type Region } from '../../image/index.ts';
import { layerLuminance } from '../../render/index.ts';
import { apartAt } from '../rehearsal/apartAt.ts';

/** Side of the tiles whose means are compared, pixels: single pixels are noise. */
const TILE = 6;

/** Factors of strengths. */
export interface LightScales {
  /** By layer of a light group. */
  groups: Map<string, number>;
  /** Of the light whose shadow is looked for, and of all else that is kept away. */
  own: number;
  rest: number;
}

export interface ScaledShadow {
  scales: LightScales;
  /** The region with the light unshaded, as large and with the same random numbers: what it has more is that light's own. */
  unshaded: Picture;
}

/**
 * Difference in L* between what is seen and what would be seen without shadows: the mean over the shadows, in which each tile
 * counts by how deep it lies. The sky throws soft shadows nearly everywhere, and they count little. Seen as it is, or at the
 * shadow check where that shows more: what is white there shows nothing.
 * @param region within the picture
 * @param stops of the shadow check
 * @returns null where the picture does not say what shadows keep away; 0 where there are none
 */
export function shadowDepth(
  picture: Picture,
  region: Region,
  stops: number,
  scaled?: ScaledShadow,
  tile = TILE,
): number | null {
  const meansOf = (of: Picture, layer: string) => {
    const plane = layerLuminance(of, layer);
    return plane && tileMeans(cropPlane(of, plane, region), region.width, tile);
  };
  const light = meansOf(picture, 'beauty');
  const kept = meansOf(picture, 'shadow');
  if (!light || !kept) return null;
  if (scaled) {
    const { groups, own, rest } = scaled.scales;
    const unshaded = meansOf(scaled.unshaded, 'beauty')!;
    kept.forEach((all, i) => {
      const its = Math.min(all, Math.max(0, unshaded[i] - light[i]));
      kept[i] = own * its + rest * (all - its);
    });
    for (const [layer, by] of groups) meansOf(picture, layer)?.forEach((v, i) => (light[i] += (by - 1) * v));
  }
  const depths = light.map((v, i) => apartAt(stops, v + kept[i], v));
  const all = depths.reduce((sum, v) => sum + v, 0);
  return all > 0 ? depths.reduce((sum, v) => sum + v * v, 0) / all : 0;
}

function tileMeans(plane: Float32Array, width: number, tile: number): number[] {
  const columns = Math.ceil(width / tile);
  const rows = Math.ceil(plane.length / width / tile);
  const [sums, counts] = [new Array<number>(columns * rows).fill(0), new Array<number>(columns * rows).fill(0)];
  plane.forEach((v, i) => {
    const at = Math.floor(Math.floor(i / width) / tile) * columns + Math.floor((i % width) / tile);
    sums[at] += v;
    counts[at]++;
  });
  return sums.map((sum, i) => sum / counts[i]);
}
