import { transformPoint } from '../math/index.ts';
import type { MeshInstance, TriangleMesh } from './triangleMesh.ts';

/** Box of the finite vertices of a mesh over all times. // 0..2 min, 3..5 max; inverted where there are none */
export function meshBox(mesh: Pick<TriangleMesh, 'positions' | 'laterPositions'>): number[] {
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (const positions of [mesh.positions, ...(mesh.laterPositions ?? [])])
    for (let i = 0; i < positions.length; i += 3) {
      if (!Number.isFinite(positions[i] + positions[i + 1] + positions[i + 2])) continue;
      for (let k = 0; k < 3; k++) {
        if (positions[i + k] < box[k]) box[k] = positions[i + k];
        if (positions[i + k] > box[3 + k]) box[3 + k] = positions[i + k];
      }
    }
  return box;
}

/**
 * Box of an instance in the world over all times; a little too large, because single precision rounds to nearest.
 * @param local boxes of all meshes, 6 numbers each
 */
export function instanceBox(local: Float64Array, instance: MeshInstance): Float32Array {
  const box = new Float32Array([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);
  const at = instance.mesh * 6;
  if (!(local[at] <= local[at + 3])) return box;
  for (const transform of [instance.transform, ...(instance.laterTransforms ?? [])])
    for (let corner = 0; corner < 8; corner++) {
      const p = [0, 1, 2].map((k) => local[at + ((corner >> k) & 1) * 3 + k]);
      transformPoint(transform, p).forEach((value, k) => {
        box[k] = Math.min(box[k], value);
        box[3 + k] = Math.max(box[3 + k], value);
      });
    }
  for (let k = 0; k < 3; k++) {
    box[k] -= Math.abs(box[k]) * 1e-6 + 1e-30;
    box[3 + k] += Math.abs(box[3 + k]) * 1e-6 + 1e-30;
  }
  return box;
}
