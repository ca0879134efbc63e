// The GGX distribution of microfacet normals with two widths. All directions are in the frame of the shading normal
// (z up, x along the tangent); ax and ay are the widths along x and y.

/** Density of normals (Walter et al. 2007, eq. 33; Heitz 2014, eq. 85). */
export function ggxDensity(x: number, y: number, z: number, ax: number, ay: number): number {
  const sx = x / ax;
  const sy = y / ay;
  const d = sx * sx + sy * sy + z * z;
  return 1 / (Math.PI * ax * ay * d * d);
}

/** Smith's lambda (Heitz 2014, eq. 86). */
function ggxLambda(x: number, y: number, z: number, ax: number, ay: number): number {
  if (z === 0) return Infinity;
  const sx = ax * x;
  const sy = ay * y;
  return (Math.sqrt(1 + (sx * sx + sy * sy) / (z * z)) - 1) / 2;
}

/** Masking of one direction (Smith), 0..1. */
export function ggxMasking(x: number, y: number, z: number, ax: number, ay: number): number {
  return 1 / (1 + ggxLambda(x, y, z, ax, ay));
}

/** G2 / G1 of height-correlated Smith masking (Heitz 2014, eq. 99): the weight of a sampled visible normal. */
// prettier-ignore
export function correlatedOverSingle(
  fromX: number, fromY: number, fromZ: number, toX: number, toY: number, toZ: number, ax: number, ay: number,
): number {
  const from = 1 + ggxLambda(fromX, fromY, fromZ, ax, ay);
  return from / (from + ggxLambda(toX, toY, toZ, ax, ay));
}

/**
 * A normal among those visible from a direction with z > 0, into out[0..2] (Heitz 2018, "Sampling the GGX Distribution of
 * Visible Normals").
 * @param widths along x and y
 * @param by two random numbers in [0, 1)
 */
export function sampleVisibleNormal(
  out: Float64Array,
  view: ArrayLike<number>,
  widths: ArrayLike<number>,
  by: ArrayLike<number>,
): void {
  let vx = widths[0] * view[0];
  let vy = widths[1] * view[1];
  let vz = view[2];
  const length = Math.sqrt(vx * vx + vy * vy + vz * vz);
  vx /= length;
  vy /= length;
  vz /= length;
  const across = vx * vx + vy * vy;
  const inverse = across > 0 ? 1 / Math.sqrt(across) : 0;
  const t1x = across > 0 ? -vy * inverse : 1;
  const t1y = across > 0 ? vx * inverse : 0;
  const t2x = -vz * t1y;
  const t2y = vz * t1x;
  const t2z = vx * t1y - vy * t1x;
  const r = Math.sqrt(by[0]);
  const angle = 2 * Math.PI * by[1];
  const p1 = r * Math.cos(angle);
  const s = (1 + vz) / 2;
  const p2 = (1 - s) * Math.sqrt(Math.max(0, 1 - p1 * p1)) + s * r * Math.sin(angle);
  const p3 = Math.sqrt(Math.max(0, 1 - p1 * p1 - p2 * p2));
  const nx = widths[0] * (p1 * t1x + p2 * t2x + p3 * vx);
  const ny = widths[1] * (p1 * t1y + p2 * t2y + p3 * vy);
  const nz = Math.max(1e-9, p2 * t2z + p3 * vz);
  const scale = 1 / Math.sqrt(nx * nx + ny * ny + nz * nz);
  out[0] = nx * scale;
  out[1] = ny * scale;
  out[2] = nz * scale;
}
