// Emissive triangles, which a light tree chooses by what they may bring to a point; the point on one is chosen evenly.
// corners, f64: // 9 numbers a triangle in world space
import type { MakeBuffer } from '../trace/index.ts';
import type { LightBounds } from './lightTree.ts';
import type { LightSample } from './lights.ts';
import type { Direction } from './ray.ts';
import { luminance } from '../color/index.ts';

export interface EmitterTable {
  corners: Float64Array;
  /** // 0 object, 1 triangle in its mesh */
  sources: Int32Array;
  /** 1 / area. */
  densities: Float64Array;
}

export interface EmitterTriangle {
  corners: number[];
  object: number;
  triangle: number;
  radiance: ArrayLike<number>;
  /** Metres, or Infinity. */
  range: number;
}

export function buildEmitters(triangles: EmitterTriangle[], makeBuffer: MakeBuffer): EmitterTable {
  const doubles = (count: number) => new Float64Array(makeBuffer(count * 8));
  const table: EmitterTable = {
    corners: doubles(triangles.length * 9),
    sources: new Int32Array(makeBuffer(triangles.length * 8)),
    densities: doubles(triangles.length),
  };
  triangles.forEach((triangle, i) => {
    table.corners.set(triangle.corners, i * 9);
    table.sources.set([triangle.object, triangle.triangle], i * 2);
    const area = Math.hypot(...normalOf(triangle.corners)) / 2;
    table.densities[i] = area > 0 ? 1 / area : 0;
  });
  return table;
}

/** What the light tree knows of a triangle: both of its sides shine. */
export function emitterBounds({ corners: c, radiance, range }: EmitterTriangle): LightBounds {
  const normal = normalOf(c);
  const length = Math.hypot(...normal);
  return {
    low: [0, 1, 2].map((k) => Math.min(c[k], c[k + 3], c[k + 6])),
    high: [0, 1, 2].map((k) => Math.max(c[k], c[k + 3], c[k + 6])),
    power: (length / 2) * luminance(radiance[0], radiance[1], radiance[2]),
    axis: length > 0 ? normal.map((n) => n / length) : [0, 0, 1],
    spread: 1,
    reach: 0,
    bothSides: true,
    range,
  };
}

/** Chooses a point of a triangle for a place by out.u and out.v: direction, distance and density; false where it is seen edge-on. */
export function sampleEmitter(
  table: EmitterTable,
  triangle: number,
  from: ArrayLike<number>,
  out: LightSample,
): boolean {
  const c = table.corners;
  const at = triangle * 9;
  const root = Math.sqrt(out.u);
  const b = root * (1 - out.v);
  const a = 1 - root;
  const d = root * out.v;
  const x = a * c[at] + b * c[at + 3] + d * c[at + 6] - from[0];
  const y = a * c[at + 1] + b * c[at + 4] + d * c[at + 7] - from[1];
  const z = a * c[at + 2] + b * c[at + 5] + d * c[at + 8] - from[2];
  const distance = Math.sqrt(x * x + y * y + z * z);
  out.distance = distance;
  out.dx = x / distance;
  out.dy = y / distance;
  out.dz = z / distance;
  setEmitterDensity(table, triangle, out, out);
  return out.density > 0 && out.density < Infinity;
}

/** Sets the density per steradian with which sampleEmitter chooses the point at out.distance along a direction. */
export function setEmitterDensity(table: EmitterTable, triangle: number, along: Direction, out: LightSample): void {
  const { dx, dy, dz } = along;
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
  out.density = cosine > 1e-9 ? (table.densities[triangle] * out.distance * out.distance) / cosine : 0;
}

function normalOf(c: number[]): number[] {
  const a = [c[3] - c[0], c[4] - c[1], c[5] - c[2]];
  const b = [c[6] - c[0], c[7] - c[1], c[8] - c[2]];
  return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
}
