import { meshShells, type MeshShell } from '../../geometry/index.ts';
import { objectMesh, objectSize, type CompiledScene } from '../../render/index.ts';
import type { TriangleMesh } from '../../trace/index.ts';

/** What the mesh of a body is like. */
export interface BodyShape {
  isClosed: boolean;
  /** Edges with one triangle, and edges whose triangles face different ways. */
  rim: number;
  turnedEdges: number;
  /** Volumes of the shells that lie in no other, in the space of the mesh; below 0: the faces look inwards. */
  outerVolume: number;
  /** Shells inside of another that face the same way: the space between is not hollow but filled twice. */
  filledShells: number;
  /** Volume over half of the area, a measure of the walls, metres. */
  thickness: number;
}

/** Shapes of objects; objects that share a mesh share the work. */
export function bodyShapes(scene: CompiledScene): (object: number) => BodyShape {
  const known = new Map<number, BodyShape>();
  return (object) => {
    const mesh = objectMesh(scene, object);
    const key = mesh.indices.byteOffset;
    let shape = known.get(key);
    if (!shape) known.set(key, (shape = shapeOf(mesh, objectSize(scene, object))));
    return shape;
  };
}

function shapeOf(mesh: TriangleMesh, size: number): BodyShape {
  const shells = meshShells(mesh);
  const total = (of: (shell: MeshShell) => number) => shells.reduce((sum, shell) => sum + of(shell), 0);
  const rim = total((s) => s.rim);
  const turnedEdges = total((s) => s.turned);
  const around = (shell: MeshShell) => shells.find((other) => other !== shell && isInside(shell, other));
  const volume = total((s) => s.volume);
  const diagonal = Math.hypot(...[0, 1, 2].map((k) => Math.max(...shells.map((s) => s.high[k])) - Math.min(...shells.map((s) => s.low[k])))); // prettier-ignore
  return {
    isClosed: rim === 0 && turnedEdges === 0 && total((s) => s.crowded) === 0,
    rim,
    turnedEdges,
    outerVolume: total((s) => (around(s) ? 0 : s.volume)),
    filledShells: shells.filter((s) => Math.sign(around(s)?.volume ?? -s.volume) === Math.sign(s.volume)).length,
    thickness: (Math.abs(volume) / (areaOf(mesh) / 2 || 1)) * (diagonal > 0 ? size / diagonal : 1),
  };
}

const isInside = (shell: MeshShell, other: MeshShell) =>
  shell.low.every((v, k) => v > other.low[k]) && shell.high.every((v, k) => v < other.high[k]);

function areaOf({ indices, positions }: TriangleMesh): number {
  let area = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t] * 3, indices[t + 1] * 3, indices[t + 2] * 3];
    const [ux, uy, uz] = [0, 1, 2].map((k) => positions[b + k] - positions[a + k]);
    const [vx, vy, vz] = [0, 1, 2].map((k) => positions[c + k] - positions[a + k]);
    area += Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
  }
  return area;
}
