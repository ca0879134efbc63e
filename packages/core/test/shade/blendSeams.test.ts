// Both sides of a seam drawn together: alike at it, as they were beyond the reach, and in between by the distance.
import { expect } from 'chai';
import { uvSeamSides } from '@dusting/core/geometry';
import { blendSeams } from '@dusting/core/shade';

const SIZE = 64;
/** Left half 0.2, right half 0.8; a seam at U = 1/8 meets one at U = 7/8. */
const halves = () => ({ width: SIZE, height: SIZE, texels: Float32Array.from({ length: SIZE * SIZE * 4 }, (_, i) => (Math.floor(i / 4) % SIZE < SIZE / 2 ? 0.2 : 0.8)) }); // prettier-ignore
const sides = Float64Array.from([1 / 8, 0.25, 1 / 8, 0.75, 7 / 8, 0.25, 7 / 8, 0.75]);

describe('seams that are blended', () => {
  it('are alike at the seam, and change nothing beyond their reach; in between it is even', () => {
    const { texels } = blendSeams(halves(), sides, 9);
    const at = (x: number, y: number) => texels[(y * SIZE + x) * 4];
    const [left, right] = [SIZE / 8, (7 * SIZE) / 8];
    expect(at(left, 32)).to.be.closeTo(0.5, 1e-6);
    expect(at(right - 1, 32)).to.be.closeTo(0.5, 1e-6);
    // 8 texels from whole to nothing: half of it at 5
    expect(at(left + 4, 32)).to.be.closeTo(0.2 + 0.3 * (4.5 / 8), 0.01);
    expect(at(left + 9, 32)).to.be.closeTo(0.2, 1e-6);
    expect(at(left, 4)).to.be.closeTo(0.2, 1e-6);
    expect(at(SIZE / 2, 32)).to.be.closeTo(0.8, 1e-6);
  });

  it('take both sides of a cut edge from the mesh, from and to in the same order', () => {
    // two triangles over one edge, whose UVs lie apart
    const positions = Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, -1, 0]);
    const uvs = Float32Array.from([0, 0, 0.4, 0, 0, 0.4, 0.5, 0.9, 0.9, 0.9, 0.5, 0.5]);
    const found = uvSeamSides({ positions, indices: Uint32Array.from([0, 1, 2, 3, 5, 4]) }, uvs);
    expect(found).to.have.lengthOf(8);
    // the end of the edge that either side begins with, by its U
    const isStart = (u: number) => Math.abs(u) < 1e-6 || Math.abs(u - 0.5) < 1e-6;
    expect(isStart(found[0])).to.equal(isStart(found[4]));
    expect(isStart(found[2])).to.equal(isStart(found[6])).and.not.equal(isStart(found[0]));
    expect([found[1], found[5]].map((v) => Number(v.toFixed(3)))).to.have.members([0, 0.9]);
  });
});
