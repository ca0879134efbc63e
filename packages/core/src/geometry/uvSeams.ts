import type { MeshData } from '../formats/index.ts';
import { weld } from './weld.ts';

/** UVs that differ by less meet. */
const SAME_UV = 1e-5;

/**
 * Edges along which the UVs of a mesh are cut: both sides meet in space and not in UV. Edges with one triangle are the rim
 * of the mesh and no seams. Vertices meet where their positions are equal.
 * @returns // 0..2 from, 3..5 to, metres, an edge; empty where there are no UVs
 */
export function uvSeams(mesh: Pick<MeshData, 'positions' | 'indices'>, uvs: Float32Array | null): Float32Array {
  const { positions } = mesh;
  const at = (v: number) => [...positions.subarray(v * 3, v * 3 + 3)];
  return Float32Array.from(cutEdges(mesh, uvs).flatMap(([a, b]) => [...at(a), ...at(b)]));
}

/** The UVs of both sides of these edges. @returns // 0..1 from, 2..3 to, 4..7 the same of the other side */
export function uvSeamSides(mesh: Pick<MeshData, 'positions' | 'indices'>, uvs: Float32Array): Float64Array {
  return Float64Array.from(cutEdges(mesh, uvs).flatMap((edge) => edge.flatMap((v) => [uvs[v * 2], uvs[v * 2 + 1]])));
}

/** Vertices of one side, from and to, and of the other. */
function cutEdges(
  { positions, indices }: Pick<MeshData, 'positions' | 'indices'>,
  uvs: Float32Array | null,
): [a: number, b: number, otherA: number, otherB: number][] {
  if (!uvs) return [];
  const corner = weld(positions);
  const count = positions.length / 3;
  /** The first triangle's vertices at each edge, by the edge's welded ends. */
  const edges = new Map<number, [number, number]>();
  const seams: [number, number, number, number][] = [];
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
      else if (apart(a, other[0]) || apart(b, other[1])) seams.push([a, b, ...other]);
    }
  return seams;
}
