// Top-down build with a binned surface-area heuristic (Wald 2007, "On fast construction of SAH-based bounding volume
// hierarchies") straight into nodes of four: a range of items is split in two, then the half with the larger area again,
// until there are four or only leaves. Leaves hold up to four triangles, one packet; the heuristic counts packets.
// Below DEEP levels ranges are halved by number, which bounds the stacks of the traversal.
import { BOX, CHILDREN, CORNERS, IDS, NODE } from './layout';

const BINS: i32 = 16;
const DEEP: i32 = 24;
const BIN: usize = 48; // f32x4 min, f32x4 max, i32 count

// the job
let boxes: usize;
let order: usize;
let bins: usize;
let nodes: usize;
let nodeCount: i32;
let leafSize: i32;
// of a mesh
let packets: usize;
let packetCount: i32;
let meshPositions: usize;
let meshVertices: i32;
let meshKeys: i32;
let meshIndices: usize;

// bounds of the last measured range
let low: v128;
let high: v128;

/**
 * Triangles with a corner that is not finite are left out.
 * @param positions f32 x 3 for each vertex, key after key
 * @param indexArray u32 x 3 a triangle, inside the vertices
 * @param boxArray room for BOX bytes a triangle
 * @param orderArray room for an i32 a triangle
 * @param binArray room for 3 * BINS * BIN bytes and as much for the running sums
 * @param nodeArray room for a node a triangle
 * @param packetArray room for a packet a triangle
 * @param counts where the number of packets (i32) and of triangles left out (i32) is put, at 4 and at 8
 */
export function buildTriangles(
  positions: usize, vertices: i32, keys: i32, indexArray: usize, triangles: i32,
  boxArray: usize, orderArray: usize, binArray: usize, nodeArray: usize, packetArray: usize, counts: usize,
): i32 {
  boxes = boxArray;
  order = orderArray;
  bins = binArray;
  nodes = nodeArray;
  packets = packetArray;
  meshPositions = positions;
  meshVertices = vertices;
  meshKeys = keys;
  meshIndices = indexArray;
  leafSize = 4;
  packetCount = 0;
  let kept = 0;
  for (let t = 0; t < triangles; t++) {
    if (!measureTriangle(t)) continue;
    store<i32>(order + (<usize>kept << 2), t);
    kept++;
  }
  build(kept);
  store<i32>(counts, packetCount, 4);
  store<i32>(counts, triangles - kept, 8);
  return nodeCount;
}

export function buildBoxes(boxArray: usize, count: i32, orderArray: usize, binArray: usize, nodeArray: usize): i32 {
  boxes = boxArray;
  order = orderArray;
  bins = binArray;
  nodes = nodeArray;
  leafSize = 1;
  for (let i = 0; i < count; i++) store<i32>(order + (<usize>i << 2), i);
  build(count);
  return nodeCount;
}

/** Box of a triangle over all keys; false where a corner is not finite. */
function measureTriangle(t: i32): bool {
  let least = f32x4.splat(Infinity), most = f32x4.splat(-Infinity);
  let sum: f32 = 0;
  for (let key = 0; key < meshKeys; key++)
    for (let c: usize = 0; c < 3; c++) {
      const at = cornerOf(key, t, c);
      const x = load<f32>(at), y = load<f32>(at, 4), z = load<f32>(at, 8);
      sum += (x - x) + (y - y) + (z - z); // not a number where one is not finite
      const p = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(0), 0, x), 1, y), 2, z);
      least = f32x4.pmin(least, p);
      most = f32x4.pmax(most, p);
    }
  v128.store(boxes + <usize>t * BOX, least);
  v128.store(boxes + <usize>t * BOX + 16, most);
  return sum == 0;
}

// @ts-ignore: decorator
@inline
function cornerOf(key: i32, t: i32, c: usize): usize {
  const vertex = load<i32>(meshIndices + (<usize>t * 3 + c) * 4);
  return meshPositions + (<usize>(key * meshVertices) + <usize>vertex) * 12;
}

function build(count: i32): void {
  nodeCount = 0;
  if (count <= leafSize) {
    const root = newNode();
    measure(0, count);
    if (count > 0) putChild(root, 0, putLeaf(0, count));
    return;
  }
  buildNode(0, count, 0);
}

/** Recursion is as deep as the tree: DEEP levels and the halvings below. */
function buildNode(first: i32, count: i32, depth: i32): i32 {
  const node = newNode();
  // up to four ranges: start, size, and area where it can be split further
  let s0 = first, n0 = count, a0: f32 = 0;
  let s1 = 0, n1 = 0, a1: f32 = -1, s2 = 0, n2 = 0, a2: f32 = -1, s3 = 0, n3 = 0;
  for (let ranges = 1; ranges < 4; ranges++) {
    const widest = a0 >= a1 ? (a0 >= a2 ? 0 : 2) : a1 >= a2 ? 1 : 2;
    if ((widest == 0 ? a0 : widest == 1 ? a1 : a2) < 0) break;
    const start = widest == 0 ? s0 : widest == 1 ? s1 : s2;
    const size = widest == 0 ? n0 : widest == 1 ? n1 : n2;
    const left = split(start, size, depth);
    const leftArea = areaOf(start, left), rightArea = areaOf(start + left, size - left);
    if (widest == 0) { n0 = left; a0 = leftArea; }
    else if (widest == 1) { n1 = left; a1 = leftArea; }
    else { n2 = left; a2 = leftArea; }
    if (ranges == 1) { s1 = start + left; n1 = size - left; a1 = rightArea; }
    else if (ranges == 2) { s2 = start + left; n2 = size - left; a2 = rightArea; }
    else { s3 = start + left; n3 = size - left; }
  }
  for (let r = 0; r < 4; r++) {
    const start = r == 0 ? s0 : r == 1 ? s1 : r == 2 ? s2 : s3;
    const size = r == 0 ? n0 : r == 1 ? n1 : r == 2 ? n2 : n3;
    if (size == 0) break;
    const child = size <= leafSize ? putLeaf(start, size) : buildNode(start, size, depth + 1);
    measure(start, size);
    putChild(node, r, child);
  }
  return node;
}

/** Half the surface of the bounds of a range that can be split, or -1. */
function areaOf(first: i32, count: i32): f32 {
  if (count <= leafSize) return -1;
  measure(first, count);
  return halfArea(low, high);
}

function newNode(): i32 {
  const at = nodes + <usize>nodeCount * NODE;
  const empty = f32x4.splat(Infinity), full = f32x4.splat(-Infinity);
  for (let k: usize = 0; k < CHILDREN; k += 32) {
    v128.store(at + k, empty);
    v128.store(at + k, full, 16);
  }
  v128.store(at + CHILDREN, i32x4.splat(0));
  return nodeCount++;
}

/** Sets one child with the bounds last measured. */
function putChild(node: i32, place: i32, child: i32): void {
  const at = nodes + <usize>node * NODE + (<usize>place << 2);
  store<f32>(at, f32x4.extract_lane(low, 0));
  store<f32>(at, f32x4.extract_lane(high, 0), 16);
  store<f32>(at, f32x4.extract_lane(low, 1), 32);
  store<f32>(at, f32x4.extract_lane(high, 1), 48);
  store<f32>(at, f32x4.extract_lane(low, 2), 64);
  store<f32>(at, f32x4.extract_lane(high, 2), 80);
  store<i32>(at, child, CHILDREN);
}

/** A packet of triangles, or the number of one box. */
function putLeaf(first: i32, count: i32): i32 {
  if (leafSize == 1) return ~load<i32>(order + (<usize>first << 2));
  const packet = packets + <usize>packetCount * (CORNERS * <usize>meshKeys + IDS);
  memory.fill(packet, 0, CORNERS * <usize>meshKeys + IDS);
  for (let i = 0; i < count; i++) {
    const t = load<i32>(order + (<usize>(first + i) << 2));
    const lane = packet + (<usize>i << 2);
    for (let key = 0; key < meshKeys; key++)
      for (let c: usize = 0; c < 3; c++) {
        const from = cornerOf(key, t, c);
        const to = lane + <usize>key * CORNERS + c * 48;
        store<f32>(to, load<f32>(from));
        store<f32>(to, load<f32>(from, 4), 16);
        store<f32>(to, load<f32>(from, 8), 32);
      }
    store<i32>(lane + <usize>meshKeys * CORNERS, t);
  }
  return ~packetCount++;
}

/** Bounds of a range into low and high. */
function measure(first: i32, count: i32): void {
  let least = f32x4.splat(Infinity), most = f32x4.splat(-Infinity);
  for (let i = first; i < first + count; i++) {
    const box = boxes + <usize>load<i32>(order + (<usize>i << 2)) * BOX;
    least = f32x4.pmin(least, v128.load(box));
    most = f32x4.pmax(most, v128.load(box, 16));
  }
  low = least;
  high = most;
}

// @ts-ignore: decorator
@inline
function halfArea(least: v128, most: v128): f32 {
  const size = f32x4.sub(most, least);
  const x = f32x4.extract_lane(size, 0), y = f32x4.extract_lane(size, 1), z = f32x4.extract_lane(size, 2);
  return x < 0 ? 0 : x * y + y * z + z * x;
}

// @ts-ignore: decorator
@inline
function laneOf(v: v128, axis: i32): f32 {
  return axis == 0 ? f32x4.extract_lane(v, 0) : axis == 1 ? f32x4.extract_lane(v, 1) : f32x4.extract_lane(v, 2);
}

/** Parts a range at the cheapest bin; returns how many items stand left. */
function split(first: i32, count: i32, depth: i32): i32 {
  const half = count >> 1;
  if (depth >= DEEP) return half;
  // bins hold doubled centres
  let least = f32x4.splat(Infinity), most = f32x4.splat(-Infinity);
  for (let i = first; i < first + count; i++) {
    const box = boxes + <usize>load<i32>(order + (<usize>i << 2)) * BOX;
    const centre = f32x4.add(v128.load(box), v128.load(box, 16));
    least = f32x4.pmin(least, centre);
    most = f32x4.pmax(most, centre);
  }
  const extent = f32x4.sub(most, least);
  const scale = f32x4.div(f32x4.splat(<f32>BINS * 0.9999), extent);
  const inverted = f32x4.splat(Infinity), empty = f32x4.splat(-Infinity);
  const end = bins + 3 * <usize>BINS * BIN;
  for (let at = bins; at < end; at += BIN) {
    v128.store(at, inverted);
    v128.store(at, empty, 16);
    store<i32>(at, 0, 32);
  }
  const flatX = !(f32x4.extract_lane(extent, 0) > 0);
  const flatY = !(f32x4.extract_lane(extent, 1) > 0);
  const flatZ = !(f32x4.extract_lane(extent, 2) > 0);
  if (flatX && flatY && flatZ) return half;
  for (let i = first; i < first + count; i++) {
    const box = boxes + <usize>load<i32>(order + (<usize>i << 2)) * BOX;
    const from = v128.load(box), to = v128.load(box, 16);
    const place = i32x4.trunc_sat_f32x4_s(f32x4.mul(f32x4.sub(f32x4.add(from, to), least), scale));
    if (!flatX) addToBin(bins + <usize>i32x4.extract_lane(place, 0) * BIN, from, to);
    if (!flatY) addToBin(bins + <usize>(BINS + i32x4.extract_lane(place, 1)) * BIN, from, to);
    if (!flatZ) addToBin(bins + <usize>(2 * BINS + i32x4.extract_lane(place, 2)) * BIN, from, to);
  }
  let bestCost: f32 = Infinity;
  let bestAxis = -1, bestBin = 0;
  for (let axis = 0; axis < 3; axis++) {
    if (axis == 0 ? flatX : axis == 1 ? flatY : flatZ) continue;
    const base = bins + <usize>(axis * BINS) * BIN;
    // areas from the right stand behind the bins
    let a = inverted, b = empty;
    for (let k = BINS - 1; k > 0; k--) {
      a = f32x4.pmin(a, v128.load(base + <usize>k * BIN));
      b = f32x4.pmax(b, v128.load(base + <usize>k * BIN, 16));
      store<f32>(end + (<usize>k << 2), halfArea(a, b));
    }
    a = inverted;
    b = empty;
    let left = 0;
    for (let k = 0; k < BINS - 1; k++) {
      a = f32x4.pmin(a, v128.load(base + <usize>k * BIN));
      b = f32x4.pmax(b, v128.load(base + <usize>k * BIN, 16));
      left += load<i32>(base + <usize>k * BIN, 32);
      if (left == 0 || left == count) continue;
      const cost = <f32>packetsOf(left) * halfArea(a, b) +
        <f32>packetsOf(count - left) * load<f32>(end + (<usize>(k + 1) << 2));
      if (cost < bestCost) {
        bestCost = cost;
        bestAxis = axis;
        bestBin = k;
      }
    }
  }
  if (bestAxis < 0) return half;
  const from = laneOf(least, bestAxis), by = laneOf(scale, bestAxis);
  const lane = <usize>bestAxis << 2;
  let middle = first, last = first + count;
  while (middle < last) {
    const at = order + (<usize>middle << 2);
    const item = load<i32>(at);
    const box = boxes + <usize>item * BOX + lane;
    if (<i32>((load<f32>(box) + load<f32>(box, 16) - from) * by) <= bestBin) middle++;
    else {
      last--;
      store<i32>(at, load<i32>(order + (<usize>last << 2)));
      store<i32>(order + (<usize>last << 2), item);
    }
  }
  const left = middle - first;
  return left == 0 || left == count ? half : left;
}

// @ts-ignore: decorator
@inline
function packetsOf(count: i32): i32 {
  return leafSize == 1 ? count : (count + 3) >> 2;
}

// @ts-ignore: decorator
@inline
function addToBin(at: usize, from: v128, to: v128): void {
  v128.store(at, f32x4.pmin(v128.load(at), from));
  v128.store(at, f32x4.pmax(v128.load(at, 16), to), 16);
  store<i32>(at, load<i32>(at, 32) + 1, 32);
}
