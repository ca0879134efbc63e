// Emissive triangles as one light: a triangle is chosen by area times luminance, a point on it evenly.
// corners, f64: // 9 numbers a triangle in world space
import { luminance } from '../color/index.ts';
import { searchRunningSum } from '../math/index.ts';
import type { MakeBuffer } from '../trace/index.ts';
import type { LightSample } from './lights.ts';

export interface EmitterTable {
  corners: Float64Array;
  /** Surface and object of each triangle, and its number in the mesh. // 0 object, 1 triangle */
  sources: Int32Array;
  /** Running sum of the chances, ending at 1. */
  sums: Float64Array;
  /** Chance over area: density per square metre. */
  densities: Float64Array;
}

export interface EmitterTriangle {
  corners: number[];
  object: number;
  triangle: number;
  radiance: ArrayLike<number>;
}

export function buildEmitters(triangles: EmitterTriangle[], makeBuffer: MakeBuffer): EmitterTable {
  const doubles = (count: number) => new Float64Array(makeBuffer(count * 8));
  const table: EmitterTable = {
    corners: doubles(triangles.length * 9),
    sources: new Int32Array(makeBuffer(triangles.length * 8)),
    sums: doubles(triangles.length),
    densities: doubles(triangles.length),
  };
  const powers = triangles.map((t) => areaOf(t.corners) * luminance(t.radiance[0], t.radiance[1], t.radiance[2]));
  const total = powers.reduce((sum, power) => sum + power, 0);
  let running = 0;
  triangles.forEach((triangle, i) => {
    table.corners.set(triangle.corners, i * 9);
    table.sources.set([triangle.object, triangle.triangle], i * 2);
    running += powers[i] / total;
    table.sums[i] = running;
    table.densities[i] = powers[i] > 0 ? powers[i] / total / areaOf(triangle.corners) : 0;
  });
  if (triangles.length > 0) table.sums[triangles.length - 1] = 1;
  return table;
}

/** Chooses a point for (px, py, pz): direction, distance and density into out; returns the triangle, or -1 where it is seen edge-on. */
export function sampleEmitter(
  table: EmitterTable,
  px: number,
  py: number,
  pz: number,
  choice: number,
  u: number,
  v: number,
  out: LightSample,
): number {
  const triangle = searchRunningSum(table.sums, 0, table.sums.length, choice);
  const c = table.corners;
  const at = triangle * 9;
  const root = Math.sqrt(u);
  const b = root * (1 - v);
  const a = 1 - root;
  const d = root * v;
  const x = a * c[at] + b * c[at + 3] + d * c[at + 6] - px;
  const y = a * c[at + 1] + b * c[at + 4] + d * c[at + 7] - py;
  const z = a * c[at + 2] + b * c[at + 5] + d * c[at + 8] - pz;
  const distance = Math.sqrt(x * x + y * y + z * z);
  out.distance = distance;
  out.dx = x / distance;
  out.dy = y / distance;
  out.dz = z / distance;
  out.density = emitterDensity(table, triangle, out.dx, out.dy, out.dz, distance);
  return out.density > 0 && out.density < Infinity ? triangle : -1;
}

/** Density per steradian with which sampleEmitter chooses the point that lies at `distance` along a direction. */
export function emitterDensity(
  table: EmitterTable,
  triangle: number,
  dx: number,
  dy: number,
  dz: number,
  distance: number,
): number {
  const c = table.corners;
  const i = triangle * 9;
  const ax = c[i + 3] - c[i];
  const ay = c[i + 4] - c[i + 1];
  const az = c[i + 5] - c[i + 2];
  const bx = c[i + 6] - c[i];
  const by = c[i + 7] - c[i + 1];
  const bz = c[i + 8] - c[i + 2];
  const nx = ay * bz - az * by;
  const ny = az * bx - ax * bz;
  const nz = ax * by - ay * bx;
  const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
  const cosine = Math.abs(dx * nx + dy * ny + dz * nz) / length;
  return cosine > 1e-9 ? (table.densities[triangle] * distance * distance) / cosine : 0;
}

function areaOf(c: number[]): number {
  const a = [c[3] - c[0], c[4] - c[1], c[5] - c[2]];
  const b = [c[6] - c[0], c[7] - c[1], c[8] - c[2]];
  return Math.hypot(a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]) / 2;
}
