// Ray queries in plain TypeScript: the fallback, and the oracle that any faster form is compared with.
//
// One iterative walk over the top level and, inside it, over the mesh of each instance. Node bounds and corners are
// single precision, all arithmetic is double.
// Triangles: Möller & Trumbore 1997, both sides hit. Rounding lets rays that are aimed exactly at a shared
// corner slip between the neighbours, which the test met; triangles wider by EDGE of their size close that gap.
import { blendAffine, invertAffineInto } from '../math/index.ts';
import { IDENTITY_FLAG, PLAIN_INSTANCE, type PlainScene } from './plainScene.ts';
import { NODE_STRIDE } from './hierarchy.ts';
import { MOST_HITS, type Hit, type RayQuery } from './rayQuery.ts';

const STACK = 192;
const EDGE = 1e-10;
/** The same for boxes: the far side is moved away by more than the rounding of the slab test (after Ize 2013). */
const FAR_MARGIN = 1 + 1e-12;

export class PlainRayQuery implements RayQuery {
  private readonly topInts: Int32Array;
  private readonly meshInts: Int32Array;
  private readonly topStack = new Int32Array(STACK);
  private readonly stack = new Int32Array(STACK);
  // the nearest hit so far
  private t = 0;
  private u = 0;
  private v = 0;
  private triangle = -1;
  private front = true;
  /** The next hit behind it, of those seen; all within `behind` are seen. */
  private second = Infinity;
  private behind = 0;
  /** Where hits are collected, if they are, and of which instance. */
  private hits: Hit[] | null = null;
  private collected = 0;
  private instance = -1;
  private time = 0;
  private readonly moving = new Float64Array(12);
  private readonly inverse = new Float64Array(12);
  private readonly blended = new Float32Array(9);

  constructor(private readonly scene: PlainScene) {
    this.topInts = asInts(scene.topNodes);
    this.meshInts = asInts(scene.meshNodes);
  }

  // prettier-ignore
  closestHit(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number, behind: number, hit: Hit,
  ): boolean {
    this.t = tMax;
    this.behind = behind;
    this.time = time;
    const instance = this.walkTop(ox, oy, oz, dx, dy, dz, tMin, mask, false);
    if (instance < 0) return false;
    hit.t = this.t;
    hit.u = this.u;
    hit.v = this.v;
    hit.instance = instance;
    hit.triangle = this.scene.triangleIds[this.triangle];
    hit.crowded = this.second - this.t <= behind;
    hit.front = this.front;
    return true;
  }

  // prettier-ignore
  allHits(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number, hits: Hit[],
  ): number {
    this.t = tMax;
    this.behind = 0;
    this.time = time;
    this.hits = hits;
    this.collected = 0;
    this.walkTop(ox, oy, oz, dx, dy, dz, tMin, mask, false);
    this.hits = null;
    return this.collected;
  }

  // prettier-ignore
  anyHit(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number,
  ): boolean {
    this.t = tMax;
    this.behind = 0;
    this.time = time;
    return this.walkTop(ox, oy, oz, dx, dy, dz, tMin, mask, true) >= 0;
  }

  /** Returns the instance of the nearest (or, with `any`, of some) hit, or -1. */
  // prettier-ignore
  private walkTop(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, mask: number, any: boolean,
  ): number {
    const { topNodes, topOrder, instances, transforms } = this.scene;
    const ints = this.topInts;
    const stack = this.topStack;
    const ix = 1 / (dx + 0), iy = 1 / (dy + 0), iz = 1 / (dz + 0); // + 0 turns -0 into 0
    const sx = ix < 0 ? 3 : 0, sy = iy < 0 ? 3 : 0, sz = iz < 0 ? 3 : 0;
    let found = -1;
    let depth = 0;
    this.second = Infinity;
    if (boxEntry(topNodes, 0, ox, oy, oz, ix, iy, iz, sx, sy, sz, tMin, this.t + this.behind) === Infinity) return -1;
    let node = 0;
    for (;;) {
      const base = node * NODE_STRIDE;
      const count = ints[base + 7];
      if (count > 0) {
        const first = ints[base + 6];
        for (let i = first; i < first + count; i++) {
          const instance = topOrder[i];
          const entry = instance * PLAIN_INSTANCE;
          if ((instances[entry + 2] & mask) === 0) continue;
          const mesh = instances[entry];
          this.instance = instance;
          let hit: boolean;
          if (instances[entry + 1] & IDENTITY_FLAG)
            hit = this.walkMesh(mesh, ox, oy, oz, dx, dy, dz, ix, iy, iz, tMin, any);
          else {
            const moves = instances[entry + 4] > 1;
            if (moves) {
              blendAffine(this.scene.keys, instances[entry + 3], instances[entry + 4], this.time, this.moving);
              invertAffineInto(this.moving, this.inverse);
            }
            const m = moves ? 0 : instance * 12;
            const a = moves ? this.inverse : transforms;
            const px = a[m] * ox + a[m + 1] * oy + a[m + 2] * oz + a[m + 3];
            const py = a[m + 4] * ox + a[m + 5] * oy + a[m + 6] * oz + a[m + 7];
            const pz = a[m + 8] * ox + a[m + 9] * oy + a[m + 10] * oz + a[m + 11];
            const qx = a[m] * dx + a[m + 1] * dy + a[m + 2] * dz;
            const qy = a[m + 4] * dx + a[m + 5] * dy + a[m + 6] * dz;
            const qz = a[m + 8] * dx + a[m + 9] * dy + a[m + 10] * dz;
            hit = this.walkMesh(mesh, px, py, pz, qx, qy, qz, 1 / (qx + 0), 1 / (qy + 0), 1 / (qz + 0), tMin, any);
          }
          if (hit) {
            found = instance;
            if (any) return found;
          }
        }
      } else {
        const left = ints[base + 6];
        const nearLeft = boxEntry(topNodes, left * NODE_STRIDE, ox, oy, oz, ix, iy, iz, sx, sy, sz, tMin, this.t + this.behind);
        const nearRight = boxEntry(topNodes, (left + 1) * NODE_STRIDE, ox, oy, oz, ix, iy, iz, sx, sy, sz, tMin, this.t + this.behind);
        if (nearLeft <= nearRight) {
          if (nearRight !== Infinity) stack[depth++] = left + 1;
          if (nearLeft !== Infinity) { node = left; continue; }
        } else {
          if (nearLeft !== Infinity) stack[depth++] = left;
          node = left + 1;
          continue;
        }
      }
      if (depth === 0) return found;
      node = stack[--depth];
    }
  }

  // prettier-ignore
  private walkMesh(
    mesh: number,
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    ix: number, iy: number, iz: number, tMin: number, any: boolean,
  ): boolean {
    const { meshes, meshNodes } = this.scene;
    const { behind } = this;
    const ints = this.meshInts;
    const stack = this.stack;
    const firstNode = meshes[mesh * 4];
    const firstCorner = meshes[mesh * 4 + 1];
    const firstTriangle = meshes[mesh * 4 + 2];
    const keys = meshes[mesh * 4 + 3];
    const sx = ix < 0 ? 3 : 0, sy = iy < 0 ? 3 : 0, sz = iz < 0 ? 3 : 0;
    let best = this.t;
    let found = false;
    let depth = 0;
    if (boxEntry(meshNodes, firstNode * NODE_STRIDE, ox, oy, oz, ix, iy, iz, sx, sy, sz, tMin, best + behind) === Infinity) return false;
    let node = firstNode;
    for (;;) {
      const base = node * NODE_STRIDE;
      const count = ints[base + 7];
      if (count > 0) {
        const first = ints[base + 6];
        for (let i = first; i < first + count; i++) {
          let triangles = this.scene.corners;
          let c = firstCorner + i * keys * 9;
          if (keys > 1) {
            this.blendCorners(c, keys);
            triangles = this.blended;
            c = 0;
          }
          const ax = triangles[c], ay = triangles[c + 1], az = triangles[c + 2];
          const e1x = triangles[c + 3] - ax, e1y = triangles[c + 4] - ay, e1z = triangles[c + 5] - az;
          const e2x = triangles[c + 6] - ax, e2y = triangles[c + 7] - ay, e2z = triangles[c + 8] - az;
          const px = dy * e2z - dz * e2y, py = dz * e2x - dx * e2z, pz = dx * e2y - dy * e2x;
          const det = e1x * px + e1y * py + e1z * pz;
          if (det === 0) continue;
          const inverse = 1 / det;
          const sx = ox - ax, sy = oy - ay, sz = oz - az;
          const u = (sx * px + sy * py + sz * pz) * inverse;
          if (!(u >= -EDGE && u <= 1 + EDGE)) continue;
          const qx = sy * e1z - sz * e1y, qy = sz * e1x - sx * e1z, qz = sx * e1y - sy * e1x;
          const v = (dx * qx + dy * qy + dz * qz) * inverse;
          if (!(v >= -EDGE && u + v <= 1 + EDGE)) continue;
          const t = (e2x * qx + e2y * qy + e2z * qz) * inverse;
          if (!(t > tMin && t < this.second)) continue;
          if (t >= best) {
            this.second = t;
            continue;
          }
          if (this.hits) {
            this.collect(t, u, v, firstTriangle + i, det >= 0);
            continue;
          }
          this.second = best;
          best = t;
          this.t = t;
          this.u = u;
          this.v = v;
          this.triangle = firstTriangle + i;
          this.front = det >= 0;
          if (any) return true;
          found = true;
        }
      } else {
        const left = firstNode + ints[base + 6];
        const nearLeft = boxEntry(meshNodes, left * NODE_STRIDE, ox, oy, oz, ix, iy, iz, sx, sy, sz, tMin, best + behind);
        const nearRight = boxEntry(meshNodes, (left + 1) * NODE_STRIDE, ox, oy, oz, ix, iy, iz, sx, sy, sz, tMin, best + behind);
        if (nearLeft <= nearRight) {
          if (nearRight !== Infinity) stack[depth++] = left + 1;
          if (nearLeft !== Infinity) { node = left; continue; }
        } else {
          if (nearLeft !== Infinity) stack[depth++] = left;
          node = left + 1;
          continue;
        }
      }
      if (depth === 0) return found;
      node = stack[--depth];
    }
  }

  /** Keeps a hit, while there is room. */
  private collect(t: number, u: number, v: number, triangle: number, front: boolean): void {
    if (this.collected === MOST_HITS) return;
    const hit = this.hits![this.collected++];
    hit.t = t;
    hit.u = u;
    hit.v = v;
    hit.instance = this.instance;
    hit.triangle = this.scene.triangleIds[triangle];
    hit.front = front;
  }

  /** The corners of a moving triangle at the time of the ray. */
  private blendCorners(first: number, keys: number): void {
    const { corners } = this.scene;
    const place = Math.min(1, Math.max(0, this.time)) * (keys - 1);
    const key = Math.min(keys - 2, Math.floor(place));
    const at = first + key * 9;
    for (let k = 0; k < 9; k++)
      this.blended[k] = corners[at + k] + (place - key) * (corners[at + 9 + k] - corners[at + k]);
  }
}

/**
 * Where the ray enters the box, or Infinity. sx, sy, sz: 0 or 3, the place of the nearer bound on each axis.
 * A zero direction gives 0 * Infinity = NaN on a face, which fails every comparison and so counts as inside.
 */
// prettier-ignore
function boxEntry(
  nodes: Float32Array, base: number,
  ox: number, oy: number, oz: number, ix: number, iy: number, iz: number,
  sx: number, sy: number, sz: number, tMin: number, tMax: number,
): number {
  let near = tMin, far = tMax;
  const ax = (nodes[base + sx] - ox) * ix, bx = (nodes[base + 3 - sx] - ox) * ix;
  if (ax > near) near = ax;
  if (bx < far) far = bx;
  const ay = (nodes[base + 1 + sy] - oy) * iy, by = (nodes[base + 4 - sy] - oy) * iy;
  if (ay > near) near = ay;
  if (by < far) far = by;
  const az = (nodes[base + 2 + sz] - oz) * iz, bz = (nodes[base + 5 - sz] - oz) * iz;
  if (az > near) near = az;
  if (bz < far) far = bz;
  return near <= far * FAR_MARGIN ? near : Infinity;
}

function asInts(nodes: Float32Array): Int32Array {
  return new Int32Array(nodes.buffer, nodes.byteOffset, nodes.length);
}
