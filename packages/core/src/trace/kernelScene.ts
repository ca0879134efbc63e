// Writes the memory that the kernel reads: kernel/assembly/layout.ts says what stands where.
import type { Kernel } from '@dusting/kernel';
import { invertAffine, isIdentity } from '../math/index.ts';
import { Arena } from './arena.ts';
import { startKernel } from '../math/index.ts';
import { ALL_RAYS } from './rayQuery.ts';
import type { MeshInstance, TriangleMesh } from './triangleMesh.ts';

const MARK = 0x44524b31;
const HEADER = 8;
const PAGE = 65536;
const MOST_PAGES = 65536;
const NODE = 128;
const CORNERS = 144;
const IDS = 16;
const INSTANCE = 112;
const BOX = 32;
const BINS = 3 * 16 * 48 + 64;
const IDENTITY_FLAG = 1;
export const KERNEL_THREADS = 64;
/** Bytes of the scratch area of a thread. */
export const SCRATCH = 5120;
/** Where in it the collected hits stand. */
export const HITS = 4096;

interface BuiltMesh {
  nodes: Uint8Array;
  packets: Uint8Array;
  keys: number;
}

export function buildKernelScene(
  meshes: TriangleMesh[],
  instances: MeshInstance[],
  boxes: Float32Array[],
  shared: boolean,
): WebAssembly.Memory {
  const built = buildMeshes(meshes);
  const keyBytes = instances.reduce((sum, { laterTransforms: later }) => sum + (later ? keyTableBytes(later) : 0), 0);
  const bytes = Arena.bytes(
    HEADER * 4,
    meshes.length * 16,
    instances.length * INSTANCE,
    keyBytes,
    Math.max(1, instances.length) * NODE,
    KERNEL_THREADS * SCRATCH,
    ...built.flatMap((mesh) => [mesh.nodes.length, mesh.packets.length]),
  );
  const pages = pagesOf(bytes);
  const memory = new WebAssembly.Memory({ initial: pages, maximum: pages, shared });
  const arena = new Arena(memory.buffer);
  const header = arena.i32(HEADER);
  header[0] = MARK;
  header[1] = arena.address;
  const meshTable = arena.i32(meshes.length * 4);
  header[2] = arena.address;
  arena.u8(instances.length * INSTANCE);
  arena.u8(keyBytes);
  header[3] = arena.address;
  arena.u8(Math.max(1, instances.length) * NODE);
  header[4] = instances.length;
  header[5] = arena.address;
  arena.u8(KERNEL_THREADS * SCRATCH);
  built.forEach((mesh, i) => {
    const nodes = arena.address;
    arena.u8(mesh.nodes.length).set(mesh.nodes);
    const packets = arena.address;
    arena.u8(mesh.packets.length).set(mesh.packets);
    meshTable.set([nodes, packets, mesh.keys, 0], i * 4);
  });
  moveKernelInstances(memory, instances, boxes);
  return memory;
}

/** Writes the instances and the nodes above them. */
export function moveKernelInstances(
  memory: WebAssembly.Memory,
  instances: MeshInstance[],
  boxes: Float32Array[],
): void {
  const header = new Int32Array(memory.buffer, 0, HEADER);
  if (header[0] !== MARK) throw new TypeError('not a ray scene');
  if (header[4] !== instances.length) throw new RangeError('the scene has another number of instances');
  let keysAt = header[2] + instances.length * INSTANCE;
  instances.forEach(({ mesh, transform, laterTransforms, mask = ALL_RAYS }, i) => {
    const at = header[2] + i * INSTANCE;
    const identity = !laterTransforms && isIdentity(transform);
    const words = new Int32Array(memory.buffer, at, 4);
    words.set([header[1] + mesh * 16, identity ? IDENTITY_FLAG : 0, mask, laterTransforms ? keysAt : 0]);
    new Float64Array(memory.buffer, at + 16, 12).set(invertAffine(transform));
    if (laterTransforms) {
      new Int32Array(memory.buffer, keysAt, 1)[0] = laterTransforms.length + 1;
      const keys = new Float64Array(memory.buffer, keysAt + 16, (laterTransforms.length + 1) * 12);
      [transform, ...laterTransforms].forEach((key, k) => keys.set(key, k * 12));
      keysAt += keyTableBytes(laterTransforms);
    }
  });
  const count = instances.length;
  const bench = new Workbench(Arena.bytes(count * BOX, count * 4, BINS, Math.max(1, count) * NODE));
  const { arena, kernel } = bench;
  const boxesAt = arena.address;
  const boxTable = arena.f32(count * 8);
  boxes.forEach((box, i) => {
    boxTable.set(box.subarray(0, 3), i * 8);
    boxTable.set(box.subarray(3, 6), i * 8 + 4);
  });
  const orderAt = arena.address;
  arena.u8(count * 4);
  const binsAt = arena.address;
  arena.u8(BINS);
  const nodes = kernel.buildBoxes(boxesAt, count, orderAt, binsAt, arena.address);
  new Uint8Array(memory.buffer, header[3], nodes * NODE).set(arena.u8(nodes * NODE));
}

function keyTableBytes(later: unknown[]): number {
  return 16 + (later.length + 1) * 96;
}

/** A memory of its own for building, so that the room it needs is not kept. */
class Workbench {
  readonly kernel: Kernel;
  private readonly memory: WebAssembly.Memory;
  constructor(bytes: number) {
    this.memory = new WebAssembly.Memory({ initial: pagesOf(bytes), maximum: MOST_PAGES });
    this.kernel = startKernel(this.memory);
  }
  get arena(): Arena {
    return (this.open ??= new Arena(this.memory.buffer));
  }
  /** Starts again from the first byte. */
  clear(): Arena {
    return (this.open = new Arena(this.memory.buffer));
  }
  private open?: Arena;
}

function buildMeshes(meshes: TriangleMesh[]): BuiltMesh[] {
  const most = Math.max(0, ...meshes.map(workBytes));
  const bench = new Workbench(most);
  return meshes.map((mesh) => {
    const triangles = mesh.indices.length / 3;
    const vertices = mesh.positions.length / 3;
    const keys = 1 + (mesh.laterPositions?.length ?? 0);
    const arena = bench.clear();
    const positionsAt = arena.address;
    const positions = arena.f32(vertices * 3 * keys);
    [mesh.positions, ...(mesh.laterPositions ?? [])].forEach((p, k) => positions.set(p, k * vertices * 3));
    const indicesAt = arena.address;
    arena.i32(triangles * 3).set(mesh.indices);
    const [boxesAt, orderAt, binsAt, nodesAt] = [triangles * BOX, triangles * 4, BINS, (triangles + 1) * NODE].map(
      (size) => {
        const at = arena.address;
        arena.u8(size);
        return at;
      },
    );
    const packetsAt = arena.address;
    arena.u8(triangles * (CORNERS * keys + IDS));
    const countsAt = arena.address;
    const counts = arena.i32(4);
    const nodeCount = bench.kernel.buildTriangles(
      positionsAt, vertices, keys, indicesAt, triangles, boxesAt, orderAt, binsAt, nodesAt, packetsAt, countsAt,
    ); // prettier-ignore
    const buffer = positions.buffer;
    const copy = (at: number, size: number) => new Uint8Array(buffer, at, size).slice();
    return {
      nodes: copy(nodesAt, nodeCount * NODE),
      packets: copy(packetsAt, counts[1] * (CORNERS * keys + IDS)),
      keys,
    };
  });
}

function workBytes({ positions, laterPositions, indices }: TriangleMesh): number {
  const triangles = indices.length / 3;
  const keys = 1 + (laterPositions?.length ?? 0);
  return Arena.bytes(
    positions.byteLength * keys,
    indices.byteLength,
    triangles * BOX,
    triangles * 4,
    BINS,
    (triangles + 1) * NODE,
    triangles * (CORNERS * keys + IDS),
    16,
  );
}

function pagesOf(bytes: number): number {
  const pages = Math.max(1, Math.ceil(bytes / PAGE));
  if (pages > MOST_PAGES) throw new RangeError(`the triangles need ${(bytes / 2 ** 30).toFixed(1)} GiB, more than 4`);
  return pages;
}
