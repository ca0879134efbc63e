import type { RimRule, UvRule } from '../../scene/index.ts';
import type { ControlMesh } from './controlMesh.ts';
import type { Level } from './refine.ts';
import { valueTags } from './uvRules.ts';

export interface RefineOptions {
  uvRule: UvRule;
  rim: RimRule;
  /** Edges between faces that are bent by more, degrees, stay sharp. 180: none. */
  creaseAngle: number;
}
export const REFINE_DEFAULTS: RefineOptions = {
  uvRule: 'cornersPlus1',
  rim: 'edgeAndCorner',
  creaseAngle: 180,
};

/** Finds the edges of a mesh, and what they and its vertices do in subdivision. */
export function firstLevel(mesh: ControlMesh, options: RefineOptions): Level {
  const { faceStart, corners, positions, valueCorners, valueVertex } = mesh;
  const vertices = positions.length / 3;
  const cornerEdges = new Uint32Array(corners.length);
  const edges = new Map<number, number>();
  const ends: number[] = [];
  const edgeCorner: number[] = [];
  const sides: number[][] = [];
  for (let f = 0; f + 1 < faceStart.length; f++)
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const next = c + 1 < faceStart[f + 1] ? c + 1 : faceStart[f];
      const [a, b] = [corners[c], corners[next]];
      const key = a < b ? a * vertices + b : b * vertices + a;
      let edge = edges.get(key);
      if (edge === undefined) {
        edges.set(key, (edge = edgeCorner.length));
        ends.push(a, b);
        edgeCorner.push(c);
        sides.push([]);
      }
      cornerEdges[c] = edge;
      sides[edge].push(f, valueCorners[c], valueCorners[next], a);
    }
  const count = edgeCorner.length;
  const normals = faceNormals(mesh);
  const bend = Math.cos((options.creaseAngle * Math.PI) / 180);
  const edgeSharpness = new Float32Array(count);
  const cut = new Uint8Array(count);
  const vertexSharpness = new Float32Array(vertices);
  const facesAt = new Uint32Array(vertices);
  const rim = new Uint8Array(vertices);
  for (const v of corners) facesAt[v]++;
  for (let e = 0; e < count; e++) {
    const side = sides[e];
    const two = side.length === 8;
    if (!two) {
      edgeSharpness[e] = Infinity;
      cut[e] = 1;
      for (const v of [ends[e * 2], ends[e * 2 + 1]]) {
        rim[v] = 1;
        // more than two faces at an edge have no smooth surface
        if (side.length > 8) vertexSharpness[v] = Infinity;
      }
      continue;
    }
    const [f, a, b, from, g, c, d, start] = side;
    const [atA, atB] = from === start ? [c, d] : [d, c];
    cut[e] = atA !== a || atB !== b ? 1 : 0;
    const cosine = [0, 1, 2].reduce((sum, k) => sum + normals[f * 3 + k] * normals[g * 3 + k], 0);
    if (options.creaseAngle < 180 && cosine < bend) edgeSharpness[e] = Infinity;
  }
  for (let v = 0; v < vertices; v++)
    if (options.rim === 'edgeAndCorner' && rim[v] === 1 && facesAt[v] === 1) vertexSharpness[v] = Infinity;
  const stiff = Uint8Array.from(vertexSharpness, (s) => (s === Infinity ? 1 : 0));
  return {
    positions,
    faceStart,
    corners,
    values: mesh.values,
    width: mesh.width,
    valueCorners,
    valueVertex,
    cornerEdges,
    edgeEnds: Uint32Array.from(ends),
    edgeCorner: Uint32Array.from(edgeCorner),
    edgeSharpness,
    vertexSharpness,
    cut,
    tags: valueTags(mesh, options.uvRule, cut, cornerEdges, stiff, rim),
    straightBorders: options.uvRule === 'boundaries' || options.uvRule === 'all',
    linear: options.uvRule === 'all',
    fades: edgeSharpness.some((s) => s > 0 && s < Infinity),
  };
}

/** Unit normals of faces of any number of corners (Newell's method). // 3 a face */
function faceNormals({ faceStart, corners, restPositions: positions }: ControlMesh): Float64Array {
  const normals = new Float64Array((faceStart.length - 1) * 3);
  for (let f = 0; f + 1 < faceStart.length; f++) {
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const a = corners[c] * 3;
      const b = corners[c + 1 < faceStart[f + 1] ? c + 1 : faceStart[f]] * 3;
      for (let k = 0; k < 3; k++) {
        const [i, j] = [(k + 1) % 3, (k + 2) % 3];
        normals[f * 3 + k] += (positions[a + i] - positions[b + i]) * (positions[a + j] + positions[b + j]);
      }
    }
    const length = Math.hypot(normals[f * 3], normals[f * 3 + 1], normals[f * 3 + 2]) || 1;
    for (let k = 0; k < 3; k++) normals[f * 3 + k] /= length;
  }
  return normals;
}
