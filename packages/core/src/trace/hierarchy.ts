// Bounding volume hierarchy over boxes, built top-down with a binned surface-area heuristic (Wald 2007, "On fast
// construction of SAH-based bounding volume hierarchies"). 2-wide, children of a node stand side by side.
//
// node, 8 x 32 bits: // 0..2 min, 3..5 max, 6 left child or first item (int), 7 item count (int, 0 for inner nodes)
export const NODE_STRIDE = 8;
const BINS = 16;
const TRAVERSAL_COST = 1; // relative to one item test
const MAX_LEAF = 8;

export interface Hierarchy {
  nodes: Float32Array<ArrayBuffer>;
  nodeCount: number;
  /** Item indices in leaf order. */
  order: Int32Array<ArrayBuffer>;
}

/**
 * @param boxes 6 numbers an item: min x, y, z, max x, y, z; single precision, so that node bounds enclose them exactly
 */
export function buildHierarchy(boxes: Float32Array, count: number): Hierarchy {
  const nodes = new Float32Array(Math.max(1, 2 * count - 1) * NODE_STRIDE);
  const ints = new Int32Array(nodes.buffer);
  const order = new Int32Array(count);
  for (let i = 0; i < count; i++) order[i] = i;
  if (count === 0) {
    nodes.fill(Infinity, 0, 3).fill(-Infinity, 3, 6);
    return { nodes, nodeCount: 1, order };
  }
  const centres = new Float32Array(count * 3);
  for (let i = 0; i < count; i++)
    for (let k = 0; k < 3; k++) centres[i * 3 + k] = (boxes[i * 6 + k] + boxes[i * 6 + 3 + k]) / 2;

  const binBoxes = new Float64Array(BINS * 6);
  const binCounts = new Int32Array(BINS);
  const rightAreas = new Float64Array(BINS);
  let nodeCount = 1;
  const pending: number[] = [0, 0, count]; // node, first, count

  while (pending.length > 0) {
    const size = pending.pop()!;
    const first = pending.pop()!;
    const node = pending.pop()!;
    const base = node * NODE_STRIDE;
    const low = [Infinity, Infinity, Infinity];
    const high = [-Infinity, -Infinity, -Infinity];
    const centreLow = [Infinity, Infinity, Infinity];
    const centreHigh = [-Infinity, -Infinity, -Infinity];
    for (let i = first; i < first + size; i++) {
      const item = order[i];
      for (let k = 0; k < 3; k++) {
        low[k] = Math.min(low[k], boxes[item * 6 + k]);
        high[k] = Math.max(high[k], boxes[item * 6 + 3 + k]);
        centreLow[k] = Math.min(centreLow[k], centres[item * 3 + k]);
        centreHigh[k] = Math.max(centreHigh[k], centres[item * 3 + k]);
      }
    }
    for (let k = 0; k < 3; k++) {
      nodes[base + k] = low[k];
      nodes[base + 3 + k] = high[k];
    }

    let bestCost = size <= MAX_LEAF ? size : Infinity;
    let bestAxis = -1;
    let bestBin = 0;
    const parentArea = halfArea(low, high) || Number.MIN_VALUE;
    if (size > 1)
      for (let axis = 0; axis < 3; axis++) {
        const extent = centreHigh[axis] - centreLow[axis];
        if (!(extent > 0)) continue;
        const scale = BINS / extent;
        binCounts.fill(0);
        for (let b = 0; b < BINS; b++) binBoxes.fill(Infinity, b * 6, b * 6 + 3).fill(-Infinity, b * 6 + 3, b * 6 + 6);
        for (let i = first; i < first + size; i++) {
          const item = order[i];
          const b = Math.min(BINS - 1, Math.floor((centres[item * 3 + axis] - centreLow[axis]) * scale));
          binCounts[b]++;
          growBox(binBoxes, b * 6, boxes, item * 6);
        }
        const running = new Float64Array([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);
        for (let b = BINS - 1; b > 0; b--) {
          growBox(running, 0, binBoxes, b * 6);
          rightAreas[b] = boxHalfArea(running);
        }
        running.fill(Infinity, 0, 3).fill(-Infinity, 3, 6);
        let leftCount = 0;
        for (let b = 0; b < BINS - 1; b++) {
          growBox(running, 0, binBoxes, b * 6);
          leftCount += binCounts[b];
          const rightCount = size - leftCount;
          if (leftCount === 0 || rightCount === 0) continue;
          const work = leftCount * boxHalfArea(running) + rightCount * rightAreas[b + 1];
          const cost = TRAVERSAL_COST + work / parentArea;
          if (cost < bestCost) {
            bestCost = cost;
            bestAxis = axis;
            bestBin = b;
          }
        }
      }

    let middle = first;
    if (bestAxis >= 0) {
      const scale = BINS / (centreHigh[bestAxis] - centreLow[bestAxis]);
      let end = first + size;
      while (middle < end) {
        const item = order[middle];
        const b = Math.min(BINS - 1, Math.floor((centres[item * 3 + bestAxis] - centreLow[bestAxis]) * scale));
        if (b <= bestBin) middle++;
        else {
          order[middle] = order[--end];
          order[end] = item;
        }
      }
    } else if (size > MAX_LEAF) middle = first + (size >> 1); // all centres coincide: halve by number
    if (middle === first || middle === first + size) {
      ints[base + 6] = first;
      ints[base + 7] = size;
      continue;
    }
    const left = nodeCount;
    nodeCount += 2;
    ints[base + 6] = left;
    ints[base + 7] = 0;
    pending.push(left, first, middle - first, left + 1, middle, first + size - middle);
  }
  return { nodes: nodes.slice(0, nodeCount * NODE_STRIDE), nodeCount, order };
}

function growBox(into: Float64Array, at: number, from: ArrayLike<number>, fromAt: number): void {
  for (let k = 0; k < 3; k++) {
    if (from[fromAt + k] < into[at + k]) into[at + k] = from[fromAt + k];
    if (from[fromAt + 3 + k] > into[at + 3 + k]) into[at + 3 + k] = from[fromAt + 3 + k];
  }
}

function boxHalfArea(b: Float64Array): number {
  return halfArea([b[0], b[1], b[2]], [b[3], b[4], b[5]]);
}

function halfArea(low: number[], high: number[]): number {
  const x = high[0] - low[0];
  const y = high[1] - low[1];
  const z = high[2] - low[2];
  return x < 0 ? 0 : x * y + y * z + z * x;
}
