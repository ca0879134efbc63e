// Reading meshes away from the page.
import { expose, transfer } from 'comlink';
import { decodeMesh } from '@dusting/core/formats';
import { uvSeams, vertexNormals } from '@dusting/core/geometry';
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
  async load(blob: string): Promise<ModelMesh> {
    const mesh = decodeMesh(await fetchBlob(blob));
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
  },
};
export type MeshTools = typeof api;
expose(api);
