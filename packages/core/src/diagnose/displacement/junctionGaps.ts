import { tJunctions, type MapReader } from '../../geometry/index.ts';
import { quantile } from '../../math/index.ts';
import type { DisplacedObject } from './displacedObject.ts';
import { sparse } from './mapDetail.ts';

export interface JunctionGaps {
  /** Vertices that lie on edges of faces that do not have them. */
  count: number;
  /** How far the map moves the worst of them away from its edge: metres in the world, and pixels of the shot. */
  length: number;
  gap: number;
}

/**
 * An edge is asked at its ends and where subdivision cuts it; between those it stays straight, while the vertex that lies on it
 * moves by its own look-up. How far the smoothing itself parts them is not counted.
 */
export function junctionGaps(of: DisplacedObject, read: MapReader): JunctionGaps {
  const { mesh, moved, object, pixels, stretch } = of;
  const uvs = (moved.texture.uvSet === 1 ? mesh.laterUvs : mesh.uvs)!;
  const found = tJunctions(mesh.positions, mesh.indices);
  const pieces = 2 ** object.subdivisionLevels;
  const rgba = new Float64Array(4);
  const channels = moved.kind === 'height' ? 1 : 3;
  const valueAt = (from: number, to: number, at: number) => {
    read(uvs[from * 2] + at * (uvs[to * 2] - uvs[from * 2]), uvs[from * 2 + 1] + at * (uvs[to * 2 + 1] - uvs[from * 2 + 1]), 0, rgba); // prettier-ignore
    return [...rgba.subarray(0, channels)];
  };
  let worst = 0;
  for (const { at, from, to, vertex } of found) {
    const own = valueAt(vertex, vertex, 0);
    const piece = Math.min(pieces - 1, Math.floor(at * pieces));
    const [start, end] = [valueAt(from, to, piece / pieces), valueAt(from, to, (piece + 1) / pieces)];
    const part = at * pieces - piece;
    worst = Math.max(worst, Math.hypot(...own.map((v, k) => v - start[k] - part * (end[k] - start[k]))));
  }
  const length = Math.abs(moved.scale) * worst;
  return { count: found.length, length: stretch * length, gap: length / quantile(sparse(pixels), 0.5) };
}
