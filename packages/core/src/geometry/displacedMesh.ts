import type { MeshData } from '../formats/index.ts';
import type { DisplacementKind } from '../scene/index.ts';
import type { ShapedMesh } from './subdivision/index.ts';
import { vertexNormals } from './vertexNormals.ts';
import { weld } from './weld.ts';

export interface Displacement {
  kind: DisplacementKind;
  /** Of a difference of 1 in the map, metres. */
  scale: number;
  /** The value of the map that moves nothing. */
  neutral: number;
}

/** Linear RGBA of the map at (u, v) for a look-up that is `footprint` wide in UV, into out[0..3]. */
export type MapReader = (u: number, v: number, footprint: number, out: Float64Array) => void;

/**
 * A mesh as it came, to be displaced without subdivision: corners of one place with the same normal belong together.
 * @param together positions that tell what meets
 */
export function plainShape(mesh: MeshData, together = mesh.positions): ShapedMesh {
  const places = weld(together);
  let normals = mesh.normals;
  if (!normals) {
    const own = vertexNormals({ positions: mesh.positions, indices: mesh.indices.map((v) => places[v]) });
    normals = new Float32Array(own.length);
    places.forEach((first, v) => normals!.set(own.subarray(first * 3, first * 3 + 3), v * 3));
  }
  const owner = new Uint32Array(places.length);
  const points = new Map<string, number>();
  for (let v = 0; v < places.length; v++) {
    const key = `${places[v]}/${[0, 1, 2].map((k) => normals[v * 3 + k].toFixed(4)).join('/')}`;
    let point = points.get(key);
    if (point === undefined) points.set(key, (point = points.size));
    owner[v] = point;
  }
  const { positions, uvs, laterUvs, indices } = mesh;
  return { positions, normals, directions: normals, uvs, laterUvs, indices, owner, points: points.size, facets: owner, facetCount: points.size, copies: new Uint32Array(0) }; // prettier-ignore
}

/** How wide in UV each vertex stands for: the root of the area of its triangles, twice, a triangle being half a cell. // 1 a vertex */
export function vertexFootprints(indices: Uint32Array, uvs: Float32Array): Float32Array {
  const sums = new Float32Array(uvs.length / 2);
  const counts = new Float32Array(uvs.length / 2);
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t], indices[t + 1], indices[t + 2]];
    const area = Math.abs((uvs[b * 2] - uvs[a * 2]) * (uvs[c * 2 + 1] - uvs[a * 2 + 1]) - (uvs[c * 2] - uvs[a * 2]) * (uvs[b * 2 + 1] - uvs[a * 2 + 1])); // prettier-ignore
    const side = Math.sqrt(area);
    for (let k = 0; k < 3; k++) {
      sums[indices[t + k]] += side;
      counts[indices[t + k]]++;
    }
  }
  return sums.map((sum, v) => (counts[v] > 0 ? sum / counts[v] : 0));
}

/**
 * A mesh moved by a map. Each vertex asks the map at its own UVs, so that the sides of a seam part where the map differs there,
 * as they do in any renderer. Normals are those of the moved triangles, shared by the vertices of a facet.
 * @param uvs the set that the map lies by, 2 a vertex
 */
export function displacedMesh(
  shape: ShapedMesh,
  uvs: Float32Array,
  read: MapReader,
  { kind, neutral, scale }: Displacement,
): ShapedMesh {
  const { copies, directions, facets, indices } = shape;
  const count = shape.positions.length / 3;
  const own = count - copies.length;
  // the sides of a crease move as one
  const together = copies.length === 0 ? indices : indices.map((v) => (v < own ? v : copies[v - own]));
  const positions = new Float32Array(count * 3);
  const widths = vertexFootprints(together, uvs);
  const tangents = kind === 'tangentVector' ? tangentsOf(shape, together, uvs) : null;
  const rgba = new Float64Array(4);
  for (let v = 0; v < own; v++) {
    read(uvs[v * 2], uvs[v * 2 + 1], widths[v], rgba);
    for (let k = 0; k < 3; k++) {
      const n = directions[v * 3 + k];
      let move = rgba[k] - neutral;
      if (kind === 'height') move = (rgba[0] - neutral) * n;
      else if (tangents) move = (rgba[0] - neutral) * tangents[v * 6 + k] + (rgba[1] - neutral) * tangents[v * 6 + 3 + k] + (rgba[2] - neutral) * n; // prettier-ignore
      positions[v * 3 + k] = shape.positions[v * 3 + k] + scale * move;
    }
  }
  copies.forEach((v, i) => positions.copyWithin((own + i) * 3, v * 3, v * 3 + 3));
  const sums = new Float64Array(shape.facetCount * 3);
  for (let t = 0; t < indices.length; t += 3) {
    const a = indices[t] * 3;
    const b = indices[t + 1] * 3;
    const c = indices[t + 2] * 3;
    const ux = positions[b] - positions[a];
    const uy = positions[b + 1] - positions[a + 1];
    const uz = positions[b + 2] - positions[a + 2];
    const vx = positions[c] - positions[a];
    const vy = positions[c + 1] - positions[a + 1];
    const vz = positions[c + 2] - positions[a + 2];
    for (let k = 0; k < 3; k++) {
      const o = facets[indices[t + k]] * 3;
      sums[o] += uy * vz - uz * vy;
      sums[o + 1] += uz * vx - ux * vz;
      sums[o + 2] += ux * vy - uy * vx;
    }
  }
  const normals = new Float32Array(count * 3);
  for (let v = 0; v < count; v++) {
    const o = facets[v] * 3;
    const length = Math.sqrt(sums[o] ** 2 + sums[o + 1] ** 2 + sums[o + 2] ** 2);
    for (let k = 0; k < 3; k++) normals[v * 3 + k] = length > 0 ? sums[o + k] / length : shape.normals[v * 3 + k];
  }
  return { ...shape, positions, normals };
}

/** Unit directions of growing U, and of V upwards, along the surface. // 0..2 along U, 3..5 along V a vertex */
function tangentsOf({ directions, positions }: ShapedMesh, indices: Uint32Array, uvs: Float32Array): Float64Array {
  const along = new Float64Array(positions.length * 2);
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t], indices[t + 1], indices[t + 2]];
    const [u1, v1, u2, v2] = [uvs[b * 2] - uvs[a * 2], uvs[b * 2 + 1] - uvs[a * 2 + 1], uvs[c * 2] - uvs[a * 2], uvs[c * 2 + 1] - uvs[a * 2 + 1]]; // prettier-ignore
    const turn = Math.sign(u1 * v2 - u2 * v1);
    for (let k = 0; k < 3; k++) {
      const [e, f] = [positions[b * 3 + k] - positions[a * 3 + k], positions[c * 3 + k] - positions[a * 3 + k]];
      const [du, dv] = [turn * (e * v2 - f * v1), turn * (e * u2 - f * u1)];
      for (const v of [a, b, c]) {
        along[v * 6 + k] += du;
        along[v * 6 + 3 + k] += dv;
      }
    }
  }
  for (let v = 0; v < along.length; v += 6)
    for (const at of [v, v + 3]) {
      const n = v / 2;
      const off = [0, 1, 2].reduce((sum, k) => sum + along[at + k] * directions[n + k], 0);
      for (let k = 0; k < 3; k++) along[at + k] -= off * directions[n + k];
      const length = Math.hypot(along[at], along[at + 1], along[at + 2]) || 1;
      for (let k = 0; k < 3; k++) along[at + k] /= length;
    }
  return along;
}
