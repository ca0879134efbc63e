// Own guarantees: every item in one leaf, every node inside its parent. Wald 2007: the heuristic pays.
import { expect } from 'chai';
import { hashUnit } from '@dusting/core/math';
import { buildHierarchy, NODE_STRIDE } from '@dusting/core/trace';

const boxes = (count: number, spread: (i: number, k: number) => number) => {
  const out = new Float32Array(count * 6);
  for (let i = 0; i < count; i++)
    for (let k = 0; k < 3; k++) {
      out[i * 6 + k] = spread(i, k);
      out[i * 6 + 3 + k] = out[i * 6 + k] + 0.02 * hashUnit(i * 3 + k);
    }
  return out;
};

describe('hierarchy', () => {
  const layouts: [string, (i: number, k: number) => number][] = [
    ['spread evenly', (i, k) => hashUnit(i * 3 + k + 7)],
    ['in two far heaps', (i, k) => hashUnit(i * 3 + k + 7) + (i % 2 ? 1000 : 0)],
    ['all at one place', () => 5],
  ];
  for (const [name, spread] of layouts)
    it(`${name}: items stand in one leaf each, bounds enclose what is below`, () => {
      const count = 3000;
      const source = boxes(count, spread);
      const { nodes, nodeCount, order } = buildHierarchy(source, count);
      const ints = new Int32Array(nodes.buffer);
      const seen = new Set<number>();
      const encloses = (node: number, low: ArrayLike<number>, high: ArrayLike<number>) => {
        for (let k = 0; k < 3; k++) {
          expect(low[k]).to.be.at.least(nodes[node * NODE_STRIDE + k]);
          expect(high[k]).to.be.at.most(nodes[node * NODE_STRIDE + 3 + k]);
        }
      };
      for (let node = 0; node < nodeCount; node++) {
        const base = node * NODE_STRIDE;
        const [first, items] = [ints[base + 6], ints[base + 7]];
        expect(items).to.be.at.most(8);
        for (let i = first; i < first + items; i++) {
          expect(seen.has(order[i])).to.equal(false);
          seen.add(order[i]);
          encloses(node, source.subarray(order[i] * 6), source.subarray(order[i] * 6 + 3));
        }
        if (items === 0)
          for (const child of [first, first + 1])
            encloses(node, nodes.subarray(child * NODE_STRIDE), nodes.subarray(child * NODE_STRIDE + 3));
      }
      expect(seen.size).to.equal(count);
    });

  it('two heaps are parted at the top', () => {
    const { nodes } = buildHierarchy(boxes(500, layouts[1][1]), 500);
    const left = new Int32Array(nodes.buffer)[6];
    const widths = [left, left + 1].map((n) => nodes[n * NODE_STRIDE + 3] - nodes[n * NODE_STRIDE]);
    expect(Math.max(...widths)).to.be.below(2);
  });

  it('nothing makes one empty node', () => expect(buildHierarchy(new Float32Array(0), 0).nodeCount).to.equal(1));
});
