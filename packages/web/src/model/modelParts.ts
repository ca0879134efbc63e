import { LineSegments, Matrix4, type BufferGeometry, type Group, type LineBasicMaterial } from 'three';
import type { ModelMesh } from '../workers/meshTools.ts';

/** Normals that are drawn of a mesh. */
const MOST_NORMALS = 3000;

export function matrixOf(t: number[]): Matrix4 {
  return new Matrix4().set(t[0], t[1], t[2], t[3], t[4], t[5], t[6], t[7], t[8], t[9], t[10], t[11], 0, 0, 0, 1);
}

/** Lines that stand where a matrix puts them. */
export function linesAt(geometry: BufferGeometry, material: LineBasicMaterial, matrix: Matrix4): LineSegments {
  const lines = new LineSegments(geometry, material);
  lines.matrixAutoUpdate = false;
  lines.matrix.copy(matrix);
  return lines;
}

/** Short lines along the normals: // 0..2 from, 3..5 to */
export function normalsOf({ positions, normals, box }: ModelMesh): Float32Array {
  const length = Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]) / 40;
  const step = Math.max(1, Math.ceil(positions.length / 3 / MOST_NORMALS));
  const lines: number[] = [];
  for (let v = 0; v < positions.length; v += 3 * step)
    for (const along of [0, length]) for (let k = 0; k < 3; k++) lines.push(positions[v + k] + along * normals[v + k]);
  return Float32Array.from(lines);
}

export function disposeAll(group: Group): void {
  for (const child of [...group.children]) {
    child.traverse((part) => (part as LineSegments).geometry?.dispose());
    group.remove(child);
  }
}
