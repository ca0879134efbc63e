/** Where a ray met a surface. One object is reused for all rays of a tracer's user. */
export interface Hit {
  /** Distance along the (not necessarily normalised) direction. */
  t: number;
  /** Barycentric weights of the second and third corner. */
  u: number;
  v: number;
  instance: number;
  /** Number of the triangle in its mesh. */
  triangle: number;
  /** Something else lies no farther beyond than the query looks for. */
  crowded: boolean;
  /** The ray comes from where the corners stand counter-clockwise, in the space of the mesh. */
  front: boolean;
}

/** All of one shape: hits of many shapes are read by the engine's slowest way. */
export function emptyHit(): Hit {
  return { t: Infinity, u: 0, v: 0, instance: -1, triangle: -1, crowded: false, front: true };
}

/** The place of a hit, into another: whether it is crowded stays. */
export function copyPlace(hit: Hit, from: Hit): void {
  hit.t = from.t;
  hit.u = from.u;
  hit.v = from.v;
  hit.instance = from.instance;
  hit.triangle = from.triangle;
  hit.front = from.front;
}

/** So many hits are collected at most. */
export const MOST_HITS = 32;

/** Kinds of rays, as bits of masks. */
export const RAY_KINDS = {
  camera: 1,
  diffuse: 2,
  specular: 4,
  transmission: 8,
  /** A shadow ray, for what blocks it whole. */
  shadow: 16,
  /** A shadow ray, for what may let some of its light through. */
  clearShadow: 32,
  /** Boundaries that are no surfaces, looked for apart: by camera rays, and by others. */
  cameraBoundary: 64,
  boundary: 128,
  /** Looks for what casts no shadow although the rays of paths meet it. */
  shadowless: 256,
} as const;
export const ALL_RAYS = 0xff;

/**
 * The one interface to ray queries, called once for each ray. Distances are open intervals (tMin, tMax).
 * Directions need no normalising: t is in units of the direction's length. A ray meets the instances whose mask shares
 * a bit with its own, where they are at `time`: 0 to 1 over the shutter interval.
 */
export interface RayQuery {
  /**
   * Nearest surface; fills `hit` and returns true, or leaves it alone and returns false. The hit is crowded where another
   * lies no farther beyond it than `behind`.
   */
  closestHit(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number, behind: number, hit: Hit,
  ): boolean; // prettier-ignore
  /** All surfaces between, in no order, into the first of `hits` (MOST_HITS of them). Returns their number. */
  allHits(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number, hits: Hit[],
  ): number; // prettier-ignore
  /** Whether anything lies between. */
  anyHit(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number,
  ): boolean; // prettier-ignore
}
