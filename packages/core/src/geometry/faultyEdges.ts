import { edgeSides, weldRims } from './weld.ts';

export interface FaultyEdges {
  /** Edges with one face, as pairs of vertices. */
  open: [number, number][];
  /** Edges whose two faces run along them the same way: one of both looks inwards. */
  turned: [number, number][];
}

/** The edges of a mesh at which it is not the skin of a body; rims that touch are joined (weldRims). */
export function faultyEdges({
  indices,
  positions,
}: {
  indices: ArrayLike<number>;
  positions: Float32Array;
}): FaultyEdges {
  // prettier-ignore
  const edges = edgeSides(weldRims(positions, indices), indices);
  const found: FaultyEdges = { open: [], turned: [] };
  for (let e = 0; e < edges.count; e++) {
    const [up, down] = [edges.sides[e] & 65535, edges.sides[e] >>> 16];
    if (up + down === 1) found.open.push([edges.low[e], edges.high[e]]);
    else if (up + down === 2 && up !== down) found.turned.push([edges.low[e], edges.high[e]]);
  }
  return found;
}
