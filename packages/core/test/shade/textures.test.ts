// Bilinear interpolation by hand; wrap modes as the glTF 2.0 sampler defines them.
import { expect } from 'chai';
import { lookUpTexture, WRAPS } from '@dusting/core/shade';

const values = [0, 1, 2, 3]; // 2 x 2: top 0 1, bottom 2 3
const texels = Float32Array.from(values.flatMap((v) => [v, 10 * v, 0, 1]));
const at = (u: number, v: number, wrap: (typeof WRAPS)[number]) => {
  const out = new Float64Array(3);
  const mode = WRAPS.indexOf(wrap);
  lookUpTexture({ table: Int32Array.from([0, 2, 2, mode, mode]), texels }, 0, u, v, out);
  return out[0];
};

describe('textures', () => {
  it('texel centres give the texels, v counts downwards', () => {
    expect([
      at(0.25, 0.25, 'clamp'),
      at(0.75, 0.25, 'clamp'),
      at(0.25, 0.75, 'clamp'),
      at(0.75, 0.75, 'clamp'),
    ]).to.deep.equal(values);
    expect(at(0.5, 0.5, 'clamp')).to.equal(1.5);
  });
  it('clamp keeps the edge, repeat starts again, mirror goes back', () => {
    expect(at(-3, 0.25, 'clamp')).to.equal(0);
    expect(at(1.25, 0.25, 'repeat')).to.equal(0);
    expect(at(-0.25, 0.25, 'repeat')).to.equal(1);
    expect(at(1.25, 0.25, 'mirror')).to.equal(1);
    expect(at(-0.25, 0.25, 'mirror')).to.equal(0);
    expect(at(0, 0.25, 'repeat'), 'between the last and the first').to.equal(0.5);
    expect(at(0, 0.25, 'mirror')).to.equal(0);
  });
});
