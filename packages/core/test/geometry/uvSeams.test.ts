// Seams of shapes that are known by their making: three's box has a picture on each side, its tube is cut once.
import { expect } from 'chai';
import { BoxGeometry, CylinderGeometry, PlaneGeometry, type BufferGeometry } from 'three';
import { uvSeams } from '@dusting/core/geometry';

function seamsOf(geometry: BufferGeometry): Float32Array {
  const positions = geometry.getAttribute('position').array as Float32Array;
  const uvs = geometry.getAttribute('uv').array as Float32Array;
  return uvSeams({ positions: snapped(positions), indices: Uint32Array.from(geometry.getIndex()!.array) }, uvs);
}
/** three's round shapes close to within rounding: -0 and the last bits are made alike. */
const snapped = (positions: Float32Array) => positions.map((v) => Math.round(v * 1e5) / 1e5 + 0);

describe('UV seams', () => {
  it('a box has its twelve edges', () => expect(seamsOf(new BoxGeometry(1, 1, 1)).length / 6).to.equal(12));
  it('a grid has none: its rim is no seam', () => expect(seamsOf(new PlaneGeometry(1, 1, 4, 4)).length).to.equal(0));
  it('an open tube of three rings is cut once, along all of them', () => {
    const seams = seamsOf(new CylinderGeometry(1, 1, 3, 16, 3, true));
    expect(seams.length / 6).to.equal(3);
    for (let i = 0; i < seams.length; i += 6) expect(seams[i], 'upright').to.equal(seams[i + 3]);
  });
  it('without UVs there are none', () => {
    expect(uvSeams({ positions: new Float32Array(9), indices: Uint32Array.of(0, 1, 2) }, null)).to.have.length(0);
  });
});
