// Bilinear interpolation by hand; wrap modes as the glTF 2.0 sampler defines them; KHR_texture_transform; a mip level
// is the mean of what it covers (Williams 1983, "Pyramidal parametrics").
import { expect } from 'chai';
import { buildTextures, forgetLookUps, largeTextures, lookUpTexture } from '@dusting/core/shade';
import { TEXTURE_DEFAULTS, type TextureRef } from '@dusting/core/scene';
import { plainBuffer } from '@dusting/core/trace';
import { hashUnit } from '@dusting/core/math';

const values = [0, 1, 2, 3]; // 2 x 2: top 0 1, bottom 2 3
const small = { width: 2, height: 2, texels: Float32Array.from(values.flatMap((v) => [v, 10 * v, 0, 1])) };
const look = (picture: typeof small, ref: Partial<TextureRef>, u: number, v: number, footprint = 0) => {
  const whole = { ...structuredClone(TEXTURE_DEFAULTS), name: 't', blob: '', width: 1, height: 1, encoding: 'linear', ...ref } as TextureRef; // prettier-ignore
  const out = new Float64Array(4);
  lookUpTexture(buildTextures([{ ref: whole, pictures: [picture] }], plainBuffer), 0, u, v, footprint, out);
  return out[0];
};
const at = (u: number, v: number, wrap: TextureRef['wrapU']) => look(small, { wrapU: wrap, wrapV: wrap }, u, v);

describe('textures', () => {
  it('texel centres give the texels, v counts downwards', () => {
    const corners = [[0.25, 0.25], [0.75, 0.25], [0.25, 0.75], [0.75, 0.75]]; // prettier-ignore
    expect(corners.map(([u, v]) => at(u, v, 'clamp'))).to.deep.equal(values);
    expect(at(0.5, 0.5, 'clamp')).to.equal(1.5);
    expect(look(small, { filter: 'nearest' }, 0.45, 0.45)).to.equal(0);
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
  it('is scaled, turned and moved', () => {
    expect(look(small, { scale: [2, 2] }, 0.375, 0.125)).to.be.closeTo(at(0.75, 0.25, 'repeat'), 1e-12);
    expect(look(small, { offset: [0.5, 0] }, 0.25, 0.25)).to.equal(1);
    expect(look(small, { rotation: 90 }, 0.25, 0.25)).to.be.closeTo(at(0.25, -0.25, 'repeat'), 1e-12);
  });
  it('a footprint of the whole picture gives its mean, whatever its size; none gives the texel', () => {
    for (const [width, height] of [
      [64, 64],
      [37, 21],
      [5, 1],
    ]) {
      const texels = Float32Array.from({ length: width * height * 4 }, (_, i) => hashUnit(i));
      const mean = texels.reduce((sum, v, i) => sum + (i % 4 === 0 ? v : 0), 0) / (width * height);
      const picture = { width, height, texels };
      expect(look(picture, {}, 0.3, 0.7, 1)).to.be.closeTo(mean, width === 64 ? 1e-6 : 0.08);
      expect(look(picture, { filter: 'bilinear' }, 0.5 / width, 0.5 / height, 1)).to.equal(texels[0]);
    }
  });

  it('is larger than anything shows where its narrowest look-up stands for two texels or more', () => {
    const ref = (name: string) => ({ ...structuredClone(TEXTURE_DEFAULTS), name, blob: '', width: 1, height: 1, encoding: 'linear' }) as TextureRef; // prettier-ignore
    const picture = { width: 256, height: 128, texels: new Float32Array(256 * 128 * 4) };
    const refs = [ref('far'), ref('near'), ref('unseen')];
    const store = buildTextures(refs.map((r) => ({ ref: r, pictures: [picture] })), plainBuffer); // prettier-ignore
    const out = new Float64Array(4);
    // a pixel of the picture that was looked at is 4 of the final one: so many are 40 pixels across the texture, and 300
    for (const u of [0.1, 0.6]) lookUpTexture(store, 0, u, 0.5, u / 0.1 / 10, out);
    lookUpTexture(store, 1, 0.5, 0.5, 4 / 300, out);
    // 256 texels over 40 pixels are 6.4 for each: a level of a quarter (64) has more texels than pixels still
    const [far, ...others] = largeTextures(store, refs, 4);
    expect(far).to.include({ name: 'far', size: 256, needed: 64 });
    const bytes = (w: number, h: number): number => 16 * w * h + (w * h > 1 ? bytes(Math.max(1, w >> 1), Math.max(1, h >> 1)) : 0); // prettier-ignore
    expect(far.saves / (bytes(256, 128) - bytes(64, 32))).to.be.closeTo(1, 0.001);
    // what was never looked at would do with a single texel
    expect(others.map(({ name, needed }) => [name, needed])).to.deep.equal([['unseen', 1]]);
    forgetLookUps(store);
    expect(largeTextures(store, refs, 4)[1].needed).to.equal(1);
  });

  it('UDIM tiles: 1001 + column + 10 rows, V upwards; an edge belongs to its tile, where none is it is black', () => {
    const tile = (value: number) => ({ width: 1, height: 1, texels: new Float32Array([value, value, value, 1]) });
    const numbers = [1001, 1002, 1011, 1100];
    const tiles = numbers.map((number) => ({ number, blob: '', width: 1, height: 1 }));
    const ref = { ...structuredClone(TEXTURE_DEFAULTS), name: 't', blob: '', width: 1, height: 1, encoding: 'linear', tiles } as TextureRef; // prettier-ignore
    const plain = { ref: { ...ref, tiles: [] }, pictures: [tile(7)] };
    const store = buildTextures([plain, { ref, pictures: numbers.map(tile) }, plain], plainBuffer);
    const out = new Float64Array(4);
    const read = (texture: number, u: number, up: number) => {
      lookUpTexture(store, texture, u, 1 - up, 0, out);
      return out[0];
    };
    expect([read(1, 0.5, 0.5), read(1, 1.5, 0.5), read(1, 0.5, 1.5), read(1, 9.5, 9.5)]).to.deep.equal(numbers);
    expect([read(1, 0, 0), read(1, 1, 1), read(1, 2, 0)]).to.deep.equal([1001, 1001, 1002]);
    expect(read(1, 1.5, 1.5)).to.equal(0);
    expect(out[3]).to.equal(0);
    expect([read(0, 3.5, 2), read(2, 0, 0)]).to.deep.equal([7, 7]);
  });
});
