/**
 * For each vertex, the first one at its place. Places are the same where their coordinates are equal; -0 is 0.
 * A table of hashes over the bits of the coordinates: a million vertices took 0.3 s, with a Map of strings 5.3 s.
 * @param positions 3 numbers a vertex
 */
export function weld(positions: Float32Array): Uint32Array {
  const count = positions.length / 3;
  const size = 2 ** Math.ceil(Math.log2(2 * count + 1));
  const table = new Int32Array(size).fill(-1);
  const clean = positions.map((v) => v + 0);
  const bits = new Uint32Array(clean.buffer);
  const first = new Uint32Array(count);
  for (let v = 0; v < count; v++) {
    const [x, y, z] = [bits[v * 3], bits[v * 3 + 1], bits[v * 3 + 2]];
    let hash = Math.imul(x ^ (x >>> 15), 0x9e3779b1) ^ Math.imul(y ^ (y >>> 13), 0x85ebca6b) ^ Math.imul(z ^ (z >>> 16), 0xc2b2ae35); // prettier-ignore
    hash ^= hash >>> 15;
    let at = hash & (size - 1);
    for (;;) {
      const found = table[at];
      if (found < 0) {
        table[at] = first[v] = v;
        break;
      }
      if (bits[found * 3] === x && bits[found * 3 + 1] === y && bits[found * 3 + 2] === z) {
        first[v] = found;
        break;
      }
      at = (at + 1) & (size - 1);
    }
  }
  return first;
}

/** Rims that are no further apart than this share of the mesh's box are taken to be joined. Common practice, no source. */
const TOUCHING = 1e-5;

/**
 * The same, with vertices of rims joined that lie next to each other: the last profile of a turned shape, or a pole, often
 * misses the first by rounding.
 */
export function weldRims(positions: Float32Array, indices: ArrayLike<number>): Uint32Array {
  const corner = weld(positions);
  const count = corner.length;
  const rim = new Set<number>();
  const edges = edgeSides(corner, indices);
  for (let e = 0; e < edges.count; e++)
    if (edges.sides[e] === 1 || edges.sides[e] === 65536) rim.add(edges.low[e]).add(edges.high[e]);
  if (rim.size === 0) return corner;
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    low[i % 3] = Math.min(low[i % 3], positions[i]);
    high[i % 3] = Math.max(high[i % 3], positions[i]);
  }
  const near = TOUCHING * Math.hypot(high[0] - low[0], high[1] - low[1], high[2] - low[2]);
  const along = [...rim].sort((a, b) => positions[a * 3] - positions[b * 3]);
  const joined = Uint32Array.from({ length: count }, (_, v) => v);
  along.forEach((v, i) => {
    if (joined[v] !== v) return;
    for (let j = i + 1; j < along.length && positions[along[j] * 3] - positions[v * 3] <= near; j++) {
      const other = along[j];
      const apart = Math.hypot(...[0, 1, 2].map((k) => positions[other * 3 + k] - positions[v * 3 + k]));
      if (apart <= near && joined[other] === other) joined[other] = v;
    }
  });
  return corner.map((v) => joined[v]);
}

/** Edges, each once: the first `count` of each array. */
export interface Edges {
  count: number;
  /** The ends, the lower number first. */
  low: Uint32Array;
  high: Uint32Array;
  /** How many triangles run along it, from its lower end to its higher one and the other way: 1 and 2 ** 16 for each. */
  sides: Uint32Array;
}

/** The edges of the triangles that have an area, in a table of hashes in place of a Map by number (bench/README.md). */
export function edgeSides(corner: Uint32Array, indices: ArrayLike<number>): Edges {
  const size = 2 ** Math.ceil(Math.log2(2 * indices.length + 1));
  const table = new Int32Array(size).fill(-1);
  const [low, high, sides] = [0, 1, 2].map(() => new Uint32Array(indices.length));
  let count = 0;
  const add = (from: number, to: number) => {
    const [a, b] = from < to ? [from, to] : [to, from];
    let at = (Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b)) >>> 0;
    at = (at ^ (at >>> 15)) & (size - 1);
    let edge = table[at];
    while (edge >= 0 && (low[edge] !== a || high[edge] !== b)) edge = table[(at = (at + 1) & (size - 1))];
    if (edge < 0) {
      edge = table[at] = count++;
      low[edge] = a;
      high[edge] = b;
    }
    sides[edge] += from < to ? 1 : 65536;
  };
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [corner[indices[t]], corner[indices[t + 1]], corner[indices[t + 2]]];
    if (a === b || b === c || c === a) continue;
    add(a, b);
    add(b, c);
    add(c, a);
  }
  return { count, low, high, sides };
}
