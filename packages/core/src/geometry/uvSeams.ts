import type { MeshData } from '../formats/index.ts';
import { weld } from './weld.ts';

/** UVs that differ by less meet. */
const SAME_UV = 1e-5;

/**
 * Edges along which the UVs of a mesh are cut: both sides meet in space and not in UV. Edges with one triangle are the rim
 * of the mesh and no seams. Vertices meet where their positions are equal.
 * @returns // 0..2 from, 3..5 to, metres, an edge; empty where there are no UVs
 */
export function uvSeams(
  { positions, indices }: Pick<MeshData, 'positions' | 'indices'>,
  uvs: Float32Array | null,
): Float32Array {
  if (!uvs) return new Float32Array(0);
  const corner = weld(positions);
  const count = positions.length / 3;
  /** The first triangle's vertices at each edge, by the edge's welded ends. */
  const edges = new Map<number, [number, number]>();
  const seams: number[] = [];
  const apart = (a: number, b: number) =>
    Math.abs(uvs[a * 2] - uvs[b * 2]) > SAME_UV || Math.abs(uvs[a * 2 + 1] - uvs[b * 2 + 1]) > SAME_UV;
  for (let t = 0; t < indices.length; t += 3)
    for (let k = 0; k < 3; k++) {
      let a = indices[t + k];
      let b = indices[t + ((k + 1) % 3)];
      if (corner[a] > corner[b]) [a, b] = [b, a];
      if (corner[a] === corner[b]) continue;
      const edge = corner[a] * count + corner[b];
      const other = edges.get(edge);
      if (!other) edges.set(edge, [a, b]);
      else if (apart(a, other[0]) || apart(b, other[1]))
        seams.push(...positions.subarray(a * 3, a * 3 + 3), ...positions.subarray(b * 3, b * 3 + 3));
    }
  return Float32Array.from(seams);
}
