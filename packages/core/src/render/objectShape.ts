import { transformPoint } from '../math/index.ts';
import type { TriangleMesh } from '../trace/index.ts';
import type { CompiledScene } from './compile.ts';
import { MESH, OBJECT } from './compileGeometry.ts';

/** The mesh of an object when the shutter opens, in its own space and around its own middle. Views, not copies. */
export function objectMesh({ indices, meshes, objects, positions }: CompiledScene, object: number): TriangleMesh {
  const at = objects[object * OBJECT.stride + OBJECT.mesh] * MESH.stride;
  const [vertex, index] = [meshes[at + MESH.vertex], meshes[at + MESH.index]];
  return {
    positions: positions.subarray(vertex * 3, (vertex + meshes[at + MESH.vertices]) * 3),
    indices: indices.subarray(index, index + meshes[at + MESH.indices]),
  };
}

/** Diagonal of the box of an object's mesh, in its own space. */
export function meshSize({ objects, rays }: CompiledScene, object: number): number {
  const box = objects[object * OBJECT.stride + OBJECT.mesh] * 6;
  const [x, y, z] = [0, 1, 2].map((k) => rays.meshBoxes[box + 3 + k] - rays.meshBoxes[box + k]);
  return Math.hypot(x, y, z);
}

/** Diagonal of an object's box, metres; no shorter than it is. */
export function objectSize(scene: CompiledScene, object: number): number {
  return meshSize(scene, object) * scene.objectStretches[object];
}

/** Middle of the box of an object's mesh, in world space when the shutter opens. */
export function objectMiddle({ objects, objectTransforms, rays }: CompiledScene, object: number): number[] {
  const box = objects[object * OBJECT.stride + OBJECT.mesh] * 6;
  const middle = [0, 1, 2].map((k) => (rays.meshBoxes[box + k] + rays.meshBoxes[box + 3 + k]) / 2);
  return transformPoint(objectTransforms.subarray(object * 12, object * 12 + 12), middle);
}

/** First UVs of an object, 2 numbers a vertex, v downwards; null where its mesh has none. */
export function objectUvs({ meshes, objects, uvs }: CompiledScene, object: number): Float32Array | null {
  const at = objects[object * OBJECT.stride + OBJECT.mesh] * MESH.stride;
  const first = meshes[at + MESH.uvs] * 2;
  return meshes[at + MESH.uvSets] > 0 ? uvs.subarray(first, first + meshes[at + MESH.vertices] * 2) : null;
}
