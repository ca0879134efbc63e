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
}

export function emptyHit(): Hit {
  return { t: Infinity, u: 0, v: 0, instance: -1, triangle: -1 };
}

/**
 * The one interface to ray queries, called once for each ray. Distances are open intervals (tMin, tMax).
 * Directions need no normalising: t is in units of the direction's length.
 */
export interface RayQuery {
  /** Nearest surface; fills `hit` and returns true, or leaves it alone and returns false. */
  closestHit(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, hit: Hit,
  ): boolean; // prettier-ignore
  /** Whether anything lies between. */
  anyHit(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number,
  ): boolean; // prettier-ignore
}
