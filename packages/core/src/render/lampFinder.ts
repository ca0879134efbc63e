// Lamps with a shape that a ray may meet. A few are tried one by one; many stand in a hierarchy, so that a ray's cost does
// not grow with their number.
import { LIGHT, lightBounds, POINT, SPOT, SUN, type Ray } from '../shade/index.ts';
import { buildHierarchy, NODE_STRIDE } from '../trace/index.ts';
import type { LightTable } from './compileLights.ts';

const FEW = 6;

export class LampFinder {
  /** Lamps that the last call of find() named, in no order: the first `count` numbers. */
  readonly found: Int32Array;
  count = 0;
  private readonly always: number[] = [];
  private readonly placed: number[] = [];
  private readonly nodes: Float32Array;
  private readonly links: Int32Array;
  private readonly order: Int32Array;
  private readonly stack = new Int32Array(64);

  constructor({ count, values }: LightTable) {
    for (let i = 0; i < count; i++) {
      const kind = values[i * LIGHT.stride + LIGHT.kind];
      if (kind === POINT || kind === SPOT || (kind === SUN && values[i * LIGHT.stride + LIGHT.density] === 0)) continue;
      if (kind === SUN) this.always.push(i);
      else this.placed.push(i);
    }
    if (this.placed.length <= FEW) this.always.push(...this.placed.splice(0));
    const boxes = new Float32Array(this.placed.length * 6);
    this.placed.forEach((light, i) => {
      const { low, high } = lightBounds(values, light);
      for (let k = 0; k < 3; k++) {
        // a little larger: single precision, and flat lamps
        const grow = 1e-6 * (Math.abs(low[k]) + Math.abs(high[k])) + 1e-30;
        boxes[i * 6 + k] = low[k] - grow;
        boxes[i * 6 + 3 + k] = high[k] + grow;
      }
    });
    const { nodes, order } = buildHierarchy(boxes, this.placed.length);
    this.nodes = nodes;
    this.links = new Int32Array(nodes.buffer, nodes.byteOffset, nodes.length);
    this.order = order;
    this.found = new Int32Array(this.always.length + this.placed.length);
    this.found.set(this.always);
    this.count = this.always.length;
  }

  /** Names the lamps whose boxes a ray passes, wherever along it. */
  find(ray: Ray): void {
    this.count = this.always.length;
    if (this.placed.length === 0) return;
    const { found, links, order, placed, stack } = this;
    const [ix, iy, iz] = [1 / ray.dx, 1 / ray.dy, 1 / ray.dz];
    let top = 0;
    stack[top++] = 0;
    while (top > 0) {
      const at = stack[--top] * NODE_STRIDE;
      if (!this.passes(at, ray, ix, iy, iz)) continue;
      const items = links[at + 7];
      if (items === 0) {
        stack[top++] = links[at + 6];
        stack[top++] = links[at + 6] + 1;
      } else for (let i = 0; i < items; i++) found[this.count++] = placed[order[links[at + 6] + i]];
    }
  }

  /** By slabs (Kay & Kajiya 1986). A ray in the very face of a box may miss it: boxes are larger than their lamps. */
  private passes(at: number, { ox, oy, oz }: Ray, ix: number, iy: number, iz: number): boolean {
    const { nodes } = this;
    let near = 0;
    let far = Infinity;
    const ax = (nodes[at] - ox) * ix;
    const bx = (nodes[at + 3] - ox) * ix;
    if (ax < bx ? ax > near : bx > near) near = ax < bx ? ax : bx;
    if (ax < bx ? bx < far : ax < far) far = ax < bx ? bx : ax;
    const ay = (nodes[at + 1] - oy) * iy;
    const by = (nodes[at + 4] - oy) * iy;
    if (ay < by ? ay > near : by > near) near = ay < by ? ay : by;
    if (ay < by ? by < far : ay < far) far = ay < by ? by : ay;
    const az = (nodes[at + 2] - oz) * iz;
    const bz = (nodes[at + 5] - oz) * iz;
    if (az < bz ? az > near : bz > near) near = az < bz ? az : bz;
    if (az < bz ? bz < far : az < far) far = az < bz ? bz : az;
    return near <= far;
  }
}
