// Lights with a closed form: how they stand in a table, are chosen points of, and met.
import { luminance } from '../color/index.ts';
import { layOutRow, normalize, transformDirection } from '../math/index.ts';
import type { LightBounds } from './lightTree.ts';
import type { Direction, Ray } from './ray.ts';
import type { Light } from '../scene/index.ts';

/**
 * Numbers of a light in the table. Position of a sun: the direction towards it. Radiance of a point or a spot: intensity;
 * of a parallel sun: irradiance. The axis is the way that it shines, edges are half as long as the light. Inner cosine of
 * a sun: that of half its angle. Density: of a sun, 1 / its solid angle, 0 if parallel. Reach and the range of its shadows in metres.
 */
export const LIGHT = layOutRow({
  kind: 1, position: 3, radiance: 3, axis: 3, edgeX: 3, edgeY: 3, area: 1, radius: 1, innerCosine: 1, outerCosine: 1,
  density: 1, shadowColor: 3, castsShadows: 1, reach: 1, mostEvents: 1, group: 1, seen: 1, shadowFrom: 1, shadowTo: 1,
}); // prettier-ignore
export const POINT = 0;
export const SPOT = 1;
export const SUN = 2;
export const RECTANGLE = 3;
export const SPHERE = 4;
export const DISC = 5;
const KINDS = { point: POINT, spot: SPOT, sun: SUN, rectangle: RECTANGLE, sphere: SPHERE, disc: DISC };

/** Where a chosen light stands as seen from a point. One object is filled again for every sample. */
export class LightSample implements Direction {
  /** Random numbers to choose by, in [0, 1). */
  u = 0;
  v = 0;
  dx = 0;
  dy = 0;
  dz = 0;
  distance = 0;
  /** Radiance; for a light without extent already over distance squared, with density 0. */
  readonly radiance = new Float64Array(3);
  /** Per steradian; 0 for a light without extent. */
  density = 0;
}

/** Direction, distance, radiance and density. */
export function copyLight(to: LightSample, from: LightSample): void {
  to.dx = from.dx;
  to.dy = from.dy;
  to.dz = from.dz;
  to.distance = from.distance;
  to.density = from.density;
  for (let k = 0; k < 3; k++) to.radiance[k] = from.radiance[k];
}

export function fillLight(table: Float64Array, index: number, light: Light, group: number): void {
  const at = index * LIGHT.stride;
  const axis = normalize(transformDirection(light.transform, [0, 0, -1]));
  const position = [light.transform[3], light.transform[7], light.transform[11]];
  const power = light.color.map((c) => c * light.strength * 2 ** light.exposure);
  table[at + LIGHT.kind] = KINDS[light.kind];
  table.set(light.kind === 'sun' ? axis.map((a) => -a) : position, at + LIGHT.position);
  table.set(power, at + LIGHT.radiance);
  table.set(axis, at + LIGHT.axis);
  if (light.kind === 'rectangle' || light.kind === 'disc') {
    const disc = light.kind === 'disc';
    const radius = light.radius ?? 0.5;
    const x = transformDirection(light.transform, [disc ? radius : (light.width ?? 1) / 2, 0, 0]);
    const y = transformDirection(light.transform, [0, disc ? radius : (light.height ?? 1) / 2, 0]);
    table.set(x, at + LIGHT.edgeX);
    table.set(y, at + LIGHT.edgeY);
    const normal = [y[1] * x[2] - y[2] * x[1], y[2] * x[0] - y[0] * x[2], y[0] * x[1] - y[1] * x[0]];
    table[at + LIGHT.area] = (disc ? Math.PI : 4) * Math.hypot(...normal);
    table.set(normalize(normal), at + LIGHT.axis);
  }
  table[at + LIGHT.radius] = light.radius ?? 0.05;
  table[at + LIGHT.innerCosine] = Math.cos(((light.innerCone ?? 0) * Math.PI) / 180);
  table[at + LIGHT.outerCosine] = Math.cos(((light.outerCone ?? 45) * Math.PI) / 180);
  table.set(light.shadowColor, at + LIGHT.shadowColor);
  table[at + LIGHT.castsShadows] = light.castsShadows ? 1 : 0;
  table[at + LIGHT.reach] = light.reach || Infinity;
  table[at + LIGHT.mostEvents] = light.bounces;
  table[at + LIGHT.group] = group;
  table[at + LIGHT.seen] = light.seenByCamera ? 1 : 0;
  table[at + LIGHT.shadowFrom] = light.shadowFrom;
  table[at + LIGHT.shadowTo] = light.shadowTo || Infinity;
  if (light.kind === 'sun') {
    const half = ((light.angle ?? 0) * Math.PI) / 360;
    if (half > 0) {
      // the given irradiance on a surface across the beam, from a disc of even radiance
      const spread = Math.PI * Math.sin(half) ** 2;
      for (let k = 0; k < 3; k++) table[at + LIGHT.radiance + k] /= spread;
      table[at + LIGHT.innerCosine] = Math.cos(half);
      table[at + LIGHT.density] = 1 / (4 * Math.PI * Math.sin(half / 2) ** 2);
    } else table[at + LIGHT.innerCosine] = 1;
  }
}

/** Chooses a point of the light for a place by out.u and out.v. False where it gives nothing there. */
export function sampleLight(table: Float64Array, index: number, from: ArrayLike<number>, out: LightSample): boolean {
  const at = index * LIGHT.stride;
  const kind = table[at + LIGHT.kind];
  for (let k = 0; k < 3; k++) out.radiance[k] = table[at + LIGHT.radiance + k];
  if (kind === SUN) {
    out.distance = Infinity;
    out.density = table[at + LIGHT.density];
    if (out.density === 0) {
      out.dx = table[at + LIGHT.position];
      out.dy = table[at + LIGHT.position + 1];
      out.dz = table[at + LIGHT.position + 2];
    } else {
      aimAt(out, table[at + LIGHT.position], table[at + LIGHT.position + 1], table[at + LIGHT.position + 2]);
      turnInCone(out, table[at + LIGHT.innerCosine]);
    }
    return true;
  }
  let x = table[at + LIGHT.position] - from[0];
  let y = table[at + LIGHT.position + 1] - from[1];
  let z = table[at + LIGHT.position + 2] - from[2];
  if (kind === RECTANGLE || kind === DISC) {
    const { u, v } = out;
    let a = 2 * u - 1;
    let b = 2 * v - 1;
    if (kind === DISC) {
      const r = Math.sqrt(u);
      a = r * Math.cos(2 * Math.PI * v);
      b = r * Math.sin(2 * Math.PI * v);
    }
    x += a * table[at + LIGHT.edgeX] + b * table[at + LIGHT.edgeY];
    y += a * table[at + LIGHT.edgeX + 1] + b * table[at + LIGHT.edgeY + 1];
    z += a * table[at + LIGHT.edgeX + 2] + b * table[at + LIGHT.edgeY + 2];
  }
  const distance2 = x * x + y * y + z * z;
  if (!(distance2 > 0)) return false;
  const distance = Math.sqrt(distance2);
  out.dx = x / distance;
  out.dy = y / distance;
  out.dz = z / distance;
  out.distance = distance;
  if (distance > table[at + LIGHT.reach]) return false;
  if (kind === RECTANGLE || kind === DISC) {
    const cosine = -(
      out.dx * table[at + LIGHT.axis] +
      out.dy * table[at + LIGHT.axis + 1] +
      out.dz * table[at + LIGHT.axis + 2]
    );
    if (cosine <= 0) return false;
    out.density = distance2 / (cosine * table[at + LIGHT.area]);
    return true;
  }
  if (kind === SPHERE) {
    const radius = table[at + LIGHT.radius];
    if (distance <= radius) return false;
    const sine2 = (radius * radius) / distance2;
    const cosine = Math.sqrt(1 - sine2);
    out.density = 1 / (2 * Math.PI * (sine2 / (1 + cosine)));
    turnInCone(out, cosine);
    const along = out.dx * x + out.dy * y + out.dz * z;
    out.distance = along - Math.sqrt(Math.max(0, radius * radius - (distance2 - along * along)));
    return true;
  }
  out.density = 0;
  let strength = 1 / distance2;
  if (kind === SPOT) {
    // KHR_lights_punctual, "Inner and outer cone angles"
    const cosine = -(
      out.dx * table[at + LIGHT.axis] +
      out.dy * table[at + LIGHT.axis + 1] +
      out.dz * table[at + LIGHT.axis + 2]
    );
    const scale = 1 / Math.max(1e-3, table[at + LIGHT.innerCosine] - table[at + LIGHT.outerCosine]);
    const fall = Math.min(1, Math.max(0, (cosine - table[at + LIGHT.outerCosine]) * scale));
    strength *= fall * fall;
    // the axis is the direction of travel, so a point in the beam sees the light against it
    if (fall === 0) return false;
  }
  for (let k = 0; k < 3; k++) out.radiance[k] *= strength;
  return true;
}

/**
 * Whether a ray meets the light before out.distance: where it does, its distance and the density with which sampleLight
 * would have chosen that direction (per steradian) are put there.
 */
export function meetLight(table: Float64Array, index: number, ray: Ray, out: LightSample): boolean {
  const { ox, oy, oz, dx, dy, dz } = ray;
  const reach = out.distance;
  const at = index * LIGHT.stride;
  const kind = table[at + LIGHT.kind];
  if (kind === SUN) {
    const cosine =
      dx * table[at + LIGHT.position] + dy * table[at + LIGHT.position + 1] + dz * table[at + LIGHT.position + 2];
    out.density = table[at + LIGHT.density];
    return reach === Infinity && out.density > 0 && cosine > table[at + LIGHT.innerCosine];
  }
  const x = table[at + LIGHT.position] - ox;
  const y = table[at + LIGHT.position + 1] - oy;
  const z = table[at + LIGHT.position + 2] - oz;
  if (kind === RECTANGLE || kind === DISC) {
    const cosine = -(dx * table[at + LIGHT.axis] + dy * table[at + LIGHT.axis + 1] + dz * table[at + LIGHT.axis + 2]);
    if (cosine <= 1e-9) return false;
    const t = -(x * table[at + LIGHT.axis] + y * table[at + LIGHT.axis + 1] + z * table[at + LIGHT.axis + 2]) / cosine;
    if (!(t > 0 && t < reach)) return false;
    const hx = t * dx - x;
    const hy = t * dy - y;
    const hz = t * dz - z;
    const a = alongEdge(table, at + LIGHT.edgeX, hx, hy, hz);
    const b = alongEdge(table, at + LIGHT.edgeY, hx, hy, hz);
    if (kind === DISC ? a * a + b * b > 1 : Math.abs(a) > 1 || Math.abs(b) > 1) return false;
    out.distance = t;
    out.density = (t * t) / (cosine * table[at + LIGHT.area]);
    return true;
  }
  if (kind === SPHERE) {
    const radius2 = table[at + LIGHT.radius] * table[at + LIGHT.radius];
    const distance2 = x * x + y * y + z * z;
    const along = x * dx + y * dy + z * dz;
    const miss2 = distance2 - along * along;
    if (distance2 <= radius2 || along <= 0 || miss2 >= radius2) return false;
    const entry = along - Math.sqrt(radius2 - miss2);
    if (entry >= reach) return false;
    const sine2 = radius2 / distance2;
    out.distance = entry;
    out.density = 1 / (2 * Math.PI * (sine2 / (1 + Math.sqrt(1 - sine2))));
    return true;
  }
  return false;
}

/** Where a point lies along an edge: -1..1 between its ends. */
function alongEdge(table: Float64Array, at: number, x: number, y: number, z: number): number {
  const ex = table[at];
  const ey = table[at + 1];
  const ez = table[at + 2];
  return (x * ex + y * ey + z * ez) / (ex * ex + ey * ey + ez * ez);
}

function aimAt(out: LightSample, x: number, y: number, z: number): void {
  out.dx = x;
  out.dy = y;
  out.dz = z;
}

/** Turns a direction by out.u and out.v to one evenly spread over the cone about it. */
function turnInCone(out: LightSample, cosineMax: number): void {
  const { u, v, dx: ax, dy: ay, dz: az } = out;
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

/** What the light tree knows of a light with a place (not the sun). */
export function lightBounds(table: Float64Array, index: number): LightBounds {
  const at = index * LIGHT.stride;
  const kind = table[at + LIGHT.kind];
  const position = Array.from(table.subarray(at + LIGHT.position, at + LIGHT.position + 3));
  const strength = luminance(
    table[at + LIGHT.radiance],
    table[at + LIGHT.radiance + 1],
    table[at + LIGHT.radiance + 2],
  );
  const radius = table[at + LIGHT.radius];
  const flat = kind === RECTANGLE || kind === DISC;
  const half = flat
    ? [0, 1, 2].map((k) => Math.abs(table[at + LIGHT.edgeX + k]) + Math.abs(table[at + LIGHT.edgeY + k]))
    : [radius, radius, radius].map((r) => (kind === SPHERE ? r : 0));
  return {
    low: position.map((p, k) => p - half[k]),
    high: position.map((p, k) => p + half[k]),
    power: strength * (flat ? table[at + LIGHT.area] : kind === SPHERE ? Math.PI * radius * radius : 1),
    axis: Array.from(table.subarray(at + LIGHT.axis, at + LIGHT.axis + 3)),
    spread: flat || kind === SPOT ? 1 : -1,
    reach: kind === SPOT ? table[at + LIGHT.outerCosine] : flat ? 0 : -1,
    bothSides: false,
    range: table[at + LIGHT.reach],
  };
}
