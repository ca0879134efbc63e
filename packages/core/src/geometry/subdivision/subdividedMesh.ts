import { InputError, type MeshData } from '../../formats/index.ts';
import { controlMesh, type ControlMesh } from './controlMesh.ts';
import { limitSurface } from './limitSurface.ts';
import { firstLevel, refine, REFINE_DEFAULTS, type RefineOptions } from './refine.ts';

/** Triangles of which the vertices on a seam are there once for each side: `owner` tells which belong together. */
export interface ShapedMesh extends Pick<MeshData, 'laterUvs'> {
  positions: Float32Array; // 3 a vertex, metres
  normals: Float32Array; // 3 a vertex, unit: along these it is displaced
  uvs: Float32Array | null; // 2 a vertex
  indices: Uint32Array; // 3 a triangle
  owner: Uint32Array; // a number a vertex, the same for all vertices of one point
  points: number; // one more than the largest owner
}

/** What is refused, so that memory holds: about 300 bytes a triangle with the hierarchy. */
export const MOST_TRIANGLES = 8_000_000;

/** Triangles of a mesh at a level of subdivision. @param level at least 1 */
export const trianglesAt = ({ corners }: Pick<ControlMesh, 'corners'>, level: number) => 2 * corners.length * 4 ** (level - 1); // prettier-ignore

/**
 * A mesh subdivided and moved to its limit surface, at its first time.
 * @param levels at least 1
 * @param together as controlMesh has it
 * @throws InputError where it would become too large
 */
export function subdividedMesh(
  mesh: MeshData,
  levels: number,
  options: Partial<RefineOptions> = {},
  together = mesh.positions,
): ShapedMesh {
  // prettier-ignore
  const control = controlMesh(mesh, together);
  const triangles = trianglesAt(control, levels);
  if (triangles > MOST_TRIANGLES)
    throw new InputError(`${levels} levels of subdivision make ${(triangles / 1e6).toFixed(1)} million triangles of it; ${MOST_TRIANGLES / 1e6} million at most are taken: use fewer levels`); // prettier-ignore
  let level = firstLevel(control, { ...REFINE_DEFAULTS, ...options });
  for (let i = 0; i < levels; i++) level = refine(level);
  const { corners, valueCorners, values, valueVertex, width } = level;
  const limit = limitSurface(level);
  const count = valueVertex.length;
  const positions = new Float32Array(count * 3);
  const normals = new Float32Array(count * 3);
  const uvs = width > 0 ? new Float32Array(count * 2) : null;
  const laterUvs = width > 2 ? new Float32Array(count * 2) : null;
  for (let w = 0; w < count; w++) {
    const v = valueVertex[w] * 3;
    for (let k = 0; k < 3; k++) {
      positions[w * 3 + k] = limit.positions[v + k];
      normals[w * 3 + k] = limit.normals[v + k];
    }
    for (let k = 0; k < 2; k++) {
      if (uvs) uvs[w * 2 + k] = values[w * width + k];
      if (laterUvs) laterUvs[w * 2 + k] = values[w * width + 2 + k];
    }
  }
  const indices = new Uint32Array((corners.length / 4) * 6);
  for (let c = 0, i = 0; c < valueCorners.length; c += 4) {
    const a = valueCorners[c];
    const across = valueCorners[c + 2];
    indices[i++] = a;
    indices[i++] = valueCorners[c + 1];
    indices[i++] = across;
    indices[i++] = a;
    indices[i++] = across;
    indices[i++] = valueCorners[c + 3];
  }
  return { positions, normals, uvs, ...(laterUvs && { laterUvs }), indices, owner: valueVertex, points: level.positions.length / 3 }; // prettier-ignore
}
