// Our own packing of one mesh, little-endian, all parts 4-byte aligned:
// // 0 mark, 1 vertex count, 2 index count, 3 flags (1 normals, 2 UVs, 4 a second set of UVs, 8 sizes of faces) and from
// // bit 8 on the number of later times, 4 number of faces (only with flag 8), then positions, normals, UVs, second UVs
// // (f32), indices (u32), sizes of faces (u8, padded to 4), then for each later time positions and, with flag 1, normals
import { InputError } from './inputError.ts';

export interface MeshData {
  positions: Float32Array; // 3 a vertex, metres
  normals: Float32Array | null; // 3 a vertex
  uvs: Float32Array | null; // 2 a vertex, v counted downwards as in glTF
  /** The second set. */
  laterUvs?: Float32Array | null;
  indices: Uint32Array; // 3 a triangle, counter-clockwise seen from the front
  /**
   * Corners of each face, where some have more than three: a face of n is a fan of n - 2 triangles about its first
   * corner. What subdivision needs to know.
   */
  faceSizes?: Uint8Array | null;
  /** The mesh at later times, evenly spaced up to the end of the shutter interval. */
  later?: { positions: Float32Array; normals: Float32Array | null }[];
}

const MARK = 0x44524d31;
const FLAG = { normals: 1, uvs: 2, laterUvs: 4, faces: 8 };
export const MESH_MEDIA_TYPE = 'application/x-dusting-mesh';

export function encodeMesh(mesh: MeshData): Uint8Array {
  const { positions, normals, uvs, laterUvs, indices, faceSizes, later = [] } = mesh;
  const flags = (normals ? FLAG.normals : 0) | (uvs ? FLAG.uvs : 0) | (laterUvs ? FLAG.laterUvs : 0) | (faceSizes ? FLAG.faces : 0); // prettier-ignore
  const head = [MARK, positions.length / 3, indices.length, flags | (later.length << 8)];
  if (faceSizes) head.push(faceSizes.length);
  const faces = faceSizes ? new Uint8Array(padded(faceSizes.length)) : null;
  if (faces) faces.set(faceSizes!);
  const moved = later.flatMap((key) => [key.positions, normals ? key.normals : null]);
  const parts = [new Uint32Array(head), positions, normals, uvs, laterUvs, indices, faces, ...moved].filter((part) => part !== null && part !== undefined); // prettier-ignore
  const bytes = new Uint8Array(parts.reduce((sum, part) => sum + part.byteLength, 0));
  let at = 0;
  for (const part of parts) {
    bytes.set(new Uint8Array(part.buffer, part.byteOffset, part.byteLength), at);
    at += part.byteLength;
  }
  return bytes;
}

export function decodeMesh(bytes: Uint8Array): MeshData {
  const damaged = () => new InputError('a stored mesh is damaged');
  if (bytes.length < 20) throw damaged();
  const { buffer } = bytes.slice(); // aligned
  const [mark, vertices, indexCount, flags, faceCount] = new Uint32Array(buffer, 0, 5);
  const has = (flag: number) => (flags & flag) !== 0;
  const keys = flags >>> 8;
  const perKey = vertices * 12 * (has(FLAG.normals) ? 2 : 1);
  const head = has(FLAG.faces) ? 20 : 16;
  const length =
    head + perKey * (1 + keys) + vertices * 8 * (Number(has(FLAG.uvs)) + Number(has(FLAG.laterUvs))) + indexCount * 4 + (has(FLAG.faces) ? padded(faceCount) : 0); // prettier-ignore
  if (mark !== MARK || length !== bytes.length) throw damaged();
  let at = head;
  const floats = (count: number) => {
    const part = new Float32Array(buffer, at, count);
    at += count * 4;
    return part;
  };
  const positions = floats(vertices * 3);
  const normals = has(FLAG.normals) ? floats(vertices * 3) : null;
  const uvs = has(FLAG.uvs) ? floats(vertices * 2) : null;
  const laterUvs = has(FLAG.laterUvs) ? floats(vertices * 2) : null;
  const indices = new Uint32Array(buffer, at, indexCount);
  at += indexCount * 4;
  const faceSizes = has(FLAG.faces) ? new Uint8Array(buffer, at, faceCount) : null;
  at += faceSizes ? padded(faceCount) : 0;
  const later = Array.from({ length: keys }, () => ({
    positions: floats(vertices * 3),
    normals: has(FLAG.normals) ? floats(vertices * 3) : null,
  }));
  return {
    positions,
    normals,
    uvs,
    ...(laterUvs && { laterUvs }),
    indices,
    ...(faceSizes && { faceSizes }),
    ...(keys > 0 && { later }),
  };
}

function padded(bytes: number): number {
  return (bytes + 3) & ~3;
}
