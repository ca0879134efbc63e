// Lights with a closed form, 32 numbers each:
// // 0 kind, 1..3 position (sun: direction towards it), 4..6 radiance (point, spot: intensity; parallel sun: irradiance),
// // 7..9 axis along which it shines, 10..12 half edge in X, 13..15 half edge in Y, 16 area, 17 radius,
// // 18 cosine of the inner cone (sun: of half its angle), 19 cosine of the outer cone, 20 1 / solid angle, 21..31 unused
import { normalize, transformDirection } from '../math/index.ts';
import type { Light } from '../scene/index.ts';

export const LIGHT_STRIDE = 32;
export const POINT = 0;
export const SPOT = 1;
export const SUN = 2;
export const RECTANGLE = 3;
export const SPHERE = 4;
const KINDS = { point: POINT, spot: SPOT, sun: SUN, rectangle: RECTANGLE, sphere: SPHERE };

/** Where a chosen light stands as seen from a point. One object is filled again for every sample. */
export class LightSample {
  dx = 0;
  dy = 0;
  dz = 0;
  distance = 0;
  /** Radiance; for a light without extent already over distance squared, with density 0. */
  readonly radiance = new Float64Array(3);
  /** Per steradian; 0 for a light without extent. */
  density = 0;
}

export function fillLight(table: Float64Array, index: number, light: Light): void {
  const at = index * LIGHT_STRIDE;
  const axis = normalize(transformDirection(light.transform, [0, 0, -1]));
  const position = [light.transform[3], light.transform[7], light.transform[11]];
  const power = light.color.map((c) => c * light.strength);
  table[at] = KINDS[light.kind];
  table.set(light.kind === 'sun' ? axis.map((a) => -a) : position, at + 1);
  table.set(power, at + 4);
  table.set(axis, at + 7);
  if (light.kind === 'rectangle') {
    const x = transformDirection(light.transform, [(light.width ?? 1) / 2, 0, 0]);
    const y = transformDirection(light.transform, [0, (light.height ?? 1) / 2, 0]);
    table.set(x, at + 10);
    table.set(y, at + 13);
    const normal = [y[1] * x[2] - y[2] * x[1], y[2] * x[0] - y[0] * x[2], y[0] * x[1] - y[1] * x[0]];
    table[at + 16] = 4 * Math.hypot(...normal);
    table.set(normalize(normal), at + 7);
  }
  table[at + 17] = light.radius ?? 0.05;
  table[at + 18] = Math.cos(((light.innerCone ?? 0) * Math.PI) / 180);
  table[at + 19] = Math.cos(((light.outerCone ?? 45) * Math.PI) / 180);
  if (light.kind === 'sun') {
    const half = ((light.angle ?? 0) * Math.PI) / 360;
    if (half > 0) {
      // the given irradiance on a surface across the beam, from a disc of even radiance
      const spread = Math.PI * Math.sin(half) ** 2;
      for (let k = 0; k < 3; k++) table[at + 4 + k] /= spread;
      table[at + 18] = Math.cos(half);
      table[at + 20] = 1 / (4 * Math.PI * Math.sin(half / 2) ** 2);
    } else table[at + 18] = 1;
  }
}

/** Chooses a point of the light for (px, py, pz). False where it gives nothing there. */
export function sampleLight(
  table: Float64Array,
  index: number,
  px: number,
  py: number,
  pz: number,
  u: number,
  v: number,
  out: LightSample,
): boolean {
  const at = index * LIGHT_STRIDE;
  const kind = table[at];
  for (let k = 0; k < 3; k++) out.radiance[k] = table[at + 4 + k];
  if (kind === SUN) {
    out.distance = Infinity;
    out.density = table[at + 20];
    if (out.density === 0) {
      out.dx = table[at + 1];
      out.dy = table[at + 2];
      out.dz = table[at + 3];
    } else coneDirection(out, table[at + 1], table[at + 2], table[at + 3], table[at + 18], u, v);
    return true;
  }
  let x = table[at + 1] - px;
  let y = table[at + 2] - py;
  let z = table[at + 3] - pz;
  if (kind === RECTANGLE) {
    const a = 2 * u - 1;
    const b = 2 * v - 1;
    x += a * table[at + 10] + b * table[at + 13];
    y += a * table[at + 11] + b * table[at + 14];
    z += a * table[at + 12] + b * table[at + 15];
  }
  const distance2 = x * x + y * y + z * z;
  if (!(distance2 > 0)) return false;
  const distance = Math.sqrt(distance2);
  out.dx = x / distance;
  out.dy = y / distance;
  out.dz = z / distance;
  out.distance = distance;
  if (kind === RECTANGLE) {
    const cosine = -(out.dx * table[at + 7] + out.dy * table[at + 8] + out.dz * table[at + 9]);
    if (cosine <= 0) return false;
    out.density = distance2 / (cosine * table[at + 16]);
    return true;
  }
  if (kind === SPHERE) {
    const radius = table[at + 17];
    if (distance <= radius) return false;
    const sine2 = (radius * radius) / distance2;
    const cosine = Math.sqrt(1 - sine2);
    const [ax, ay, az] = [out.dx, out.dy, out.dz]; // prettier-ignore
    out.density = 1 / (2 * Math.PI * (sine2 / (1 + cosine)));
    coneDirection(out, ax, ay, az, cosine, u, v);
    const along = out.dx * x + out.dy * y + out.dz * z;
    out.distance = along - Math.sqrt(Math.max(0, radius * radius - (distance2 - along * along)));
    return true;
  }
  out.density = 0;
  let strength = 1 / distance2;
  if (kind === SPOT) {
    // KHR_lights_punctual, "Inner and outer cone angles"
    const cosine = -(out.dx * table[at + 7] + out.dy * table[at + 8] + out.dz * table[at + 9]);
    const scale = 1 / Math.max(1e-3, table[at + 18] - table[at + 19]);
    const fall = Math.min(1, Math.max(0, (cosine - table[at + 19]) * scale));
    strength *= fall * fall;
    // the axis is the direction of travel, so a point in the beam sees the light against it
    if (fall === 0) return false;
  }
  for (let k = 0; k < 3; k++) out.radiance[k] *= strength;
  return true;
}

/**
 * Whether a ray meets the light before `reach`. Returns the density with which sampleLight would have chosen that
 * direction (per steradian), or 0 for a miss.
 */
export function meetLight(
  table: Float64Array,
  index: number,
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  reach: number,
): number {
  const at = index * LIGHT_STRIDE;
  const kind = table[at];
  if (kind === SUN) {
    const cosine = dx * table[at + 1] + dy * table[at + 2] + dz * table[at + 3];
    return reach === Infinity && table[at + 20] > 0 && cosine > table[at + 18] ? table[at + 20] : 0;
  }
  const x = table[at + 1] - ox;
  const y = table[at + 2] - oy;
  const z = table[at + 3] - oz;
  if (kind === RECTANGLE) {
    const cosine = -(dx * table[at + 7] + dy * table[at + 8] + dz * table[at + 9]);
    if (cosine <= 1e-9) return 0;
    const t = -(x * table[at + 7] + y * table[at + 8] + z * table[at + 9]) / cosine;
    if (!(t > 0 && t < reach)) return 0;
    const hx = t * dx - x;
    const hy = t * dy - y;
    const hz = t * dz - z;
    if (!withinEdge(table, at + 10, hx, hy, hz) || !withinEdge(table, at + 13, hx, hy, hz)) return 0;
    return (t * t) / (cosine * table[at + 16]);
  }
  if (kind === SPHERE) {
    const radius2 = table[at + 17] * table[at + 17];
    const distance2 = x * x + y * y + z * z;
    const along = x * dx + y * dy + z * dz;
    const miss2 = distance2 - along * along;
    if (distance2 <= radius2 || along <= 0 || miss2 >= radius2) return 0;
    if (along - Math.sqrt(radius2 - miss2) >= reach) return 0;
    const sine2 = radius2 / distance2;
    return 1 / (2 * Math.PI * (sine2 / (1 + Math.sqrt(1 - sine2))));
  }
  return 0;
}

function withinEdge(table: Float64Array, at: number, x: number, y: number, z: number): boolean {
  const [ex, ey, ez] = [table[at], table[at + 1], table[at + 2]]; // prettier-ignore
  return Math.abs(x * ex + y * ey + z * ez) <= ex * ex + ey * ey + ez * ez;
}

/** A direction evenly spread over the cone about an axis. */
function coneDirection(
  out: LightSample,
  ax: number,
  ay: number,
  az: number,
  cosineMax: number,
  u: number,
  v: number,
): void {
  const cosine = 1 - u * (1 - cosineMax);
  const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
  const angle = 2 * Math.PI * v;
  const x = sine * Math.cos(angle);
  const y = sine * Math.sin(angle);
  const sign = az >= 0 ? 1 : -1;
  const a = -1 / (sign + az);
  const b = ax * ay * a;
  out.dx = x * (1 + sign * ax * ax * a) + y * b + cosine * ax;
  out.dy = x * sign * b + y * (sign + ay * ay * a) + cosine * ay;
  out.dz = -x * sign * ax - y * ay + cosine * az;
}
