// What a ray query reads, in one buffer that threads can share and that a WebAssembly memory can hold.
//
// header, int32:   // 0 mark, 1 mesh count, 2 instance count, 3 mesh node count, 4 triangle count, 5 top node count
// meshes, int32:   // 0 first node, 1 first triangle, 2 triangle count, 3 unused
// instances, int32: // 0 mesh, 1 flags (1: transform is the identity), 2..3 unused
// transforms, f64: // 12 numbers an instance, world to object, row by row
// meshNodes, f32:  // see hierarchy.ts; child and first-item numbers are relative to the mesh
// triangles, f32:  // 9 numbers: 0..2 first corner, 3..5 second corner, 6..8 third corner, in leaf order
// triangleIds, int32: // number of the triangle in its mesh, in leaf order
// topNodes, f32:   // see hierarchy.ts; items are places in topOrder
// topOrder, int32: // instance numbers in leaf order
import { Arena, type MakeBuffer } from './arena.ts';
import { buildHierarchy, NODE_STRIDE, type Hierarchy } from './hierarchy.ts';
import { invertAffine, transformPoint, type Affine } from '../math/index.ts';

const MARK = 0x44525331;
const HEADER = 8;
export const IDENTITY_FLAG = 1;

export interface TriangleMesh {
  positions: Float32Array; // 3 a vertex, metres
  indices: Uint32Array; // 3 a triangle
}
export interface MeshInstance {
  mesh: number;
  transform: Affine; // object to world
}

export interface RayScene {
  buffer: ArrayBufferLike;
  meshes: Int32Array;
  instances: Int32Array;
  transforms: Float64Array;
  meshNodes: Float32Array;
  triangles: Float32Array;
  triangleIds: Int32Array;
  topNodes: Float32Array;
  topOrder: Int32Array;
}

export function buildRayScene(meshes: TriangleMesh[], instances: MeshInstance[], makeBuffer: MakeBuffer): RayScene {
  const built = meshes.map(buildMesh);
  const inverses = instances.map((instance) => invertAffine(instance.transform));
  const top = buildTop(instances, built);
  const counts = [
    meshes.length,
    instances.length,
    built.reduce((sum, mesh) => sum + mesh.hierarchy.nodeCount, 0),
    built.reduce((sum, mesh) => sum + mesh.hierarchy.order.length, 0),
    top.nodeCount,
  ];
  const buffer = makeBuffer(byteLength(counts));
  new Int32Array(buffer, 0, HEADER).set([MARK, ...counts]);
  const scene = mountRayScene(buffer);

  let node = 0;
  let triangle = 0;
  built.forEach(({ hierarchy, corners }, m) => {
    scene.meshes.set([node, triangle, hierarchy.order.length, 0], m * 4);
    scene.meshNodes.set(hierarchy.nodes, node * NODE_STRIDE);
    hierarchy.order.forEach((id, i) => {
      scene.triangles.set(corners.subarray(id * 9, id * 9 + 9), (triangle + i) * 9);
      scene.triangleIds[triangle + i] = id;
    });
    node += hierarchy.nodeCount;
    triangle += hierarchy.order.length;
  });
  instances.forEach((instance, i) => {
    scene.instances.set([instance.mesh, isIdentity(instance.transform) ? IDENTITY_FLAG : 0, 0, 0], i * 4);
    scene.transforms.set(inverses[i], i * 12);
  });
  scene.topNodes.set(top.nodes);
  scene.topOrder.set(top.order);
  return scene;
}

/** Views on a buffer that buildRayScene has filled, on this or on another thread. Throws a TypeError for any other buffer. */
export function mountRayScene(buffer: ArrayBufferLike): RayScene {
  const arena = new Arena(buffer);
  const header = arena.i32(HEADER);
  if (header[0] !== MARK) throw new TypeError('not a ray scene');
  const [meshCount, instanceCount, meshNodeCount, triangleCount, topNodeCount] = header.subarray(1);
  return {
    buffer,
    meshes: arena.i32(meshCount * 4),
    instances: arena.i32(instanceCount * 4),
    transforms: arena.f64(instanceCount * 12),
    meshNodes: arena.f32(meshNodeCount * NODE_STRIDE),
    triangles: arena.f32(triangleCount * 9),
    triangleIds: arena.i32(triangleCount),
    topNodes: arena.f32(topNodeCount * NODE_STRIDE),
    topOrder: arena.i32(instanceCount),
  };
}

function byteLength([meshCount, instanceCount, meshNodeCount, triangleCount, topNodeCount]: number[]): number {
  return Arena.bytes(
    HEADER * 4,
    meshCount * 16,
    instanceCount * 16,
    instanceCount * 96,
    meshNodeCount * NODE_STRIDE * 4,
    triangleCount * 36,
    triangleCount * 4,
    topNodeCount * NODE_STRIDE * 4,
    instanceCount * 4,
  );
}

function buildMesh(mesh: TriangleMesh): { hierarchy: Hierarchy; corners: Float32Array } {
  const count = mesh.indices.length / 3;
  const corners = new Float32Array(count * 9);
  const boxes = new Float32Array(count * 6);
  for (let t = 0; t < count; t++) {
    for (let k = 0; k < 3; k++) {
      let low = Infinity;
      let high = -Infinity;
      for (let c = 0; c < 3; c++) {
        const value = mesh.positions[mesh.indices[t * 3 + c] * 3 + k];
        corners[t * 9 + c * 3 + k] = value;
        low = Math.min(low, value);
        high = Math.max(high, value);
      }
      boxes[t * 6 + k] = low;
      boxes[t * 6 + 3 + k] = high;
    }
  }
  return { hierarchy: buildHierarchy(boxes, count), corners };
}

function buildTop(instances: MeshInstance[], built: { hierarchy: Hierarchy }[]): Hierarchy {
  const boxes = new Float32Array(instances.length * 6);
  instances.forEach((instance, i) => {
    const bounds = built[instance.mesh].hierarchy.nodes;
    const box = boxes
      .subarray(i * 6, i * 6 + 6)
      .fill(Infinity, 0, 3)
      .fill(-Infinity, 3);
    for (let corner = 0; corner < 8; corner++) {
      const at = [0, 1, 2].map((k) => bounds[((corner >> k) & 1) * 3 + k]);
      transformPoint(instance.transform, at).forEach((value, k) => {
        box[k] = Math.min(box[k], value);
        box[3 + k] = Math.max(box[3 + k], value);
      });
    }
    // single precision rounds to nearest; a box that is a little too large is harmless, one too small is not
    for (let k = 0; k < 3; k++) {
      box[k] -= Math.abs(box[k]) * 1e-6 + 1e-30;
      box[3 + k] += Math.abs(box[3 + k]) * 1e-6 + 1e-30;
    }
  });
  return buildHierarchy(boxes, instances.length);
}

function isIdentity(a: Affine): boolean {
  return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0].every((value, i) => a[i] === value);
}
