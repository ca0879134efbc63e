import { weld } from './weld.ts';

/** Triangles whose UVs hang together. */
export interface UvIsland {
  triangles: number;
  /** Metres square, in the space of the mesh. */
  area: number;
  /** Of texture space; mirrored and straight triangles both count as positive. */
  uvArea: number;
  /** Most of it is seen from behind in texture space. */
  isMirrored: boolean;
  /** Places in texture space: lowest u and v, highest u and v. */
  box: [number, number, number, number];
  /** The stretch that 95 % of its area stays below. */
  stretch: number;
}

export interface UvLayout {
  /** Largest area first. */
  islands: UvIsland[];
  /** Place in `islands` of each triangle. */
  islandOf: Uint32Array;
  /** How much farther a texel reaches one way than the other, 1 and more; Infinity where it has no area. // 1 a triangle */
  stretch: Float32Array;
  /** On the surface, metres square in the space of the mesh. // 1 a triangle */
  areas: Float64Array;
  /** Edges that only one triangle has in texture space. // u, v, u, v an edge */
  borders: Float64Array;
  /** All other edges. // u, v, u, v an edge */
  wires: Float64Array;
}

/** Corners that differ by less are one, in texture space. */
const SAME = 1e-6;

/**
 * How a mesh lies in texture space: its islands, their borders, and what becomes of a square there. Stretch is the ratio of
 * the singular values of the map from texture to surface (Sander, Snyder, Gortler and Hoppe 2001, section 3, from memory).
 * @param positions // 3 a vertex, metres
 * @param indices // 3 a triangle
 * @param corners texture coordinates, v downwards // 2 a corner, 3 corners a triangle
 */
export function uvLayout(positions: Float32Array, indices: Uint32Array, corners: Float64Array): UvLayout {
  const count = indices.length / 3;
  const place = cornerPlaces(positions, indices, corners);
  const edges = new Map<number, { triangle: number; from: number; to: number; shared: boolean }>();
  const parent = Uint32Array.from({ length: count }, (_, t) => t);
  const root = (t: number): number => {
    while (parent[t] !== t) t = parent[t] = parent[parent[t]];
    return t;
  };
  const wires: number[] = [];
  const line = (from: number, to: number) => [corners[from * 2], corners[from * 2 + 1], corners[to * 2], corners[to * 2 + 1]]; // prettier-ignore
  for (let corner = 0; corner < count * 3; corner++) {
    const triangle = Math.floor(corner / 3);
    const next = triangle * 3 + ((corner + 1) % 3);
    const [low, high] = [Math.min(place[corner], place[next]), Math.max(place[corner], place[next])];
    const key = low * count * 3 + high;
    const other = edges.get(key);
    if (!other) {
      edges.set(key, { triangle, from: corner, to: next, shared: false });
      continue;
    }
    if (!other.shared) wires.push(...line(corner, next));
    other.shared = true;
    parent[root(triangle)] = root(other.triangle);
  }
  const borders = [...edges.values()].filter(({ shared }) => !shared).flatMap(({ from, to }) => line(from, to));

  const stretch = new Float32Array(count);
  const areas = new Float64Array(count);
  const found = new Map<number, UvIsland & { of: number[]; signed: number }>();
  for (let t = 0; t < count; t++) {
    const { area, signed, ratio } = shapeOf(positions, indices, corners, t);
    stretch[t] = ratio;
    areas[t] = area;
    let island = found.get(root(t));
    if (!island) {
      island = { triangles: 0, area: 0, uvArea: 0, isMirrored: false, box: [Infinity, Infinity, -Infinity, -Infinity], stretch: 1, of: [], signed: 0 }; // prettier-ignore
      found.set(root(t), island);
    }
    island.triangles++;
    island.area += area;
    island.uvArea += Math.abs(signed);
    island.signed += signed;
    island.of.push(t);
    for (let k = 0; k < 6; k++) {
      island.box[k % 2] = Math.min(island.box[k % 2], corners[t * 6 + k]);
      island.box[2 + (k % 2)] = Math.max(island.box[2 + (k % 2)], corners[t * 6 + k]);
    }
  }
  const sorted = [...found.values()].sort((a, b) => b.area - a.area);
  const islandOf = new Uint32Array(count);
  const islands = sorted.map(({ area, box, of, signed, triangles, uvArea }, i): UvIsland => {
    for (const t of of) islandOf[t] = i;
    // v counts downwards: what is seen from the front turns the other way there
    return { triangles, area, uvArea, isMirrored: signed > 0, box, stretch: belowMost(of, stretch, areas) };
  });
  return { islands, islandOf, stretch, areas, borders: Float64Array.from(borders), wires: Float64Array.from(wires) };
}

/** A number for each corner, the same where place and texture coordinates are: that of the first corner there. */
function cornerPlaces(positions: Float32Array, indices: Uint32Array, corners: Float64Array): Uint32Array {
  const welded = weld(positions);
  // a chain of unlike corners for each place in space
  const first = new Int32Array(positions.length / 3).fill(-1);
  const next = new Int32Array(indices.length).fill(-1);
  return Uint32Array.from(indices, (vertex, corner) => {
    const place = welded[vertex];
    for (let other = first[place]; other >= 0; other = next[other])
      if (Math.abs(corners[corner * 2] - corners[other * 2]) <= SAME && Math.abs(corners[corner * 2 + 1] - corners[other * 2 + 1]) <= SAME) return other; // prettier-ignore
    next[corner] = first[place];
    first[place] = corner;
    return corner;
  });
}

/** Area on the surface, signed area in texture space, and stretch. */
function shapeOf(positions: Float32Array, indices: Uint32Array, corners: Float64Array, t: number) {
  const [a, b, c] = [0, 1, 2].map((k) => indices[t * 3 + k] * 3);
  const [x1, y1, z1] = [0, 1, 2].map((k) => positions[b + k] - positions[a + k]);
  const [x2, y2, z2] = [0, 1, 2].map((k) => positions[c + k] - positions[a + k]);
  const area = Math.hypot(y1 * z2 - z1 * y2, z1 * x2 - x1 * z2, x1 * y2 - y1 * x2) / 2;
  const [u1, v1] = [corners[t * 6 + 2] - corners[t * 6], corners[t * 6 + 3] - corners[t * 6 + 1]];
  const [u2, v2] = [corners[t * 6 + 4] - corners[t * 6], corners[t * 6 + 5] - corners[t * 6 + 1]];
  const double = u1 * v2 - u2 * v1;
  // a face without area stretches nothing
  if (area === 0) return { area, signed: double / 2, ratio: 1 };
  if (double === 0) return { area, signed: 0, ratio: Infinity };
  const alongU = [x1 * v2 - x2 * v1, y1 * v2 - y2 * v1, z1 * v2 - z2 * v1].map((n) => n / double);
  const alongV = [x2 * u1 - x1 * u2, y2 * u1 - y1 * u2, z2 * u1 - z1 * u2].map((n) => n / double);
  const dot = (p: number[], q: number[]) => p[0] * q[0] + p[1] * q[1] + p[2] * q[2];
  const [e, f, g] = [dot(alongU, alongU), dot(alongU, alongV), dot(alongV, alongV)];
  const root = Math.hypot(e - g, 2 * f);
  return { area, signed: double / 2, ratio: Math.sqrt((e + g + root) / Math.max(1e-30, e + g - root)) };
}

/** The stretch that 95 % of the area of some triangles stays below. */
function belowMost(of: number[], stretch: Float32Array, areas: Float64Array): number {
  const sorted = of.toSorted((a, b) => stretch[a] - stretch[b]);
  const most = 0.95 * sorted.reduce((sum, t) => sum + areas[t], 0);
  let sum = 0;
  return stretch[sorted.find((t) => (sum += areas[t]) >= most) ?? sorted[0]];
}
