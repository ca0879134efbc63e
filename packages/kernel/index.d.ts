/** The kernel for an imported memory that is not shared, and for one that is. */
export const unsharedBinary: Uint8Array<ArrayBuffer>;
export const sharedBinary: Uint8Array<ArrayBuffer>;

/** What both binaries export; addresses are bytes in the imported memory `env.memory`. */
export interface Kernel {
  /**
   * Builds a hierarchy over triangles; see assembly/build.ts for the arguments.
   * @returns number of nodes; the number of packets stands at `counts + 4`
   */
  buildTriangles(
    positions: number, vertices: number, keys: number, indices: number, triangles: number,
    boxes: number, order: number, bins: number, nodes: number, packets: number, counts: number,
  ): number; // prettier-ignore
  /** Builds a hierarchy over boxes with one box a leaf. @returns number of nodes */
  buildBoxes(boxes: number, count: number, order: number, bins: number, nodes: number): number;
  /**
   * Nearest hit: 0 for none, 1 and the answer at `scratch` (see assembly/layout.ts), or 2 where something else lies no
   * farther than `behind` beyond it.
   */
  closestHit(
    scratch: number,
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number, behind: number,
  ): number; // prettier-ignore
  /** 1 where anything lies between, or 0. */
  anyHit(
    scratch: number,
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number,
  ): number; // prettier-ignore
  /** One step of the edge-avoiding filter: assembly/filter.ts. */
  filterStep(
    base: number, from: number, to: number, plane: number, pitch: number, first: number, width: number, height: number,
    apart: number, errors: number, perSlope: number, doublings: number, guides: number,
  ): void; // prettier-ignore
  /** Number of hits between, at most 32 of which stand at `scratch` in no order. */
  allHits(
    scratch: number,
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number,
  ): number; // prettier-ignore
}
