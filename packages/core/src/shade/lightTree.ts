// Many lights as a tree, so that choosing one by what it may bring to a point costs the logarithm of their number:
// Conty Estévez & Kulla 2018, "Importance sampling of many lights with adaptive tree splitting" (bounds of position and
// of direction, importance of a node), built by halving along the longest axis at the middle of the power.
//
// node, 17 x f64: // 0..2 min, 3..5 max, 6 power, 7..9 axis, 10 cosine of the spread of axes, 11 cosine of the reach
//                 // beyond an axis, 12 both sides, 13 right child (the left one follows its parent) or -1, 14 item, 15 parent,
//                 // 16 distance beyond which nothing of it shines, or Infinity
import type { MakeBuffer } from '../trace/index.ts';

export const LIGHT_NODE = 17;

export interface LightBounds {
  low: number[];
  high: number[];
  power: number;
  axis: number[];
  /** Cosine of the angle about the axis that holds all normals, and of the angle from a normal where light still goes. */
  spread: number;
  reach: number;
  bothSides: boolean;
  /** Distance from it beyond which nothing is lit, metres, or Infinity. */
  range: number;
}

export interface LightTree {
  nodes: Float64Array;
  /** Node of each item, or -1 for one without power. */
  leaves: Int32Array;
}

export function buildLightTree(lights: LightBounds[], makeBuffer: MakeBuffer): LightTree {
  const shining = lights.map((_, i) => i).filter((i) => lights[i].power > 0);
  const nodes = new Float64Array(makeBuffer(Math.max(1, 2 * shining.length - 1) * LIGHT_NODE * 8));
  const leaves = new Int32Array(makeBuffer(lights.length * 4)).fill(-1);
  let count = 0;
  const put = (bounds: LightBounds, right: number, item: number, at: number) => {
    const { low, high, power, axis, spread, range, reach, bothSides } = bounds;
    nodes.set([...low, ...high, power, ...axis, spread, reach, bothSides ? 1 : 0, right, item], at * LIGHT_NODE);
    nodes[at * LIGHT_NODE + 16] = range;
  };
  const build = (items: number[], parent: number): [number, LightBounds] => {
    const node = count++;
    nodes[node * LIGHT_NODE + 15] = parent;
    if (items.length === 1) {
      put(lights[items[0]], -1, items[0], node);
      leaves[items[0]] = node;
      return [node, lights[items[0]]];
    }
    const [a, b] = halve(items, lights);
    const [, left] = build(a, node);
    const [right, other] = build(b, node);
    const bounds = join(left, other);
    put(bounds, right, -1, node);
    return [node, bounds];
  };
  if (shining.length > 0) build(shining, -1);
  return { nodes, leaves };
}

function halve(items: number[], lights: LightBounds[]): [number[], number[]] {
  const middle = (i: number, k: number) => lights[i].low[k] + lights[i].high[k];
  let axis = 0;
  let widest = -1;
  for (let k = 0; k < 3; k++) {
    let [low, high] = [Infinity, -Infinity];
    for (const i of items) {
      low = Math.min(low, middle(i, k));
      high = Math.max(high, middle(i, k));
    }
    if (high - low > widest) [widest, axis] = [high - low, k];
  }
  const sorted = [...items].sort((a, b) => middle(a, axis) - middle(b, axis) || a - b);
  // by number: halves keep the tree flat, whatever the powers are
  return [sorted.slice(0, sorted.length >> 1), sorted.slice(sorted.length >> 1)];
}

function join(a: LightBounds, b: LightBounds): LightBounds {
  const cone = joinCones(a, b);
  return {
    low: a.low.map((v, k) => Math.min(v, b.low[k])),
    high: a.high.map((v, k) => Math.max(v, b.high[k])),
    power: a.power + b.power,
    ...cone,
    reach: Math.min(a.reach, b.reach),
    bothSides: a.bothSides || b.bothSides,
    range: Math.max(a.range, b.range),
  };
}

/** The cone about two cones. */
function joinCones(a: LightBounds, b: LightBounds): { axis: number[]; spread: number } {
  const [ta, tb] = [Math.acos(a.spread), Math.acos(b.spread)];
  const between = Math.acos(
    Math.max(
      -1,
      Math.min(
        1,
        a.axis.reduce((sum, v, k) => sum + v * b.axis[k], 0),
      ),
    ),
  );
  if (Math.min(Math.PI, between + tb) <= ta) return { axis: a.axis, spread: a.spread };
  if (Math.min(Math.PI, between + ta) <= tb) return { axis: b.axis, spread: b.spread };
  const all = (ta + between + tb) / 2;
  if (all >= Math.PI || between < 1e-9) return { axis: a.axis, spread: all >= Math.PI ? -1 : Math.cos(all) };
  // turn the first axis towards the second
  const turn = all - ta;
  const sine = Math.sin(between);
  if (sine < 1e-9) return { axis: a.axis, spread: -1 };
  const [wa, wb] = [Math.sin(between - turn) / sine, Math.sin(turn) / sine];
  return { axis: a.axis.map((v, k) => wa * v + wb * b.axis[k]), spread: Math.cos(all) };
}

/**
 * What the lights of a node may bring to a vertex, as power over squared distance, into out[place].
 * @param vertex // 0..2 position, 3..5 normal; zeros: no normal
 */
// prettier-ignore
export function weighNode(nodes: Float64Array, node: number, vertex: Float64Array, out: Float64Array, place: number): void {
  const px = vertex[0], py = vertex[1], pz = vertex[2], nx = vertex[3], ny = vertex[4], nz = vertex[5];
  const at = node * LIGHT_NODE;
  const cx = (nodes[at] + nodes[at + 3]) / 2, cy = (nodes[at + 1] + nodes[at + 4]) / 2, cz = (nodes[at + 2] + nodes[at + 5]) / 2;
  const hx = nodes[at + 3] - cx, hy = nodes[at + 4] - cy, hz = nodes[at + 5] - cz;
  const radius2 = hx * hx + hy * hy + hz * hz;
  const dx = px - cx, dy = py - cy, dz = pz - cz;
  const d2 = dx * dx + dy * dy + dz * dz;
  const range = nodes[at + 16];
  if (range < Infinity && d2 > (range + Math.sqrt(radius2)) ** 2) {
    out[place] = 0;
    return;
  }
  const near = Math.max(d2, radius2, 1e-12);
  out[place] = nodes[at + 6] / near;
  if (d2 <= radius2) return; // inside of the bounds: nothing is known about directions
  const length = Math.sqrt(d2);
  // half the angle under which the bounds are seen
  const sinB = Math.sqrt(radius2 / d2), cosB = Math.sqrt(1 - radius2 / d2);
  let cosW = (dx * nodes[at + 7] + dy * nodes[at + 8] + dz * nodes[at + 9]) / length;
  if (nodes[at + 12] > 0) cosW = Math.abs(cosW);
  const cosO = nodes[at + 10];
  const sinW = Math.sqrt(Math.max(0, 1 - cosW * cosW)), sinO = Math.sqrt(Math.max(0, 1 - cosO * cosO));
  // the angle from the axis, less the spread of axes, less that of the bounds; not below 0
  const cosX = cosW > cosO ? 1 : cosW * cosO + sinW * sinO;
  const sinX = cosW > cosO ? 0 : sinW * cosO - cosW * sinO;
  const cosLeast = cosX > cosB ? 1 : cosX * cosB + sinX * sinB;
  if (cosLeast <= nodes[at + 11]) {
    out[place] = 0;
    return;
  }
  // a spot or a point shines as strongly to the side as the reach allows: the cosine law holds for surfaces alone
  if (!(nodes[at + 11] > 0.001 || nodes[at + 11] < -0.5)) out[place] *= cosLeast;
  if (nx !== 0 || ny !== 0 || nz !== 0) {
    const cosN = Math.abs(-(dx * nx + dy * ny + dz * nz) / length);
    const sinN = Math.sqrt(Math.max(0, 1 - cosN * cosN));
    out[place] *= cosN > cosB ? 1 : cosN * cosB + sinN * sinB;
  }
}

/** The light that the last call of pickLight chose, and its chance. */
export class LightPick {
  /** Random number to choose by, in [0, 1). */
  u = 0;
  item = -1;
  chance = 0;
}

const pair = new Float64Array(2);

/** Goes down the tree by importance and out.u. False where no light may bring anything. */
export function pickLight(tree: LightTree, vertex: Float64Array, out: LightPick): boolean {
  const { nodes } = tree;
  let node = 0;
  out.chance = 1;
  for (;;) {
    const right = nodes[node * LIGHT_NODE + 13];
    if (right < 0) {
      out.item = nodes[node * LIGHT_NODE + 14];
      return true;
    }
    weighNode(nodes, node + 1, vertex, pair, 0);
    weighNode(nodes, right, vertex, pair, 1);
    if (!(pair[0] + pair[1] > 0)) return false;
    const share = pair[0] / (pair[0] + pair[1]);
    if (out.u < share) {
      out.u /= share;
      out.chance *= share;
      node = node + 1;
    } else {
      out.u = Math.min(1 - 2 ** -32, (out.u - share) / (1 - share));
      out.chance *= 1 - share;
      node = right;
    }
  }
}

/** Chance with which pickLight chooses an item, into out. */
export function setLightChance(tree: LightTree, item: number, vertex: Float64Array, out: LightPick): void {
  const { nodes } = tree;
  let node = tree.leaves[item];
  out.chance = node < 0 ? 0 : 1;
  if (node < 0) return;
  for (let parent = nodes[node * LIGHT_NODE + 15]; parent >= 0; parent = nodes[parent * LIGHT_NODE + 15]) {
    const right = nodes[parent * LIGHT_NODE + 13];
    weighNode(nodes, node, vertex, pair, 0);
    weighNode(nodes, node === right ? parent + 1 : right, vertex, pair, 1);
    out.chance *= pair[0] > 0 ? pair[0] / (pair[0] + pair[1]) : 0;
    if (out.chance === 0) return;
    node = parent;
  }
}
