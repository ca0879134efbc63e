import type { Level } from './refine.ts';

export interface LimitSurface {
  positions: Float64Array; // 3 a vertex, metres
  /** Unit: of each vertex one along which a map moves it, then those of the sides of creases. // 3 a normal */
  normals: Float64Array;
  /** Which of the normals each corner is shaded by; null: that of its vertex. */
  shadedBy: Uint32Array | null;
}

/**
 * Where the vertices of a level end after endless subdivision, and the normals there: the masks of Halstead, Kass & DeRose
 * 1993, "Efficient, fair interpolation using Catmull-Clark surfaces", and on rims and on either side of a crease those of
 * Biermann, Levin & Zorin 2000, "Piecewise smooth subdivision surfaces with normal control". A vertex on a crease has a normal
 * for each side, and moves along the mean of them, so that the sides stay together. (The mean of its faces by their area would
 * jump from vertex to vertex of a crease, as faces that end in a nearly straight corner are small.)
 * @param level the first level or later, whose faces have four corners
 */
export function limitSurface(level: Level): LimitSurface {
  const { corners, cornerEdges, cut, edgeEnds, edgeSharpness, positions, vertexSharpness } = level;
  const vertices = positions.length / 3;
  const outOf = outgoingCorners(level);
  // the corner to start from: any, or the first one from the rim
  const start = new Int32Array(vertices).fill(-1);
  const rim = new Uint8Array(vertices);
  for (let e = 0; e < edgeSharpness.length; e++)
    if (outOf[e * 2] < 0 || outOf[e * 2 + 1] < 0) rim[edgeEnds[e * 2]] = rim[edgeEnds[e * 2 + 1]] = 1;
  for (let c = 0; c < corners.length; c++) {
    const v = corners[c];
    const e = cornerEdges[c];
    const isFirst = rim[v] === 1 && cut[e] === 1 && outOf[e * 2 + (edgeEnds[e * 2] === v ? 1 : 0)] < 0;
    if (start[v] < 0 || isFirst) start[v] = c;
  }
  const limits = new Float64Array(positions.length);
  const normals = new Float64Array(positions.length);
  const ring: Ring = { edges: [], diagonals: [], corners: [], sharp: [], isOpen: false };
  const sides: number[] = [];
  let shadedBy: Uint32Array | null = null;
  for (let v = 0; v < vertices; v++) {
    if (start[v] < 0) {
      limits.set(positions.subarray(v * 3, v * 3 + 3), v * 3);
      continue;
    }
    walkRing(level, outOf, v, start[v], ring);
    const { edges, isOpen, sharp } = ring;
    const isCorner = vertexSharpness[v] > 0 || sharp.length > 2;
    const isCrease = !isCorner && sharp.length === 2;
    if (isCorner) limits.set(positions.subarray(v * 3, v * 3 + 3), v * 3);
    else if (isCrease) creaseLimit(positions, v, edges[sharp[0]], edges[sharp[1]], limits);
    else smoothLimit(positions, v, ring, limits);
    if (!isCorner && !isCrease && !isOpen) smoothNormal(positions, ring, normals, v * 3);
    else if (isCrease && isOpen) rimNormal(positions, v, ring, normals, v * 3);
    else facesNormal(positions, v, ring, normals, v * 3);
    const parted = sharp.length - (isOpen ? 1 : 0);
    if (parted < 2) continue;
    shadedBy ??= Uint32Array.from(corners);
    normals.fill(0, v * 3, v * 3 + 3);
    for (let i = 0; i < parted; i++) {
      const side = sideOf(ring, sharp[i], sharp[(i + 1) % sharp.length]);
      const normal = [0, 0, 0];
      (isCorner ? facesNormal : rimNormal)(positions, v, side, normal, 0);
      for (const c of side.corners) shadedBy[c] = vertices + sides.length / 3;
      sides.push(...normal);
      for (let k = 0; k < 3; k++) normals[v * 3 + k] += normal[k];
    }
    unit(v * 3, normals);
  }
  if (!shadedBy) return { positions: limits, normals, shadedBy };
  const all = new Float64Array(normals.length + sides.length);
  all.set(normals);
  all.set(sides, normals.length);
  return { positions: limits, normals: all, shadedBy };
}

/** What lies around a vertex, counter-clockwise: face i lies between the edges i and i + 1. */
interface Ring {
  edges: number[]; // vertices at their far ends
  diagonals: number[]; // vertices across the faces
  corners: number[]; // those of the faces at the vertex
  sharp: number[]; // which of the edges are
  isOpen: boolean;
}

/** The faces from one sharp edge to the next. */
function sideOf({ corners, diagonals, edges }: Ring, from: number, to: number): Ring {
  const n = edges.length;
  const side: Ring = { edges: [edges[from]], diagonals: [], corners: [], sharp: [], isOpen: true };
  for (let i = from; ;) {
    side.diagonals.push(diagonals[i]);
    side.corners.push(corners[i]);
    i = (i + 1) % n;
    side.edges.push(edges[i]);
    if (i === to) return side;
  }
}

/** For each end of each edge, the corner there whose face runs along the edge away from it; -1: there is none. */
function outgoingCorners({ corners, cornerEdges, edgeEnds, edgeSharpness }: Level): Int32Array {
  const outOf = new Int32Array(edgeSharpness.length * 2).fill(-1);
  for (let c = 0; c < corners.length; c++) {
    const e = cornerEdges[c];
    outOf[e * 2 + (edgeEnds[e * 2] === corners[c] ? 0 : 1)] = c;
  }
  return outOf;
}

/** The neighbours of a vertex in counter-clockwise order: along edges, and across faces. */
function walkRing(level: Level, outOf: Int32Array, v: number, start: number, ring: Ring): void {
  const { corners, cornerEdges, edgeEnds, edgeSharpness } = level;
  ring.edges.length = ring.diagonals.length = ring.corners.length = ring.sharp.length = 0;
  ring.isOpen = false;
  let c = start;
  for (;;) {
    const e = cornerEdges[c];
    const far = edgeEnds[e * 2] === v ? edgeEnds[e * 2 + 1] : edgeEnds[e * 2];
    if (edgeSharpness[e] > 0) ring.sharp.push(ring.edges.length);
    ring.edges.push(far);
    ring.corners.push(c);
    const face = c & ~3;
    ring.diagonals.push(corners[face + ((c + 2) & 3)]);
    const back = cornerEdges[face + ((c + 3) & 3)];
    const next = outOf[back * 2 + (edgeEnds[back * 2] === v ? 0 : 1)];
    if (next === start || ring.edges.length > 255) return;
    if (next < 0) {
      const last = edgeEnds[back * 2] === v ? edgeEnds[back * 2 + 1] : edgeEnds[back * 2];
      if (edgeSharpness[back] > 0) ring.sharp.push(ring.edges.length);
      ring.edges.push(last);
      ring.isOpen = true;
      return;
    }
    c = next;
  }
}

function smoothLimit(positions: Float64Array, v: number, { edges, diagonals }: Ring, out: Float64Array): void {
  const n = edges.length;
  for (let k = 0; k < 3; k++) {
    let sum = n * n * positions[v * 3 + k];
    for (let i = 0; i < n; i++) sum += 4 * positions[edges[i] * 3 + k];
    for (let i = 0; i < diagonals.length; i++) sum += positions[diagonals[i] * 3 + k];
    out[v * 3 + k] = sum / (n * n + 4 * n + diagonals.length);
  }
}

function creaseLimit(positions: Float64Array, v: number, a: number, b: number, out: Float64Array): void {
  for (let k = 0; k < 3; k++) out[v * 3 + k] = (positions[a * 3 + k] + 4 * positions[v * 3 + k] + positions[b * 3 + k]) / 6; // prettier-ignore
}

type Out = Float64Array | number[];

const along = new Float64Array(3);
const across = new Float64Array(3);

/** Cosines and sines of the directions around a vertex of n edges, the first one again at the end. */
const TURNS: { weight: number; cosines: Float64Array; sines: Float64Array }[] = [];

function turnsOf(n: number) {
  const turn = (2 * Math.PI) / n;
  return (TURNS[n] ??= {
    weight: 1 + Math.cos(turn) + Math.cos(turn / 2) * Math.sqrt(2 * (9 + Math.cos(turn))),
    cosines: Float64Array.from({ length: n + 1 }, (_, i) => Math.cos(i * turn)),
    sines: Float64Array.from({ length: n + 1 }, (_, i) => Math.sin(i * turn)),
  });
}

function smoothNormal(positions: Float64Array, { edges, diagonals }: Ring, out: Out, at: number): void {
  const n = edges.length;
  const { cosines, sines, weight } = turnsOf(n);
  along.fill(0);
  across.fill(0);
  for (let i = 0; i < n; i++) {
    const e = edges[i] * 3;
    const d = diagonals[i] * 3;
    const c = weight * cosines[i];
    const s = weight * sines[i];
    const cBetween = cosines[i] + cosines[i + 1];
    const sBetween = sines[i] + sines[i + 1];
    for (let k = 0; k < 3; k++) {
      along[k] += c * positions[e + k] + cBetween * positions[d + k];
      across[k] += s * positions[e + k] + sBetween * positions[d + k];
    }
  }
  cross(out, at);
}

function rimNormal(positions: Float64Array, v: number, ring: Ring, out: Out, at: number): void {
  const { edges, diagonals } = ring;
  const faces = diagonals.length;
  if (faces === 1) return facesNormal(positions, v, ring, out, at);
  const step = Math.PI / faces;
  const [c, s] = [Math.cos(step), Math.sin(step)];
  const r = (c + 1) / s;
  const last = edges[edges.length - 1];
  for (let k = 0; k < 3; k++) {
    along[k] = positions[edges[0] * 3 + k] - positions[last * 3 + k];
    let sum = 4 * r * (c - 1) * positions[v * 3 + k];
    sum -= r * (1 + 2 * c) * (positions[edges[0] * 3 + k] + positions[last * 3 + k]);
    for (let i = 1; i < faces; i++) sum += 4 * Math.sin(i * step) * positions[edges[i] * 3 + k];
    for (let i = 0; i < faces; i++) sum += (Math.sin(i * step) + Math.sin((i + 1) * step)) * positions[diagonals[i] * 3 + k]; // prettier-ignore
    across[k] = sum;
  }
  cross(out, at);
}

/** The mean of the normals of the faces around a vertex, each weighed by its area there. */
function facesNormal(
  positions: Float64Array,
  v: number,
  { edges, diagonals, isOpen }: Ring,
  out: Out,
  at: number,
): void {
  const o = v * 3;
  for (let i = 0; i < diagonals.length; i++) {
    const a = edges[i] * 3;
    const b = edges[isOpen ? i + 1 : (i + 1) % edges.length] * 3;
    for (let k = 0; k < 3; k++) {
      const [x, y] = [(k + 1) % 3, (k + 2) % 3];
      out[at + k] += (positions[a + x] - positions[o + x]) * (positions[b + y] - positions[o + y]) - (positions[a + y] - positions[o + y]) * (positions[b + x] - positions[o + x]); // prettier-ignore
    }
  }
  unit(at, out);
}

function cross(out: Out, at: number): void {
  out[at] = along[1] * across[2] - along[2] * across[1];
  out[at + 1] = along[2] * across[0] - along[0] * across[2];
  out[at + 2] = along[0] * across[1] - along[1] * across[0];
  unit(at, out);
}

function unit(at: number, out: Out): void {
  const length = Math.sqrt(out[at] ** 2 + out[at + 1] ** 2 + out[at + 2] ** 2) || 1;
  for (let k = 0; k < 3; k++) out[at + k] /= length;
}
