import type { MeshData } from '../formats/index.ts';
import { edgeSides, weldRims } from './weld.ts';

/** A part of a mesh whose triangles hang together by their edges. */
export interface MeshShell {
  triangles: number;
  /** Edges with one triangle: the rim of an open shell. */
  rim: number;
  /** Edges whose two triangles run the same way along it: one of them is turned over. */
  turned: number;
  /** Edges with more than two triangles. */
  crowded: number;
  /** Enclosed, m3; below 0 where the faces look inwards. Without a meaning for open shells. */
  volume: number;
  low: number[]; // metres
  high: number[];
}

/**
 * The shells of a mesh, largest first. The volume is the sum of the tetrahedra between the triangles and one point (divergence
 * theorem; Mirtich 1996, "Fast and accurate computation of polyhedral mass properties").
 * Triangles without an area belong to no shell, and rims that lie on each other are joined (weld.ts).
 */
export function meshShells({ positions, indices }: Pick<MeshData, 'positions' | 'indices'>): MeshShell[] {
  const corner = weldRims(positions, indices);
  const count = positions.length / 3;
  const parent = Uint32Array.from({ length: count }, (_, v) => v);
  const root = (v: number) => {
    while (parent[v] !== v) v = parent[v] = parent[parent[v]];
    return v;
  };
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [corner[indices[t]], corner[indices[t + 1]], corner[indices[t + 2]]];
    if (a === b || b === c || c === a) continue;
    parent[root(b)] = root(a);
    parent[root(c)] = root(a);
  }
  const shells = new Map<number, MeshShell>();
  const shellOf = (v: number): MeshShell => {
    const key = root(v);
    let shell = shells.get(key);
    if (!shell) shells.set(key, (shell = { triangles: 0, rim: 0, turned: 0, crowded: 0, volume: 0, low: [Infinity, Infinity, Infinity], high: [-Infinity, -Infinity, -Infinity] })); // prettier-ignore
    return shell;
  };
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [corner[indices[t]], corner[indices[t + 1]], corner[indices[t + 2]]];
    if (a === b || b === c || c === a) continue;
    const shell = shellOf(a);
    shell.triangles++;
    // seen from the shell's own corner, so that distance from the origin costs no digits
    const o = root(a) * 3;
    const [ox, oy, oz] = [positions[o], positions[o + 1], positions[o + 2]];
    const [ax, ay, az] = [positions[a * 3] - ox, positions[a * 3 + 1] - oy, positions[a * 3 + 2] - oz];
    const [bx, by, bz] = [positions[b * 3] - ox, positions[b * 3 + 1] - oy, positions[b * 3 + 2] - oz];
    const [cx, cy, cz] = [positions[c * 3] - ox, positions[c * 3 + 1] - oy, positions[c * 3 + 2] - oz];
    shell.volume += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
    for (let k = 0; k < 3; k++) {
      const [p, q, r] = [positions[a * 3 + k], positions[b * 3 + k], positions[c * 3 + k]];
      shell.low[k] = Math.min(shell.low[k], p, q, r);
      shell.high[k] = Math.max(shell.high[k], p, q, r);
    }
  }
  const edges = edgeSides(corner, indices);
  for (let e = 0; e < edges.count; e++) {
    const shell = shellOf(edges.low[e]);
    const [up, down] = [edges.sides[e] & 65535, edges.sides[e] >>> 16];
    if (up + down === 1) shell.rim++;
    else if (up + down > 2) shell.crowded++;
    else if (up !== down) shell.turned++;
  }
  for (const shell of shells.values()) shell.volume /= 6;
  return [...shells.values()].sort((a, b) => b.triangles - a.triangles);
}
