// Hill 1975, "A simple general approach to inference about the tail of a distribution": recovers the index of Pareto samples.
import { expect } from 'chai';
import { hashUnit, tailIndex } from '@dusting/core/math';

const pareto = (index: number, count: number) => Float64Array.from({ length: count }, (_, i) => (1 - hashUnit(i + 7)) ** (-1 / index)); // prettier-ignore

describe('tail index', () => {
  it('is that of Pareto samples, within three standard errors (index / root of the values in the tail)', () => {
    for (const index of [0.8, 1.5, 3]) {
      const found = tailIndex(pareto(index, 40_000), 0.02);
      expect(found).to.be.closeTo(index, (3 * index) / Math.sqrt(800));
    }
  });
  it('of the largest of blocks is that of what they were taken from', () => {
    const all = pareto(1.5, 160_000);
    const blocks = Float64Array.from({ length: 10_000 }, (_, b) => Math.max(...all.subarray(b * 16, b * 16 + 16)));
    expect(tailIndex(blocks, 0.05)).to.be.closeTo(1.5, (3 * 1.5) / Math.sqrt(500));
  });
  it('light tails, and values that are the same, have none worth a warning', () => {
    expect(tailIndex(Float64Array.from({ length: 5000 }, (_, i) => 1 + hashUnit(i)))).to.be.above(20);
    expect(tailIndex(new Float64Array(5000).fill(2))).to.equal(Infinity);
    expect(tailIndex([])).to.equal(Infinity);
  });
});
