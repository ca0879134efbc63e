// Reading meshes away from the page.
import { expose, transfer } from 'comlink';
import { decodeMesh, type MeshData } from '@dusting/core/formats';
import { uvSeams, vertexNormals } from '@dusting/core/geometry';
import { shapeBlobs, shownShape } from '@dusting/core/render';
import type { ShotDocument } from '@dusting/core/scene';
import { fetchBlob } from '../parts/fetchBlob.ts';

export interface ModelMesh {
  positions: Float32Array; // 3 a vertex, metres
  /** Where the file has none, those of the faces. */
  normals: Float32Array; // 3 a vertex
  indices: Uint32Array;
  /** Edges where the UVs are cut: // 0..2 from, 3..5 to */
  seams: Float32Array;
  /** // 0..2 min, 3..5 max */
  box: Float32Array;
}

const api = {
  /** A mesh as it came. */
  async load(blob: string): Promise<ModelMesh> {
    return toModel(decodeMesh(await fetchBlob(blob)));
  },
  /** An object as it is rendered. @param source what its shape depends on */
  async shape(source: ShotDocument, id: string): Promise<ModelMesh> {
    const blobs = new Map<string, Uint8Array>();
    for (const blob of shapeBlobs(source)) blobs.set(blob, await fetchBlob(blob));
    return toModel(shownShape(source, id, (blob) => blobs.get(blob)!));
  },
};

function toModel(mesh: MeshData): ModelMesh {
  const box = new Float32Array([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);
  mesh.positions.forEach((v, i) => {
    box[i % 3] = Math.min(box[i % 3], v);
    box[3 + (i % 3)] = Math.max(box[3 + (i % 3)], v);
  });
  // copies: the parts of a file share its buffer, which can be passed on only once
  const positions = mesh.positions.slice();
  const normals = mesh.normals?.slice() ?? vertexNormals(mesh);
  const indices = mesh.indices.slice();
  const seams = uvSeams(mesh, mesh.uvs);
  const parts = [positions, normals, indices, seams, box].map((part) => part.buffer as ArrayBuffer);
  return transfer({ positions, normals, indices, seams, box }, parts);
}
export type MeshTools = typeof api;
expose(api);
