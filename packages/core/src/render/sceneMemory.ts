import type { CompiledScene } from './compile.ts';

/** Bytes of memory, by what they hold. */
export interface SceneMemory {
  /** Nodes and triangles of the ray queries. */
  hierarchy: number;
  /** Vertices, normals, UVs and indices for shading. */
  geometry: number;
  /** Textures with their smaller levels, and the environment picture with its tables. */
  textures: number;
  /** Objects, surfaces, lights, the camera. */
  tables: number;
  /** The proof while it is put together (proofMemory). */
  film: number;
}

/**
 * What a render holds in memory, counted from the arrays themselves. All threads of a process share it. The process itself,
 * its code and what is passed on between its parts come on top.
 * @param film bytes of its proof
 */
export function sceneMemory(scene: CompiledScene, film: number): SceneMemory {
  const counted = new Set<ArrayBufferLike>();
  const bytesOf = (value: unknown): number => {
    if (value instanceof WebAssembly.Memory) return bytesOf(value.buffer);
    if (ArrayBuffer.isView(value)) return bytesOf(value.buffer);
    if (
      value instanceof ArrayBuffer ||
      (typeof SharedArrayBuffer !== 'undefined' && value instanceof SharedArrayBuffer)
    ) {
      if (counted.has(value)) return 0;
      counted.add(value);
      return value.byteLength;
    }
    if (typeof value !== 'object' || value === null) return 0;
    return Object.values(value).reduce<number>((sum, part) => sum + bytesOf(part), 0);
  };
  const { rays, meshes, positions, normals, uvs, indices, textures, environment, ...rest } = scene;
  return {
    hierarchy: bytesOf(rays),
    geometry: bytesOf([meshes, positions, normals, uvs, indices]),
    textures: bytesOf([textures, environment]),
    tables: bytesOf(rest),
    film,
  };
}
