// What is painted stays, what lies around it takes its colour, what is farther away stays as it was.
import { expect } from 'chai';
import { coveredTexels, eachTexel, growPadding } from '@dusting/core/shade';

describe('padding', () => {
  const corners = Float64Array.from([0.25, 0.25, 0.5, 0.25, 0.5, 0.5, 0.25, 0.25, 0.5, 0.5, 0.25, 0.5]);

  it('covers the texels whose centres lie under a triangle', () => {
    const covered = coveredTexels(corners, 16, 16);
    // texels 4 to 7 each way
    expect(covered.reduce((sum, c) => sum + c, 0)).to.equal(16);
    expect([covered[4 * 16 + 4], covered[7 * 16 + 7], covered[3 * 16 + 4], covered[8 * 16 + 7]]).to.deep.equal([1, 1, 0, 0]); // prettier-ignore
  });

  it('visits the texels of any triangle that a test of all of them finds, and no other', () => {
    let state = 7;
    const random = () => (state = (state * 16807) % 2147483647) / 2147483647;
    for (let n = 0; n < 300; n++) {
      const c = Float64Array.from({ length: 6 }, () =>
        n % 3 === 0 ? Math.round(8 * random()) / 8 : 1.4 * random() - 0.2,
      );
      const found: string[] = [];
      eachTexel(c, 12, 10, (x, y) => found.push(`${x} ${y}`));
      const side = (i: number, j: number, x: number, y: number) => (c[j] - c[i]) * (y - c[i + 1]) - (c[j + 1] - c[i + 1]) * (x - c[i]); // prettier-ignore
      const wanted: string[] = [];
      for (let y = -4; y < 16; y++)
        for (let x = -4; x < 18; x++) {
          const sides = [[0, 2], [2, 4], [4, 0]].map(([i, j]) => side(i, j, (x + 0.5) / 12, (y + 0.5) / 10)); // prettier-ignore
          // what lies on an edge to the last bit may be taken either way
          if (sides.some((s) => Math.abs(s) < 1e-12)) continue;
          if (sides.every((s) => s > 0) || sides.every((s) => s < 0)) wanted.push(`${x} ${y}`);
        }
      expect(found).to.include.members(wanted);
      expect(found.length - wanted.length, 'on edges').to.be.at.most(24);
    }
  });

  it('a triangle of many pictures covers all of one; what is clipped is not visited', () => {
    const wide = Float64Array.from([0, 0, 3000, 0, 0, 3000]);
    expect(coveredTexels(wide, 16, 16).every((c) => c === 1)).to.equal(true);
    let visited = 0;
    eachTexel(wide, 16, 16, () => visited++, [16, 31, 32, 39]);
    expect(visited).to.equal(16 * 8);
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
