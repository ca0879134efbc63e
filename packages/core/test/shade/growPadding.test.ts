// What is painted stays, what lies around it takes its colour, what is farther away stays as it was.
import { expect } from 'chai';
import { coveredTexels, growPadding } from '@dusting/core/shade';

describe('padding', () => {
  const corners = Float64Array.from([0.25, 0.25, 0.5, 0.25, 0.5, 0.5, 0.25, 0.25, 0.5, 0.5, 0.25, 0.5]);

  it('covers the texels whose centres lie under a triangle', () => {
    const covered = coveredTexels(corners, 16, 16);
    // texels 4 to 7 each way
    expect(covered.reduce((sum, c) => sum + c, 0)).to.equal(16);
    expect([covered[4 * 16 + 4], covered[7 * 16 + 7], covered[3 * 16 + 4], covered[8 * 16 + 7]]).to.deep.equal([1, 1, 0, 0]); // prettier-ignore
  });

  it('grows by as many texels as were asked for', () => {
    const covered = coveredTexels(corners, 16, 16);
    const texels = new Float32Array(16 * 16 * 4);
    covered.forEach((c, i) => c && texels.fill(0.7, i * 4, i * 4 + 4));
    const grown = growPadding({ width: 16, height: 16, texels }, covered, 2).texels;
    const at = (x: number, y: number) => grown[(y * 16 + x) * 4];
    expect([at(5, 5), at(3, 5), at(2, 5), at(1, 5)].map((v) => Number(v.toFixed(5)))).to.deep.equal([0.7, 0.7, 0.7, 0]);
    expect(texels[(5 * 16 + 3) * 4], 'the picture itself stays').to.equal(0);
  });
});
