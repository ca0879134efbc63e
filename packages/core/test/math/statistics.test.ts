// Hyndman & Fan 1996, type 7: the definition that most statistics packages take by default.
import { expect } from 'chai';
import { guidedSearch, guideRunningSum, invertAffine, quantile, transformPoint } from '@dusting/core/math';

describe('statistics and matrices', () => {
  it('quantiles lie on the line between order statistics', () => {
    expect(quantile([4, 1, 3, 2], 0.5)).to.equal(2.5);
    expect(quantile([0, 10], 0.95)).to.be.closeTo(9.5, 1e-12);
    expect(quantile([], 0.5)).to.be.NaN;
  });
  it('a running sum is searched for the entry that u falls into', () => {
    const find = (sums: number[], us: number[]) => {
      // behind another sum, as rows of a picture are
      const all = Float32Array.from([0.5, 1, ...sums]);
      const guide = new Uint16Array(all.length);
      guideRunningSum(all, 2, sums.length, guide);
      return us.map((u) => guidedSearch(all, guide, 2, sums.length, u) - 2);
    };
    expect(find([0.125, 0.125, 0.625, 1], [0, 0.0625, 0.125, 0.6, 0.625, 0.99])).to.deep.equal([0, 0, 2, 2, 3, 3]);
    expect(find([0, 0, 0, 0, 1], [0, 0.5, 1 - 2 ** -32])).to.deep.equal([4, 4, 4]);
    // the entry of a plain look from the first on, for all numbers that a sampler draws about the edges
    const sums = Array.from({ length: 100 }, (_, i) => Math.fround(((i + 1) / 100) ** 3));
    const us = sums.slice(0, -1).flatMap((v) => [v - 2 ** -32, v, v + 2 ** -32]);
    expect(find(sums, us)).to.deep.equal(us.map((u) => sums.findIndex((v) => v > u)));
  });
  it('an affine transform times its inverse brings a point back', () => {
    const a = [0.2, -1, 0.3, 4, 1, 0.5, 0.1, -2, 0, 0.7, 3, 5];
    const there = transformPoint(a, [1, 2, 3]);
    transformPoint(invertAffine(a), there).forEach((v, k) => expect(v).to.be.closeTo(k + 1, 1e-12));
    expect(() => invertAffine([1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0])).to.throw(RangeError);
  });
});
