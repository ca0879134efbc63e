// Texture space in closed forms: the singular values of a scaled and of a sheared square, an unrolled tube, and islands that are
// laid out by hand.
import { expect } from 'chai';
import { uvLayout } from '@dusting/core/geometry';

/** A square of side 1 at (x, 0, 0) in two triangles, counter-clockwise from above, with the texture coordinates of its corners. */
function squares(...list: { x: number; uvs: number[][] }[]) {
  const positions: number[] = [];
  const indices: number[] = [];
  const corners: number[] = [];
  for (const { uvs, x } of list) {
    const first = positions.length / 3;
    positions.push(x, 0, 0, x + 1, 0, 0, x + 1, 1, 0, x, 1, 0);
    for (const k of [0, 1, 2, 0, 2, 3]) {
      indices.push(first + k);
      corners.push(...uvs[k]);
    }
  }
  return uvLayout(Float32Array.from(positions), Uint32Array.from(indices), Float64Array.from(corners));
}
// v counts downwards: as it lies on the page, seen from the front
const UPRIGHT = [[0, 1], [1, 1], [1, 0], [0, 0]]; // prettier-ignore
const placed = (scaleU: number, scaleV: number, u = 0, v = 0) => UPRIGHT.map(([a, b]) => [a * scaleU + u, b * scaleV + v]); // prettier-ignore

describe('UV layout', () => {
  it('finds islands, their borders and what lies between their faces', () => {
    const { borders, islandOf, islands, wires } = squares({ x: 0, uvs: placed(0.4, 0.4) }, { x: 1, uvs: placed(0.4, 0.4, 0.5, 0.5) }); // prettier-ignore
    expect(islands.map(({ triangles }) => triangles)).to.deep.equal([2, 2]);
    expect([...islandOf].sort()).to.deep.equal([0, 0, 1, 1]);
    // four sides each, and a diagonal each
    expect([borders.length / 4, wires.length / 4]).to.deep.equal([8, 2]);
    expect(islands[1].box).to.deep.equal([0.5, 0.5, 0.9, 0.9]);
    expect(islands[0].uvArea).to.be.closeTo(0.16, 1e-12);
  });

  it('squares that share an edge in space and in texture are one island; those that share it in space alone are two', () => {
    const joined = squares({ x: 0, uvs: placed(0.5, 1) }, { x: 1, uvs: placed(0.5, 1, 0.5) });
    expect(joined.islands.length).to.equal(1);
    expect(joined.borders.length / 4).to.equal(6);
    expect(squares({ x: 0, uvs: placed(0.5, 1) }, { x: 1, uvs: placed(0.4, 1, 0.6) }).islands.length).to.equal(2);
  });

  it('stretch is the ratio of the singular values: 1 as it is, 2 where it is scaled one way, the golden ratio squared where it is sheared by 1', () => {
    const stretch = (uvs: number[][]) => squares({ x: 0, uvs }).stretch;
    for (const value of stretch(placed(0.3, 0.3))) expect(value).to.be.closeTo(1, 1e-5);
    for (const value of stretch(placed(0.5, 0.25))) expect(value).to.be.closeTo(2, 1e-5);
    const sheared = UPRIGHT.map(([u, v]) => [u + v, v]);
    for (const value of stretch(sheared)) expect(value).to.be.closeTo(((1 + Math.sqrt(5)) / 2) ** 2, 1e-4);
    for (const value of stretch(placed(0.5, 0))) expect(value).to.equal(Infinity);
  });

  it('an island that is seen from behind is mirrored', () => {
    const { islands } = squares({ x: 0, uvs: UPRIGHT }, { x: 3, uvs: placed(-1, 1, 2) });
    expect(islands.map(({ box, isMirrored }) => [box[0], isMirrored])).to.have.deep.members([[0, false], [1, true]]); // prettier-ignore
  });
});
