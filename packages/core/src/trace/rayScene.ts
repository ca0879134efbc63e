// What rays can meet: meshes with a hierarchy each, and instances of them with a hierarchy above. Two forms of it hold
// the same things: the one of the kernel (kernelScene.ts) and the plain one (plainScene.ts).
import type { MakeBuffer } from './arena.ts';
import { instanceBox, meshBox } from './instanceBox.ts';
import { KernelRayQuery } from './kernelRayQuery.ts';
import { buildKernelScene, moveKernelInstances } from './kernelScene.ts';
import { kernelRuns } from '../math/index.ts';
import { PlainRayQuery } from './plainRayQuery.ts';
import { buildPlainScene, mountPlainScene, movePlainInstances } from './plainScene.ts';
import type { RayQuery } from './rayQuery.ts';
import type { MeshInstance, TriangleMesh } from './triangleMesh.ts';

export interface RayScene {
  form: 'kernel' | 'plain';
  buffer: ArrayBufferLike;
  /** Of the kernel's form: the memory that `buffer` belongs to. */
  memory: WebAssembly.Memory | null;
  /** // 0..2 min, 3..5 max in the world, over all times */
  bounds: Float64Array;
  /** Of each mesh in its own space: // 0..2 min, 3..5 max */
  meshBoxes: Float64Array;
}

/**
 * @param form the kernel's where the machine can run it; results of the two differ in their last bits
 * @throws RangeError for an index outside of the vertices, or more than 4 GiB of triangles
 */
export function buildRayScene(
  meshes: TriangleMesh[],
  instances: MeshInstance[],
  makeBuffer: MakeBuffer,
  form: RayScene['form'] = kernelRuns() ? 'kernel' : 'plain',
): RayScene {
  for (const { positions, indices, laterPositions } of meshes) {
    const vertices = positions.length / 3;
    if (laterPositions?.some((later) => later.length !== positions.length))
      throw new RangeError('a mesh has another number of vertices at a later time');
    for (let i = 0; i < indices.length; i++)
      if (!(indices[i] < vertices)) throw new RangeError(`an index of ${indices[i]} points past the last vertex`);
  }
  const meshBoxes = Float64Array.from(meshes.flatMap(meshBox));
  const boxes = instances.map((instance) => instanceBox(meshBoxes, instance));
  const bounds = boundsOf(boxes);
  if (form === 'plain')
    return { form, memory: null, buffer: buildPlainScene(meshes, instances, boxes, makeBuffer), bounds, meshBoxes };
  const memory = buildKernelScene(meshes, instances, boxes, makeBuffer.shared);
  return { form, memory, buffer: memory.buffer, bounds, meshBoxes };
}

/**
 * Gives the instances of a scene new transforms and masks, in place: only the upper level is built again. Nothing may
 * trace rays meanwhile.
 * @param instances the same in number, order, meshes and keys as those that the scene was built from
 */
export function moveInstances(scene: RayScene, instances: MeshInstance[]): void {
  const boxes = instances.map((instance) => instanceBox(scene.meshBoxes, instance));
  scene.bounds.set(boundsOf(boxes));
  if (scene.memory) moveKernelInstances(scene.memory, instances, boxes);
  else movePlainInstances(scene.buffer, instances, boxes);
}

/** @param thread number of the calling thread among those that use this scene, 0..63 */
export function openRayQuery(scene: RayScene, thread = 0): RayQuery {
  return scene.memory ? new KernelRayQuery(scene.memory, thread) : new PlainRayQuery(mountPlainScene(scene.buffer));
}

function boundsOf(boxes: Float32Array[]): Float64Array {
  const bounds = new Float64Array([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);
  for (const box of boxes)
    for (let k = 0; k < 3; k++) {
      bounds[k] = Math.min(bounds[k], box[k]);
      bounds[3 + k] = Math.max(bounds[3 + k], box[3 + k]);
    }
  return bounds;
}
