import type { Affine } from '../math/index.ts';

/** What rays meet, before a hierarchy is built over it. */
export interface TriangleMesh {
  positions: Float32Array; // 3 a vertex, metres
  /** Positions at later times, evenly spaced up to the end of the shutter interval. */
  laterPositions?: Float32Array[];
  indices: Uint32Array; // 3 a triangle
}
export interface MeshInstance {
  mesh: number;
  transform: Affine; // object to world
  /** Transforms at later times, evenly spaced up to the end of the shutter interval. */
  laterTransforms?: Affine[];
  /** The kinds of rays that meet it: bits of RAY_KINDS. All of them where it is left out. */
  mask?: number;
}
