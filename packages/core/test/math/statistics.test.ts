// Hyndman & Fan 1996, type 7: the definition that most statistics packages take by default.
import { expect } from 'chai';
import { invertAffine, quantile, searchRunningSum, transformPoint } from '@dusting/core/math';

describe('statistics and matrices', () => {
  it('quantiles lie on the line between order statistics', () => {
    expect(quantile([4, 1, 3, 2], 0.5)).to.equal(2.5);
    expect(quantile([0, 10], 0.95)).to.be.closeTo(9.5, 1e-12);
    expect(quantile([], 0.5)).to.be.NaN;
  });
  it('a running sum is searched for the entry that u falls into', () => {
    const sums = Float64Array.from([0.1, 0.1, 0.6, 1]);
    expect([0, 0.05, 0.1, 0.59, 0.6, 0.99].map((u) => searchRunningSum(sums, 0, 4, u))).to.deep.equal([
      0, 0, 2, 2, 3, 3,
    ]);
  });
  it('an affine transform times its inverse brings a point back', () => {
    const a = [0.2, -1, 0.3, 4, 1, 0.5, 0.1, -2, 0, 0.7, 3, 5];
    const there = transformPoint(a, [1, 2, 3]);
    transformPoint(invertAffine(a), there).forEach((v, k) => expect(v).to.be.closeTo(k + 1, 1e-12));
    expect(() => invertAffine([1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0])).to.throw(RangeError);
  });
});
