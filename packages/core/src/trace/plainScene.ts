// The plain form of a scene, in one buffer that threads can share.
//
// header, int32:   // 0 mark, 1 mesh count, 2 instance count, 3 mesh node count, 4 corner floats, 5 triangle count, 6 keys
// meshes, int32:   // 0 first node, 1 first corner float, 2 first triangle, 3 keys
// instances, int32: // 0 mesh, 1 flags (1: transform is the identity), 2 mask, 3 first number of its keys, 4 keys (1: it stands still)
// transforms, f64: // 12 numbers an instance, world to object, row by row
// keys, f64:       // 12 numbers a key of each moving instance, object to world
// meshNodes, f32:  // see hierarchy.ts; child and first-item numbers are relative to the mesh
// corners, f32:    // 9 numbers a triangle and key: 0..2 first corner, 3..5 second corner, 6..8 third corner, in leaf order
// triangleIds, int32: // number of the triangle in its mesh, in leaf order
// topNodes, f32:   // see hierarchy.ts; items are places in topOrder
// topOrder, int32: // instance numbers in leaf order
import { invertAffine, isIdentity } from '../math/index.ts';
import { Arena, type MakeBuffer } from './arena.ts';
import { buildHierarchy, NODE_STRIDE, type Hierarchy } from './hierarchy.ts';
import { ALL_RAYS } from './rayQuery.ts';
import type { MeshInstance, TriangleMesh } from './triangleMesh.ts';

const MARK = 0x44525331;
const HEADER = 8;
export const PLAIN_INSTANCE = 5;
export const IDENTITY_FLAG = 1;

export interface PlainScene {
  meshes: Int32Array;
  instances: Int32Array;
  transforms: Float64Array;
  keys: Float64Array;
  meshNodes: Float32Array;
  corners: Float32Array;
  triangleIds: Int32Array;
  topNodes: Float32Array;
  topOrder: Int32Array;
}

interface BuiltMesh {
  hierarchy: Hierarchy;
  /** Corners of all triangles, one array a key. */
  corners: Float32Array[];
  /** Numbers of the triangles that the hierarchy is over. */
  kept: number[];
}

export function buildPlainScene(
  meshes: TriangleMesh[],
  instances: MeshInstance[],
  boxes: Float32Array[],
  makeBuffer: MakeBuffer,
): ArrayBufferLike {
  const built = meshes.map(buildMesh);
  const sum = (value: (mesh: BuiltMesh) => number) => built.reduce((total, mesh) => total + value(mesh), 0);
  const counts = [
    meshes.length,
    instances.length,
    sum((m) => m.hierarchy.nodeCount),
    sum((m) => m.hierarchy.order.length * 9 * m.corners.length),
    sum((m) => m.hierarchy.order.length),
    instances.reduce((keys, { laterTransforms }) => keys + (laterTransforms ? laterTransforms.length + 1 : 0), 0),
  ];
  const buffer = makeBuffer(byteLength(counts));
  new Int32Array(buffer, 0, HEADER).set([MARK, ...counts]);
  const scene = mountPlainScene(buffer);
  let node = 0;
  let corner = 0;
  let triangle = 0;
  built.forEach(({ hierarchy, corners, kept }, m) => {
    scene.meshes.set([node, corner, triangle, corners.length], m * 4);
    scene.meshNodes.set(hierarchy.nodes, node * NODE_STRIDE);
    hierarchy.order.forEach((item) => {
      const id = kept[item];
      for (const key of corners) {
        scene.corners.set(key.subarray(id * 9, id * 9 + 9), corner);
        corner += 9;
      }
      scene.triangleIds[triangle++] = id;
    });
    node += hierarchy.nodeCount;
  });
  movePlainInstances(buffer, instances, boxes);
  return buffer;
}

/** Writes the instances and the nodes above them. */
export function movePlainInstances(buffer: ArrayBufferLike, instances: MeshInstance[], boxes: Float32Array[]): void {
  const scene = mountPlainScene(buffer);
  if (scene.topOrder.length !== instances.length) throw new RangeError('the scene has another number of instances');
  let key = 0;
  instances.forEach(({ mesh, transform, laterTransforms, mask = ALL_RAYS }, i) => {
    const keys = laterTransforms ? [transform, ...laterTransforms] : [];
    const flags = !laterTransforms && isIdentity(transform) ? IDENTITY_FLAG : 0;
    scene.instances.set([mesh, flags, mask, key * 12, Math.max(1, keys.length)], i * PLAIN_INSTANCE);
    scene.transforms.set(invertAffine(transform), i * 12);
    for (const affine of keys) scene.keys.set(affine, key++ * 12);
  });
  const table = new Float32Array(boxes.length * 6);
  boxes.forEach((box, i) => table.set(box, i * 6));
  const top = buildHierarchy(table, boxes.length);
  scene.topNodes.set(top.nodes);
  scene.topOrder.set(top.order);
}

/** Views on a buffer that buildPlainScene has filled, on this or on another thread. Throws a TypeError for any other buffer. */
export function mountPlainScene(buffer: ArrayBufferLike): PlainScene {
  const arena = new Arena(buffer);
  const header = arena.i32(HEADER);
  if (header[0] !== MARK) throw new TypeError('not a ray scene');
  const [meshCount, instanceCount, meshNodeCount, cornerCount, triangleCount, keyCount] = header.subarray(1);
  return {
    meshes: arena.i32(meshCount * 4),
    instances: arena.i32(instanceCount * PLAIN_INSTANCE),
    transforms: arena.f64(instanceCount * 12),
    keys: arena.f64(keyCount * 12),
    meshNodes: arena.f32(meshNodeCount * NODE_STRIDE),
    corners: arena.f32(cornerCount),
    triangleIds: arena.i32(triangleCount),
    topNodes: arena.f32(topNodeRoom(instanceCount) * NODE_STRIDE),
    topOrder: arena.i32(instanceCount),
  };
}

function topNodeRoom(instances: number): number {
  return Math.max(1, 2 * instances - 1);
}

function byteLength([meshCount, instanceCount, meshNodeCount, cornerCount, triangleCount, keyCount]: number[]): number {
  return Arena.bytes(
    HEADER * 4,
    meshCount * 16,
    instanceCount * PLAIN_INSTANCE * 4,
    instanceCount * 96,
    keyCount * 96,
    meshNodeCount * NODE_STRIDE * 4,
    cornerCount * 4,
    triangleCount * 4,
    topNodeRoom(instanceCount) * NODE_STRIDE * 4,
    instanceCount * 4,
  );
}

/** Triangles with a corner that is not finite are left out. */
function buildMesh(mesh: TriangleMesh): BuiltMesh {
  const count = mesh.indices.length / 3;
  const keys = [mesh.positions, ...(mesh.laterPositions ?? [])];
  const corners = keys.map(() => new Float32Array(count * 9));
  const boxes = new Float32Array(count * 6);
  const kept: number[] = [];
  for (let t = 0; t < count; t++) {
    const at = kept.length * 6;
    let finite = true;
    for (let k = 0; k < 3; k++) {
      let low = Infinity;
      let high = -Infinity;
      for (let c = 0; c < 3; c++)
        for (let key = 0; key < keys.length; key++) {
          const value = keys[key][mesh.indices[t * 3 + c] * 3 + k];
          corners[key][t * 9 + c * 3 + k] = value;
          finite &&= Number.isFinite(value);
          low = Math.min(low, value);
          high = Math.max(high, value);
        }
      boxes[at + k] = low;
      boxes[at + 3 + k] = high;
    }
    if (finite) kept.push(t);
  }
  return { hierarchy: buildHierarchy(boxes, kept.length), corners, kept };
}
