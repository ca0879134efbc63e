import type { MeshData } from '../../formats/index.ts';
import { weld } from '../weld.ts';

/**
 * Faces of any number of corners over welded vertices, with face-varying values: a value belongs to one vertex, and
 * corners of one vertex share a value where their UVs are the same.
 */
export interface ControlMesh {
  positions: Float64Array; // 3 a vertex, metres
  /** Where its vertices are at its first time: creases are found there, so that they stay the same at all times. */
  restPositions: Float64Array; // 3 a vertex, metres
  faceStart: Uint32Array; // first corner of each face, and one past the last
  corners: Uint32Array; // vertex of each corner
  values: Float64Array; // `width` numbers a value: u, v of each set
  /** Numbers of a value: 0 without UVs, 2, or 4 for two sets. */
  width: number;
  valueCorners: Uint32Array; // value of each corner
  valueVertex: Uint32Array; // vertex of each value
  /** How many of its faces were put together from two triangles. */
  joined: number;
}

/** Triangles count as halves of quads where at least this share of a mesh joins to good ones. Common practice, no source. */
const MOSTLY_QUADS = 0.8;
/** The widest angle of a quad that two triangles are taken for, cosine: 150 degrees. */
const WIDEST = Math.cos((150 * Math.PI) / 180);
/** How far two halves of a quad may be bent, cosine: 50 degrees. */
const BENT = Math.cos((50 * Math.PI) / 180);

/**
 * The faces that a modeller saw: polygons where the file kept them; otherwise quads where a file cut them into two triangles
 * that follow each other, if nearly all of the mesh is such; otherwise its triangles. Vertices meet where their positions are
 * equal. Faces that fall together to less than three corners are left out.
 * @param together positions that tell what meets: those of the first time, where a mesh moves by itself
 */
export function controlMesh(mesh: MeshData, together = mesh.positions): ControlMesh {
  const { positions, indices, faceSizes } = mesh;
  const loops = faceSizes ? polygonsOf(indices, faceSizes) : quadsOf(together, indices);
  const first = weld(together);
  const sets = [mesh.uvs, mesh.laterUvs ?? null].filter((set) => set !== null);
  const width = sets.length * 2;
  const vertexOf = new Int32Array(first.length).fill(-1);
  const places: number[] = [];
  const rest: number[] = [];
  const valueOf = new Map<string, number>();
  const values: number[] = [];
  const valueVertex: number[] = [];
  const corners: number[] = [];
  const valueCorners: number[] = [];
  const faceStart = [0];
  for (const loop of loops.faces) {
    const kept = loop.filter((v, i) => first[v] !== first[loop[(i + 1) % loop.length]]);
    if (new Set(kept.map((v) => first[v])).size < kept.length || kept.length < 3) continue;
    for (const v of kept) {
      const root = first[v];
      if (vertexOf[root] < 0) {
        vertexOf[root] = places.length / 3;
        places.push(...positions.subarray(root * 3, root * 3 + 3));
        rest.push(...together.subarray(root * 3, root * 3 + 3));
      }
      const numbers = sets.flatMap((set) => [set[v * 2], set[v * 2 + 1]]);
      const key = `${root}/${numbers.join('/')}`;
      let value = valueOf.get(key);
      if (value === undefined) {
        valueOf.set(key, (value = valueVertex.length));
        values.push(...numbers);
        valueVertex.push(vertexOf[root]);
      }
      corners.push(vertexOf[root]);
      valueCorners.push(value);
    }
    faceStart.push(corners.length);
  }
  return {
    positions: Float64Array.from(places),
    restPositions: Float64Array.from(rest),
    faceStart: Uint32Array.from(faceStart),
    corners: Uint32Array.from(corners),
    values: Float64Array.from(values),
    width,
    valueCorners: Uint32Array.from(valueCorners),
    valueVertex: Uint32Array.from(valueVertex),
    joined: loops.joined,
  };
}

interface Loops {
  faces: number[][];
  joined: number;
}

/** The rims of polygons that were cut into triangles: each edge of one triangle alone is an edge of the polygon. */
function polygonsOf(indices: Uint32Array, faceSizes: Uint8Array): Loops {
  const faces: number[][] = [];
  let at = 0;
  for (const size of faceSizes) {
    const next = new Map<number, number>();
    const inner = new Set<string>();
    const end = at + 3 * (size - 2);
    for (let t = at; t < end; t += 3)
      for (let k = 0; k < 3; k++) inner.add(`${indices[t + k]}/${indices[t + ((k + 1) % 3)]}`);
    for (let t = at; t < end; t += 3)
      for (let k = 0; k < 3; k++) {
        const [a, b] = [indices[t + k], indices[t + ((k + 1) % 3)]];
        if (!inner.has(`${b}/${a}`)) next.set(a, b);
      }
    const start = next.keys().next().value;
    const loop: number[] = [];
    for (let v = start; v !== undefined && loop.length < size; v = next.get(v)) {
      loop.push(v);
      if (next.get(v) === start) break;
    }
    // a polygon that meets itself has no single rim: its triangles stand for it
    if (loop.length === size) faces.push(loop);
    else for (let t = at; t < end; t += 3) faces.push([...indices.subarray(t, t + 3)]);
    at = end;
  }
  return { faces, joined: 0 };
}

function quadsOf(positions: Float32Array, indices: Uint32Array): Loops {
  const faces: number[][] = [];
  const triangle = (t: number) => [indices[t], indices[t + 1], indices[t + 2]];
  let joined = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const quad = t + 3 < indices.length ? quadOf(positions, triangle(t), triangle(t + 3)) : null;
    faces.push(quad ?? triangle(t));
    if (!quad) continue;
    joined++;
    t += 3;
  }
  if (joined * 6 >= MOSTLY_QUADS * indices.length) return { faces, joined };
  return { faces: Array.from({ length: indices.length / 3 }, (_, i) => triangle(i * 3)), joined: 0 };
}

/** The quad of two triangles that share a diagonal, if it is convex and hardly bent. */
function quadOf(positions: Float32Array, one: number[], other: number[]): number[] | null {
  const apex = one.findIndex((v) => !other.includes(v));
  const far = other.find((v) => !one.includes(v));
  if (apex < 0 || far === undefined) return null;
  const [a, b, d] = [one[apex], one[(apex + 1) % 3], one[(apex + 2) % 3]];
  // the second triangle runs back along the diagonal
  if (other[(other.indexOf(d) + 1) % 3] !== b) return null;
  const quad = [a, b, far, d];
  const at = (v: number) => [positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]];
  const sub = (x: number[], y: number[]) => [x[0] - y[0], x[1] - y[1], x[2] - y[2]];
  const cross = (x: number[], y: number[]) => [x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0]]; // prettier-ignore
  const cosine = (x: number[], y: number[]) => (x[0] * y[0] + x[1] * y[1] + x[2] * y[2]) / (Math.hypot(...x) * Math.hypot(...y)); // prettier-ignore
  const points = quad.map(at);
  const bent = cosine(cross(sub(points[1], points[0]), sub(points[3], points[0])), cross(sub(points[3], points[2]), sub(points[1], points[2]))); // prettier-ignore
  if (!(bent > BENT)) return null;
  const wide = points.some((p, i) => !(cosine(sub(points[(i + 1) % 4], p), sub(points[(i + 3) % 4], p)) > WIDEST));
  return wide ? null : quad;
}
