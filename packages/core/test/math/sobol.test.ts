// Owen 1995; Burley 2020: scrambling keeps the elementary-interval property of (0, 2)-sequences.
import { expect } from 'chai';
import { hash32, samplePoint, sobolSecond } from '@dusting/core/math';

describe('low-discrepancy points', () => {
  it('the factored second generator matrix is the one that is built bit by bit', () => {
    for (let i = 0; i < 2000; i++) {
      const index = hash32(i) >>> 0;
      let expected = 0;
      for (let n = index, v = 1; n; n >>>= 1, v ^= v << 1) if (n & 1) expected ^= v;
      expect(sobolSecond(index) >>> 0).to.equal(expected >>> 0);
    }
  });

  it('256 points fill every elementary interval of area 1/256 exactly once, for any key and aligned start', () => {
    const point = new Float64Array(2);
    for (const [key, start] of [
      [1, 0],
      [77, 256],
      [123456, 1024],
    ])
      for (let k = 0; k <= 8; k++) {
        const seen = new Set<number>();
        for (let i = start; i < start + 256; i++) {
          samplePoint(point, key, i);
          seen.add(Math.floor(point[0] * 2 ** k) * 2 ** (8 - k) + Math.floor(point[1] * 2 ** (8 - k)));
        }
        expect(seen.size, `${2 ** k} x ${2 ** (8 - k)} cells`).to.equal(256);
      }
  });

  it('integrates a smooth function with an error that falls faster than that of independent samples', () => {
    const point = new Float64Array(2);
    const errorAt = (n: number) => {
      let squares = 0;
      for (let key = 1; key <= 64; key++) {
        let sum = 0;
        for (let i = 0; i < n; i++) {
          samplePoint(point, key, i);
          sum += point[0] * point[1];
        }
        squares += (sum / n - 0.25) ** 2;
      }
      return Math.sqrt(squares / 64);
    };
    // independent samples would halve it from 64 to 256, and stand at 0.0138 there
    expect(errorAt(256)).to.be.below(errorAt(64) / 2);
    expect(errorAt(256)).to.be.below(0.0138);
  });
});
