// Our own packing of one triangle mesh, little-endian, all parts 4-byte aligned:
// // 0 mark, 1 vertex count, 2 index count, 3 flags (1 normals, 2 UVs), then positions, normals, UVs (f32), indices (u32)
import { InputError } from './inputError.ts';

export interface MeshData {
  positions: Float32Array; // 3 a vertex, metres
  normals: Float32Array | null; // 3 a vertex
  uvs: Float32Array | null; // 2 a vertex, v counted downwards as in glTF
  indices: Uint32Array; // 3 a triangle, counter-clockwise seen from the front
}

const MARK = 0x44524d31;
export const MESH_MEDIA_TYPE = 'application/x-dusting-mesh';

export function encodeMesh(mesh: MeshData): Uint8Array {
  const parts = [mesh.positions, mesh.normals, mesh.uvs, mesh.indices].filter((p) => p !== null);
  const bytes = new Uint8Array(16 + parts.reduce((sum, part) => sum + part.byteLength, 0));
  const flags = (mesh.normals ? 1 : 0) | (mesh.uvs ? 2 : 0);
  new Uint32Array(bytes.buffer, 0, 4).set([MARK, mesh.positions.length / 3, mesh.indices.length, flags]);
  let at = 16;
  for (const part of parts) {
    bytes.set(new Uint8Array(part.buffer, part.byteOffset, part.byteLength), at);
    at += part.byteLength;
  }
  return bytes;
}

export function decodeMesh(bytes: Uint8Array): MeshData {
  const copy = bytes.slice(); // aligned
  const head = copy.length >= 16 ? new Uint32Array(copy.buffer, 0, 4) : [0, 0, 0, 0];
  const [mark, vertices, indexCount, flags] = head;
  const length = 16 + vertices * 4 * (3 + (flags & 1 ? 3 : 0) + (flags & 2 ? 2 : 0)) + indexCount * 4;
  if (mark !== MARK || length !== copy.length) throw new InputError('a stored mesh is damaged');
  let at = 16;
  const floats = (count: number) => {
    const part = new Float32Array(copy.buffer, at, count);
    at += count * 4;
    return part;
  };
  const positions = floats(vertices * 3);
  const normals = flags & 1 ? floats(vertices * 3) : null;
  const uvs = flags & 2 ? floats(vertices * 2) : null;
  return { positions, normals, uvs, indices: new Uint32Array(copy.buffer, at, indexCount) };
}
