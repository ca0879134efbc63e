// Ray queries: one box test for the four children of a node, one triangle test for the four of a packet.
//
// Boxes and edges are tested in single precision. The edge test is watertight (Woop, Benthin & Wald 2013): neighbours
// compute the same products for a shared edge, and a ray on the edge counts for both. Distances are not taken from it:
// for a large triangle near the origin of a ray they err by more than the offset of that origin, and surfaces shadow
// themselves. Every triangle that passes the edge test is measured in double precision instead; that is one or two a
// ray, and cost less than 3 % of the rays a second on half a million triangles.
import {
  BACK,
  BLENDED,
  CHILDREN,
  CORNERS,
  HEADER_INSTANCES,
  HEADER_TOP,
  HIT,
  HITS,
  IDENTITY_FLAG,
  IDS,
  INSTANCE,
  LANES,
  MESH_STACK,
  MOST_HITS,
  NODE,
  TOP_STACK,
} from './layout';

/** Widens a box interval by more than the rounding of its test (Ize 2013: 2 gamma(3), on both sides). */
const OUT: f32 = 1.0000008;
const IN: f32 = 0.9999992;

// the ray in the space of the mesh being walked
let ox: f64, oy: f64, oz: f64, dx: f64, dy: f64, dz: f64;
let rayMin: f64;
let rayTime: f64;
// the nearest hit so far
let best: f64;
let bestPacket: usize;
let bestLane: usize;
let bestKeys: i32;
/** The next hit behind it, of those seen; all within `reachBehind` are seen. */
let second: f64;
let reachBehind: f64;
/** Where the next hit is written while all of them are collected, or 0; and their instance. */
let collectAt: usize = 0;
let collected: i32;
let collectInstance: i32;
// world to object of the instance, where it moves
let m0: f64, m1: f64, m2: f64, m3: f64, m4: f64, m5: f64, m6: f64, m7: f64, m8: f64, m9: f64, m10: f64, m11: f64;

/** 0: no hit; 1: the answer is in `scratch`; 2: so it is, and something else lies no farther than `behind` beyond it. */
export function closestHit(
  scratch: usize, px: f64, py: f64, pz: f64, qx: f64, qy: f64, qz: f64,
  tMin: f64, tMax: f64, mask: i32, time: f64, behind: f64,
): i32 {
  reachBehind = behind;
  const instance = walkTop(scratch, px, py, pz, qx, qy, qz, tMin, tMax, mask, time, false);
  if (instance < 0) return 0;
  const entry = load<u32>(HEADER_INSTANCES) + <usize>instance * INSTANCE;
  toObject(entry, px, py, pz, qx, qy, qz);
  const packet = bestKeys > 1 ? blend(bestPacket, bestKeys, scratch) : bestPacket;
  const side = writeWeights(packet + (bestLane << 2), scratch);
  store<f64>(scratch, best);
  store<i32>(scratch, instance | side, 24);
  store<i32>(scratch, load<i32>(bestPacket + CORNERS * <usize>bestKeys + (bestLane << 2)), 28);
  return second - best <= behind ? 2 : 1;
}

/** Writes the hits between two distances, in no order and MOST_HITS at most, at `scratch` + HITS. Returns their number. */
export function allHits(
  scratch: usize, px: f64, py: f64, pz: f64, qx: f64, qy: f64, qz: f64,
  tMin: f64, tMax: f64, mask: i32, time: f64,
): i32 {
  reachBehind = 0;
  collectAt = scratch + HITS;
  collected = 0;
  walkTop(scratch, px, py, pz, qx, qy, qz, tMin, tMax, mask, time, false);
  collectAt = 0;
  return collected;
}

export function anyHit(
  scratch: usize, px: f64, py: f64, pz: f64, qx: f64, qy: f64, qz: f64,
  tMin: f64, tMax: f64, mask: i32, time: f64,
): i32 {
  reachBehind = 0;
  return walkTop(scratch, px, py, pz, qx, qy, qz, tMin, tMax, mask, time, true) >= 0 ? 1 : 0;
}

/** The instance of the nearest (or, with `any`, of some) hit, or -1. */
function walkTop(
  scratch: usize, px: f64, py: f64, pz: f64, qx: f64, qy: f64, qz: f64,
  tMin: f64, tMax: f64, mask: i32, time: f64, any: bool,
): i32 {
  rayMin = tMin;
  rayTime = time;
  best = tMax;
  second = Infinity;
  let found: i32 = -1;
  const nodes: usize = load<u32>(HEADER_TOP);
  const instances: usize = load<u32>(HEADER_INSTANCES);
  const rx = f32x4.splat(<f32>px), ry = f32x4.splat(<f32>py), rz = f32x4.splat(<f32>pz);
  const fx: f32 = <f32>(1.0 / (qx + 0.0)), fy: f32 = <f32>(1.0 / (qy + 0.0)), fz: f32 = <f32>(1.0 / (qz + 0.0));
  const ix = f32x4.splat(fx), iy = f32x4.splat(fy), iz = f32x4.splat(fz);
  const nx: usize = fx < 0 ? 16 : 0, ny: usize = fy < 0 ? 48 : 32, nz: usize = fz < 0 ? 80 : 64;
  const low = f32x4.splat(<f32>tMin * IN);
  const bottom = scratch + TOP_STACK;
  let top = bottom;
  let child: i32 = 0;
  let reach: f32 = <f32>(best + reachBehind) * OUT;
  let high = f32x4.splat(reach);
  while (true) {
    if (child >= 0) {
      const node = nodes + <usize>child * NODE;
      const entry = enter(node, nx, ny, nz, rx, ry, rz, ix, iy, iz, low, high);
      const hits = lastMask;
      if (hits != 0) {
        const lane: usize = <usize>ctz(hits) << 2;
        if ((hits & (hits - 1)) == 0) { // a single child needs no stack
          child = load<i32>(node + CHILDREN + lane);
          continue;
        }
        v128.store(scratch + LANES, entry);
        const rest = hits & (hits - 1);
        if ((rest & (rest - 1)) == 0) { // of two, the farther one waits
          const other: usize = <usize>ctz(rest) << 2;
          const near = load<f32>(scratch + LANES + lane), far = load<f32>(scratch + LANES + other);
          const swap = far < near;
          store<i32>(top, load<i32>(node + CHILDREN + (swap ? lane : other)));
          store<f32>(top, swap ? near : far, 4);
          top += 8;
          child = load<i32>(node + CHILDREN + (swap ? other : lane));
          continue;
        }
        top = pushSorted(node + CHILDREN, scratch + LANES, hits, top);
        top -= 8; // the nearest one
        child = load<i32>(top);
        continue;
      }
    } else {
      const instance = ~child;
      const at = instances + <usize>instance * INSTANCE;
      if (load<i32>(at, 8) & mask) {
        toObject(at, px, py, pz, qx, qy, qz);
        collectInstance = instance;
        if (walkMesh(load<u32>(at), scratch, any)) {
          found = instance;
          if (any) return found;
          reach = <f32>(best + reachBehind) * OUT;
          high = f32x4.splat(reach);
        }
      }
    }
    do {
      if (top == bottom) return found;
      top -= 8;
    } while (load<f32>(top, 4) > reach);
    child = load<i32>(top);
  }
}

/** Bits of the children that the last call of enter() has met. */
let lastMask: i32;

/**
 * Entry distances into the four children of a node. A direction of 0 on a face gives 0 * Infinity = NaN; the pseudo
 * minimum and maximum keep the other operand then, so that the face counts as inside.
 */
// @ts-ignore: decorator
@inline
function enter(
  node: usize, nx: usize, ny: usize, nz: usize,
  rx: v128, ry: v128, rz: v128, ix: v128, iy: v128, iz: v128, low: v128, high: v128,
): v128 {
  let near = low, far = high;
  near = f32x4.pmax(near, f32x4.mul(f32x4.sub(v128.load(node + nx), rx), ix));
  far = f32x4.pmin(far, f32x4.mul(f32x4.sub(v128.load(node + (nx ^ 16)), rx), ix));
  near = f32x4.pmax(near, f32x4.mul(f32x4.sub(v128.load(node + ny), ry), iy));
  far = f32x4.pmin(far, f32x4.mul(f32x4.sub(v128.load(node + (ny ^ 16)), ry), iy));
  near = f32x4.pmax(near, f32x4.mul(f32x4.sub(v128.load(node + nz), rz), iz));
  far = f32x4.pmin(far, f32x4.mul(f32x4.sub(v128.load(node + (nz ^ 16)), rz), iz));
  lastMask = i32x4.bitmask(f32x4.le(f32x4.mul(near, f32x4.splat(IN)), f32x4.mul(far, f32x4.splat(OUT))));
  return near;
}

/** Pushes the children whose bits are set, farthest first. Returns the new top of the stack. */
// @ts-ignore: decorator
@inline
function pushSorted(children: usize, lanes: usize, hits: i32, top: usize): usize {
  const bottom = top;
  while (hits != 0) {
    const lane: usize = <usize>ctz(hits) << 2;
    hits &= hits - 1;
    const distance = load<f32>(lanes + lane);
    let at = top;
    while (at > bottom && load<f32>(at - 4) < distance) {
      store<u64>(at, load<u64>(at - 8));
      at -= 8;
    }
    store<i32>(at, load<i32>(children + lane));
    store<f32>(at, distance, 4);
    top += 8;
  }
  return top;
}

function walkMesh(mesh: usize, scratch: usize, any: bool): bool {
  const nodes: usize = load<u32>(mesh), packets: usize = load<u32>(mesh, 4);
  const keys = load<i32>(mesh, 8);
  const stride = CORNERS * <usize>keys + IDS;
  const rx = f32x4.splat(<f32>ox), ry = f32x4.splat(<f32>oy), rz = f32x4.splat(<f32>oz);
  const fx: f32 = <f32>(1.0 / (dx + 0.0)), fy: f32 = <f32>(1.0 / (dy + 0.0)), fz: f32 = <f32>(1.0 / (dz + 0.0));
  const ix = f32x4.splat(fx), iy = f32x4.splat(fy), iz = f32x4.splat(fz);
  const nx: usize = fx < 0 ? 16 : 0, ny: usize = fy < 0 ? 48 : 32, nz: usize = fz < 0 ? 80 : 64;
  const low = f32x4.splat(<f32>rayMin * IN);

  // the axis of the largest component becomes the depth of the edge test
  const lx = abs(dx), ly = abs(dy), lz = abs(dz);
  const kz: usize = lx > ly ? (lx > lz ? 0 : 32) : ly > lz ? 16 : 32;
  const kx: usize = kz == 32 ? 0 : kz + 16;
  const ky: usize = kx == 32 ? 0 : kx + 16;
  const depth = kz == 0 ? dx : kz == 16 ? dy : dz;
  const sx = f32x4.splat(<f32>((kx == 0 ? dx : kx == 16 ? dy : dz) / depth));
  const sy = f32x4.splat(<f32>((ky == 0 ? dx : ky == 16 ? dy : dz) / depth));
  const okx = kx == 0 ? rx : kx == 16 ? ry : rz;
  const oky = ky == 0 ? rx : ky == 16 ? ry : rz;
  const okz = kz == 0 ? rx : kz == 16 ? ry : rz;
  const zero = f32x4.splat(0);

  const bottom = scratch + MESH_STACK;
  let top = bottom;
  let child: i32 = 0;
  let found = false;
  let reach: f32 = <f32>(best + reachBehind) * OUT;
  let high = f32x4.splat(reach);
  while (true) {
    if (child >= 0) {
      const node = nodes + <usize>child * NODE;
      const entry = enter(node, nx, ny, nz, rx, ry, rz, ix, iy, iz, low, high);
      const hits = lastMask;
      if (hits != 0) {
        const lane: usize = <usize>ctz(hits) << 2;
        if ((hits & (hits - 1)) == 0) { // a single child needs no stack
          child = load<i32>(node + CHILDREN + lane);
          continue;
        }
        v128.store(scratch + LANES, entry);
        const rest = hits & (hits - 1);
        if ((rest & (rest - 1)) == 0) { // of two, the farther one waits
          const other: usize = <usize>ctz(rest) << 2;
          const near = load<f32>(scratch + LANES + lane), far = load<f32>(scratch + LANES + other);
          const swap = far < near;
          store<i32>(top, load<i32>(node + CHILDREN + (swap ? lane : other)));
          store<f32>(top, swap ? near : far, 4);
          top += 8;
          child = load<i32>(node + CHILDREN + (swap ? other : lane));
          continue;
        }
        top = pushSorted(node + CHILDREN, scratch + LANES, hits, top);
        top -= 8; // the nearest one
        child = load<i32>(top);
        continue;
      }
    } else {
      const packet = packets + <usize>~child * stride;
      const at = keys > 1 ? blend(packet, keys, scratch) : packet;
      let az = f32x4.sub(v128.load(at + kz), okz);
      let bz = f32x4.sub(v128.load(at + 48 + kz), okz);
      let cz = f32x4.sub(v128.load(at + 96 + kz), okz);
      const ax = f32x4.sub(f32x4.sub(v128.load(at + kx), okx), f32x4.mul(sx, az));
      const ay = f32x4.sub(f32x4.sub(v128.load(at + ky), oky), f32x4.mul(sy, az));
      const bx = f32x4.sub(f32x4.sub(v128.load(at + 48 + kx), okx), f32x4.mul(sx, bz));
      const by = f32x4.sub(f32x4.sub(v128.load(at + 48 + ky), oky), f32x4.mul(sy, bz));
      const cx = f32x4.sub(f32x4.sub(v128.load(at + 96 + kx), okx), f32x4.mul(sx, cz));
      const cy = f32x4.sub(f32x4.sub(v128.load(at + 96 + ky), oky), f32x4.mul(sy, cz));
      const u = f32x4.sub(f32x4.mul(cx, by), f32x4.mul(cy, bx));
      const v = f32x4.sub(f32x4.mul(ax, cy), f32x4.mul(ay, cx));
      const w = f32x4.sub(f32x4.mul(bx, ay), f32x4.mul(by, ax));
      // not (some positive and some negative); not-a-number fails the comparison with itself
      const positive = v128.or(v128.or(f32x4.gt(u, zero), f32x4.gt(v, zero)), f32x4.gt(w, zero));
      const negative = v128.or(v128.or(f32x4.lt(u, zero), f32x4.lt(v, zero)), f32x4.lt(w, zero));
      let lanes = i32x4.bitmask(v128.xor(positive, negative));
      while (lanes != 0) {
        const lane: usize = <usize>ctz(lanes);
        lanes &= lanes - 1;
        const t = planeDistance(at + (lane << 2));
        if (!(t > rayMin && t < second)) continue;
        if (t >= best) {
          second = t;
          continue;
        }
        if (collectAt != 0) collect(at + (lane << 2), t, load<i32>(packet + CORNERS * <usize>keys + (lane << 2)));
        else {
          second = best;
          best = t;
          reach = <f32>(t + reachBehind) * OUT;
          high = f32x4.splat(reach);
          bestPacket = packet;
          bestLane = lane;
          bestKeys = keys;
          found = true;
          if (any) return true;
        }
      }
    }
    do {
      if (top == bottom) return found;
      top -= 8;
    } while (load<f32>(top, 4) > reach);
    child = load<i32>(top);
  }
}

/** Keeps a hit, while there is room. */
function collect(corners: usize, t: f64, triangle: i32): void {
  if (collected == MOST_HITS) return;
  store<f64>(collectAt, t);
  store<i32>(collectAt, collectInstance | writeWeights(corners, collectAt), 24);
  store<i32>(collectAt, triangle, 28);
  collectAt += HIT;
  collected++;
}

/** Distance to the plane of the triangle whose first number stands at `at`. */
// @ts-ignore: decorator
@inline
function planeDistance(at: usize): f64 {
  const ax: f64 = load<f32>(at), ay: f64 = load<f32>(at, 16), az: f64 = load<f32>(at, 32);
  const e1x = <f64>load<f32>(at, 48) - ax, e1y = <f64>load<f32>(at, 64) - ay, e1z = <f64>load<f32>(at, 80) - az;
  const e2x = <f64>load<f32>(at, 96) - ax, e2y = <f64>load<f32>(at, 112) - ay, e2z = <f64>load<f32>(at, 128) - az;
  const nx = e1y * e2z - e1z * e2y, ny = e1z * e2x - e1x * e2z, nz = e1x * e2y - e1y * e2x;
  return (nx * (ax - ox) + ny * (ay - oy) + nz * (az - oz)) / (nx * dx + ny * dy + nz * dz);
}

/**
 * Weights of the second and third corner (Möller & Trumbore 1997), brought into the triangle, for the answer. Returns the bit
 * of BACK where the ray comes from behind.
 */
function writeWeights(at: usize, scratch: usize): i32 {
  const ax: f64 = load<f32>(at), ay: f64 = load<f32>(at, 16), az: f64 = load<f32>(at, 32);
  const e1x = <f64>load<f32>(at, 48) - ax, e1y = <f64>load<f32>(at, 64) - ay, e1z = <f64>load<f32>(at, 80) - az;
  const e2x = <f64>load<f32>(at, 96) - ax, e2y = <f64>load<f32>(at, 112) - ay, e2z = <f64>load<f32>(at, 128) - az;
  const px = dy * e2z - dz * e2y, py = dz * e2x - dx * e2z, pz = dx * e2y - dy * e2x;
  const determinant = e1x * px + e1y * py + e1z * pz;
  const inverse = 1.0 / determinant;
  const sx = ox - ax, sy = oy - ay, sz = oz - az;
  const qx = sy * e1z - sz * e1y, qy = sz * e1x - sx * e1z, qz = sx * e1y - sy * e1x;
  const u = max(0.0, min(1.0, (sx * px + sy * py + sz * pz) * inverse));
  store<f64>(scratch, u, 8);
  store<f64>(scratch, max(0.0, min(1.0 - u, (dx * qx + dy * qy + dz * qz) * inverse)), 16);
  return determinant < 0 ? BACK : 0;
}

/** The packet at the time of the ray, between its keys. */
function blend(packet: usize, keys: i32, scratch: usize): usize {
  const last = keys - 1;
  const place = max(0.0, min(1.0, rayTime)) * <f64>last;
  const key = min(last - 1, <i32>place);
  const share = f32x4.splat(<f32>(place - <f64>key));
  const from = packet + <usize>key * CORNERS;
  for (let k: usize = 0; k < CORNERS; k += 16) {
    const a = v128.load(from + k);
    v128.store(scratch + BLENDED + k, f32x4.add(a, f32x4.mul(share, f32x4.sub(v128.load(from + CORNERS + k), a))));
  }
  return scratch + BLENDED;
}

/** Sets the ray of the mesh walk from a ray in the world. */
function toObject(at: usize, px: f64, py: f64, pz: f64, qx: f64, qy: f64, qz: f64): void {
  if (load<i32>(at, 4) & IDENTITY_FLAG) {
    ox = px; oy = py; oz = pz;
    dx = qx; dy = qy; dz = qz;
    return;
  }
  const keys: usize = load<u32>(at, 12);
  if (keys != 0) invertAt(keys);
  else {
    m0 = load<f64>(at, 16); m1 = load<f64>(at, 24); m2 = load<f64>(at, 32); m3 = load<f64>(at, 40);
    m4 = load<f64>(at, 48); m5 = load<f64>(at, 56); m6 = load<f64>(at, 64); m7 = load<f64>(at, 72);
    m8 = load<f64>(at, 80); m9 = load<f64>(at, 88); m10 = load<f64>(at, 96); m11 = load<f64>(at, 104);
  }
  ox = m0 * px + m1 * py + m2 * pz + m3;
  oy = m4 * px + m5 * py + m6 * pz + m7;
  oz = m8 * px + m9 * py + m10 * pz + m11;
  dx = m0 * qx + m1 * qy + m2 * qz;
  dy = m4 * qx + m5 * qy + m6 * qz;
  dz = m8 * qx + m9 * qy + m10 * qz;
}

/** World to object at the time of the ray: the keys are blended number by number, then inverted. */
function invertAt(keys: usize): void {
  const last = load<i32>(keys) - 1;
  const place = max(0.0, min(1.0, rayTime)) * <f64>last;
  const key = min(last - 1, <i32>place);
  const s = place - <f64>key;
  const a = keys + 16 + <usize>key * 96;
  const a0 = mix(a, s), a1 = mix(a + 8, s), a2 = mix(a + 16, s), a3 = mix(a + 24, s);
  const a4 = mix(a + 32, s), a5 = mix(a + 40, s), a6 = mix(a + 48, s), a7 = mix(a + 56, s);
  const a8 = mix(a + 64, s), a9 = mix(a + 72, s), a10 = mix(a + 80, s), a11 = mix(a + 88, s);
  const c0 = a5 * a10 - a6 * a9, c1 = a6 * a8 - a4 * a10, c2 = a4 * a9 - a5 * a8;
  const inverse = 1.0 / (a0 * c0 + a1 * c1 + a2 * c2);
  m0 = c0 * inverse; m1 = (a2 * a9 - a1 * a10) * inverse; m2 = (a1 * a6 - a2 * a5) * inverse;
  m4 = c1 * inverse; m5 = (a0 * a10 - a2 * a8) * inverse; m6 = (a2 * a4 - a0 * a6) * inverse;
  m8 = c2 * inverse; m9 = (a1 * a8 - a0 * a9) * inverse; m10 = (a0 * a5 - a1 * a4) * inverse;
  m3 = -(m0 * a3 + m1 * a7 + m2 * a11);
  m7 = -(m4 * a3 + m5 * a7 + m6 * a11);
  m11 = -(m8 * a3 + m9 * a7 + m10 * a11);
}

// @ts-ignore: decorator
@inline
function mix(at: usize, share: f64): f64 {
  const from = load<f64>(at);
  return from + share * (load<f64>(at, 96) - from);
}
