import { InputError, type MeshData } from '../../formats/index.ts';
import { controlMesh, type ControlMesh } from './controlMesh.ts';
import { firstLevel, REFINE_DEFAULTS, type RefineOptions } from './firstLevel.ts';
import { limitSurface, type LimitSurface } from './limitSurface.ts';
import { refine, type Level } from './refine.ts';

/**
 * Triangles of which the vertices on a seam are there once for each side, and those on a crease once for each that is shaded
 * by itself: `owner` tells which belong together.
 */
export interface ShapedMesh extends Pick<MeshData, 'laterUvs'> {
  positions: Float32Array; // 3 a vertex, metres
  normals: Float32Array; // 3 a vertex, unit: by these it is shaded
  directions: Float32Array; // 3 a vertex, unit: along these it is displaced
  uvs: Float32Array | null; // 2 a vertex
  indices: Uint32Array; // 3 a triangle
  owner: Uint32Array; // a number a vertex, the same for all vertices of one point
  points: number; // one more than the largest owner
  facets: Uint32Array; // a number a vertex, the same for all that share a normal
  facetCount: number; // one more than the largest of them
  /** The last vertices repeat others across a crease, with their UVs: which others. */
  copies: Uint32Array;
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
  const { valueCorners, values, valueVertex, width } = level;
  const limit = limitSurface(level);
  const points = level.positions.length / 3;
  const { copies, facets, vertices } = partCreases(level, limit);
  const count = facets.length;
  const shared = valueVertex.length;
  const positions = new Float32Array(count * 3);
  const directions = new Float32Array(count * 3);
  const normals = limit.shadedBy ? new Float32Array(count * 3) : directions;
  const owner = new Uint32Array(count);
  const uvs = width > 0 ? new Float32Array(count * 2) : null;
  const laterUvs = width > 2 ? new Float32Array(count * 2) : null;
  for (let at = 0; at < count; at++) {
    const w = at < shared ? at : copies[at - shared];
    const v = (owner[at] = valueVertex[w]) * 3;
    for (let k = 0; k < 3; k++) {
      positions[at * 3 + k] = limit.positions[v + k];
      directions[at * 3 + k] = limit.normals[v + k];
      normals[at * 3 + k] = limit.normals[facets[at] * 3 + k];
    }
    for (let k = 0; k < 2; k++) {
      if (uvs) uvs[at * 2 + k] = values[w * width + k];
      if (laterUvs) laterUvs[at * 2 + k] = values[w * width + 2 + k];
    }
  }
  const indices = new Uint32Array((valueCorners.length / 4) * 6);
  for (let c = 0, i = 0; c < valueCorners.length; c += 4) {
    const a = vertices[c];
    const across = vertices[c + 2];
    indices[i++] = a;
    indices[i++] = vertices[c + 1];
    indices[i++] = across;
    indices[i++] = a;
    indices[i++] = across;
    indices[i++] = vertices[c + 3];
  }
  return { positions, normals, directions, uvs, ...(laterUvs && { laterUvs }), indices, owner, points, facets, facetCount: limit.normals.length / 3, copies }; // prettier-ignore
}

/** Gives each value a vertex for each of the normals that its corners are shaded by. */
function partCreases({ valueCorners, valueVertex }: Level, { shadedBy }: LimitSurface) {
  if (!shadedBy) return { vertices: valueCorners, facets: valueVertex, copies: new Uint32Array(0) };
  const vertices = valueCorners.slice();
  const facets = new Int32Array(valueVertex.length).fill(-1);
  const copies: number[] = [];
  const copyFacets: number[] = [];
  const copyOf = new Map<number, number>();
  valueCorners.forEach((w, c) => {
    const facet = shadedBy[c];
    if (facets[w] < 0) facets[w] = facet;
    if (facets[w] === facet) return;
    const key = facet * valueVertex.length + w;
    let copy = copyOf.get(key);
    if (copy === undefined) {
      copyOf.set(key, (copy = valueVertex.length + copies.length));
      copies.push(w);
      copyFacets.push(facet);
    }
    vertices[c] = copy;
  });
  facets.forEach((facet, w) => {
    if (facet < 0) facets[w] = valueVertex[w];
  });
  const allFacets = new Uint32Array(facets.length + copies.length);
  allFacets.set(facets);
  allFacets.set(copyFacets, facets.length);
  return { vertices, facets: allFacets, copies: Uint32Array.from(copies) };
}
