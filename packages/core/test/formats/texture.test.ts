// PNG and JPEG written by the libraries of the formats; IEC 61966-2-1 for the encoding.
import { expect } from 'chai';
import { encode } from 'fast-png';
import jpeg from 'jpeg-js';
import {
  checkPictureSize,
  decodeMesh,
  encodeMesh,
  InputError,
  PLAIN_SPACE,
  readTexture,
  writeExr,
} from '@dusting/core/formats';
import { square } from '../scenes.ts';

const linear = PLAIN_SPACE;
const srgb = { ...PLAIN_SPACE, encoding: 'srgb' as const };

describe('texture pictures', () => {
  it('PNG 8 bit: sRGB or plain numbers, alpha always plain', () => {
    const bytes = encode({
      width: 2,
      height: 1,
      data: new Uint8Array([255, 188, 0, 128, 0, 0, 0, 255]),
      channels: 4,
      depth: 8,
    });
    const [, g, b, a] = readTexture(bytes, 'a.png', srgb).texels;
    expect(g).to.be.closeTo(0.5029, 1e-3);
    expect([b, a]).to.deep.equal([0, Math.fround(128 / 255)]);
    expect(readTexture(bytes, 'a.png', linear).texels[1]).to.be.closeTo(188 / 255, 1e-6);
  });
  it('PNG 16 bit keeps its steps, grey fills all three', () => {
    const bytes = encode({ width: 1, height: 2, data: new Uint16Array([1, 65535]), channels: 1, depth: 16 });
    const { texels } = readTexture(bytes, 'a.png', linear);
    expect([...texels.slice(0, 4)]).to.deep.equal([1 / 65535, 1 / 65535, 1 / 65535, 1].map(Math.fround));
  });
  it('JPEG comes near its pixels', () => {
    const data = new Uint8Array(16 * 16 * 4).fill(200);
    const bytes = jpeg.encode({ width: 16, height: 16, data }, 95).data;
    expect(readTexture(new Uint8Array(bytes), 'a.jpg', linear).texels[0]).to.be.closeTo(200 / 255, 0.01);
  });
  it('OpenEXR stays linear, grey in Y too', () => {
    const frame = { x: 0, y: 0, width: 1, height: 1 };
    const y = { name: 'Y', type: 'float' as const, data: new Float32Array([7.5]) };
    const bytes = writeExr({
      width: 1,
      height: 1,
      dataWindow: frame,
      displayWindow: frame,
      channels: [y],
      metadata: {},
    });
    expect([...readTexture(bytes, 'a.exr', srgb).texels]).to.deep.equal([7.5, 7.5, 7.5, 1]);
    const z = writeExr({
      width: 1,
      height: 1,
      dataWindow: frame,
      displayWindow: frame,
      channels: [{ ...y, name: 'Z' }],
      metadata: {},
    });
    expect(() => readTexture(z, 'a.exr', srgb)).to.throw(InputError, 'no layer with R, G and B, or with Y');
  });
  it('refuses what it cannot read, with the place', () => {
    const good = encode({ width: 4, height: 4, data: new Uint8Array(48), channels: 3, depth: 8 });
    expect(() => readTexture(good.subarray(0, good.length - 20), 'jars.glb, images/2', srgb)).to.throw(
      InputError,
      'cannot be read',
    );
    expect(() => readTexture(new Uint8Array([0xff, 0xd8, 1, 2]), 'a.jpg', srgb)).to.throw(InputError, 'JPEG');
    expect(() => readTexture(new Uint8Array(40), 'a.tga', srgb)).to.throw(
      InputError,
      'not a PNG, JPEG, TIFF, OpenEXR or Radiance HDR',
    );
    expect(() => checkPictureSize(100_000, 100_000, 'x')).to.throw(InputError, 'too large');
    expect(() => checkPictureSize(0, 5, 'x')).to.throw(InputError, 'no content');
  });
});

describe('stored meshes', () => {
  it('come back as they were, with and without normals and UVs', () => {
    for (const mesh of [
      square(2),
      { ...square(3), uvs: null },
      { ...square(1), normals: new Float32Array(12).fill(0.5) },
    ])
      expect(decodeMesh(encodeMesh(mesh))).to.deep.equal(mesh);
  });
  it('are refused when they are damaged', () => {
    const bytes = encodeMesh(square(1));
    expect(() => decodeMesh(bytes.subarray(0, 40))).to.throw(InputError, 'damaged');
    expect(() => decodeMesh(new Uint8Array(3))).to.throw(InputError);
  });
});
