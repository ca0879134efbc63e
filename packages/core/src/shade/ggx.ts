// The GGX distribution of microfacet normals, isotropic. All directions are in the frame of the shading normal (z up).

/** Density of normals at z = cosine (Walter et al. 2007, eq. 33). */
export function ggxDensity(cosine: number, alpha: number): number {
  const a2 = alpha * alpha;
  const d = cosine * cosine * (a2 - 1) + 1;
  return a2 / (Math.PI * d * d);
}

/** Smith's lambda (Heitz 2014, eq. 72). */
export function ggxLambda(cosine: number, alpha: number): number {
  const c2 = cosine * cosine;
  if (c2 <= 0) return Infinity;
  return (Math.sqrt(1 + (alpha * alpha * (1 - c2)) / c2) - 1) / 2;
}

/** Masking of one direction (Smith), 0..1. */
export function ggxMasking(cosine: number, alpha: number): number {
  return 1 / (1 + ggxLambda(cosine, alpha));
}

/** A normal among those visible from (x, y, z), z > 0, into out[0..2] (Heitz 2018, "Sampling the GGX Distribution of Visible Normals"). */
export function sampleVisibleNormal(
  out: Float64Array,
  x: number,
  y: number,
  z: number,
  alpha: number,
  u: number,
  v: number,
): void {
  let vx = alpha * x;
  let vy = alpha * y;
  let vz = z;
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
  const r = Math.sqrt(u);
  const angle = 2 * Math.PI * v;
  const p1 = r * Math.cos(angle);
  const s = (1 + vz) / 2;
  const p2 = (1 - s) * Math.sqrt(Math.max(0, 1 - p1 * p1)) + s * r * Math.sin(angle);
  const p3 = Math.sqrt(Math.max(0, 1 - p1 * p1 - p2 * p2));
  const nx = alpha * (p1 * t1x + p2 * t2x + p3 * vx);
  const ny = alpha * (p1 * t1y + p2 * t2y + p3 * vy);
  const nz = Math.max(1e-9, p2 * t2z + p3 * vz);
  const scale = 1 / Math.sqrt(nx * nx + ny * ny + nz * nz);
  out[0] = nx * scale;
  out[1] = ny * scale;
  out[2] = nz * scale;
}
