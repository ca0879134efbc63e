import { edgeSides, weld } from './weld.ts';

export interface TJunction {
  /** Vertex that lies on an edge of a face that does not have it. */
  vertex: number;
  /** Ends of that edge, and where the vertex lies between them, 0..1. */
  from: number;
  to: number;
  at: number;
}

/** Off the edge by no more than this share of its length. Common practice, no source. */
const ON_IT = 1e-4;
/** A mesh has that many before the search ends. */
const MOST = 1000;

/**
 * Places where a vertex of one face lies inside an edge of another: whatever moves vertices tears them open, since the edge
 * stays straight between its ends. Such edges have a face on one side only, and so have those at the vertex.
 */
export function tJunctions(positions: Float32Array, indices: ArrayLike<number>): TJunction[] {
  const corner = weld(positions);
  const edges = edgeSides(corner, indices);
  const open: number[] = [];
  const rim = new Set<number>();
  for (let e = 0; e < edges.count; e++)
    if (edges.sides[e] === 1 || edges.sides[e] === 65536) {
      open.push(e);
      rim.add(edges.low[e]).add(edges.high[e]);
    }
  // along the axis on which the rim is longest
  const axis = [0, 1, 2]
    .map((k) => spread(rim, positions, k))
    .reduce((best, s, k, all) => (s > all[best] ? k : best), 0);
  const along = [...rim].sort((a, b) => positions[a * 3 + axis] - positions[b * 3 + axis]);
  const places = Float32Array.from(along, (v) => positions[v * 3 + axis]);
  const found: TJunction[] = [];
  for (const e of open) {
    const [from, to] = [edges.low[e], edges.high[e]];
    const d = [0, 1, 2].map((k) => positions[to * 3 + k] - positions[from * 3 + k]);
    const square = d[0] * d[0] + d[1] * d[1] + d[2] * d[2];
    if (square === 0) continue;
    const off = ON_IT * Math.sqrt(square);
    const [low, high] = [from, to].map((v) => positions[v * 3 + axis]).sort((a, b) => a - b);
    for (let i = firstAt(places, low - off); i < along.length && places[i] <= high + off; i++) {
      const vertex = along[i];
      if (vertex === from || vertex === to) continue;
      const p = [0, 1, 2].map((k) => positions[vertex * 3 + k] - positions[from * 3 + k]);
      const at = (p[0] * d[0] + p[1] * d[1] + p[2] * d[2]) / square;
      if (!(at > ON_IT && at < 1 - ON_IT)) continue;
      if (Math.hypot(p[0] - at * d[0], p[1] - at * d[1], p[2] - at * d[2]) <= off) found.push({ vertex, from, to, at });
      if (found.length === MOST) return found;
    }
  }
  return found;
}

function spread(vertices: Iterable<number>, positions: Float32Array, axis: number): number {
  let [low, high] = [Infinity, -Infinity];
  for (const v of vertices) [low, high] = [Math.min(low, positions[v * 3 + axis]), Math.max(high, positions[v * 3 + axis])]; // prettier-ignore
  return high - low;
}

/** First place that is not below a value, in ascending order. */
function firstAt(places: Float32Array, value: number): number {
  let [low, high] = [0, places.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (places[middle] < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
