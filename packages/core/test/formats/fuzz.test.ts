// Damaged and hostile pictures: mutated inputs end in a picture or in an error that names the file, never in a fault of the
// program, a hang (the test's time limit) or memory out of proportion. The mutations follow from their numbers alone:
// DUSTING_FUZZ=100000 mocha ... runs so many for each reader, and a failure names its number.
import { expect } from 'chai';
import { encode } from 'fast-png';
import jpeg from 'jpeg-js';
import { writeArrayBuffer } from 'geotiff';
import { InputError, PLAIN_SPACE, readExr, readExrHeader, readTexture, writeExr } from '@dusting/core/formats';
import type { Picture } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';
import { readdirSync, readFileSync } from 'node:fs';
import { inflateSync } from 'node:zlib';

const COUNT = Number(process.env.DUSTING_FUZZ ?? 600);
const [width, height] = [23, 19];
const wave = (i: number) => 0.5 + 0.5 * Math.sin(i / 11);
const frame = { x: -2, y: 5, width, height };
const picture: Picture = {
  width,
  height,
  dataWindow: frame,
  displayWindow: { x: 0, y: 0, width: 40, height: 40 },
  channels: ['A', 'B', 'G', 'R', 'depth.Z'].map((name, k) => ({ name, type: k < 4 ? 'half' : 'float', data: Float32Array.from({ length: width * height }, (_, i) => wave(i + k)) })), // prettier-ignore
  metadata: { note: 'x' },
};
const bytes8 = Uint8Array.from({ length: width * height * 3 }, (_, i) => 255 * wave(i));
const hdr = () => {
  const head = new TextEncoder().encode(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${height} +X ${width}\n`);
  const rows = Array.from({ length: height }, (_, y) => [2, 2, 0, width, ...[0, 1, 2, 3].flatMap((k) => [128 + 5, 40 * k + y, width - 5, ...Array.from({ length: width - 5 }, (_, x) => (x * 7 + k) & 255)])]); // prettier-ignore
  return Uint8Array.from([...head, ...rows.flat()]);
};
const samples = new URL('samples/', import.meta.url);
/** Small files of every packed form, written by the tools of the format (samples/README.md). */
const packed = readdirSync(samples).filter((name) => name.endsWith('.exr'));

const exr = (bytes: Uint8Array, name: string) => {
  readExrHeader(bytes, name);
  readExr(bytes, name);
};
/** One channel alone, with the engine's inflate, as the server reads large frames. */
const layerOfExr = (bytes: Uint8Array, name: string) =>
  void readExr(bytes, name, {
    channels: (channel) => channel === 'G',
    rows: { y: 9, height: 6 },
    inflate: (deflated, length) => inflateSync(deflated, { maxOutputLength: length }),
  });
const texture = (bytes: Uint8Array, name: string) => void readTexture(bytes, name, PLAIN_SPACE);
const READERS: [string, Uint8Array, (bytes: Uint8Array, name: string) => void][] = [
  ['ours.exr', writeExr(picture), exr],
  ['layer.exr', writeExr(picture), layerOfExr],
  ...packed.map((name): [string, Uint8Array, typeof exr] => [name, readFileSync(new URL(name, samples)), exr]),
  ['sky.hdr', hdr(), texture],
  ['label.png', encode({ width, height, data: bytes8, channels: 3, depth: 8 }), texture],
  ['label.tif', new Uint8Array(writeArrayBuffer(bytes8 as never, { width, height, SamplesPerPixel: [3], PhotometricInterpretation: 2 } as never) as ArrayBuffer), texture],
  ['label.jpg', new Uint8Array(jpeg.encode({ width, height, data: new Uint8Array(width * height * 4).fill(99) }, 80).data), texture],
]; // prettier-ignore

/** Bytes changed, parts cut out, doubled or zeroed, numbers put to their ends: decided by a number alone. */
function mutate(source: Uint8Array, seed: number): Uint8Array {
  let n = 0;
  const random = (below: number) => Math.floor(hashUnit(Math.imul(seed, 64) + n++) * below);
  let bytes = source.slice();
  for (let k = 1 + random(4); k > 0; k--) {
    // damage at the head tells more
    const at = random(random(2) ? bytes.length : Math.min(bytes.length, 400));
    const kind = random(6);
    if (kind < 2) bytes[at] = random(256);
    else if (kind === 2) bytes[at] ^= 1 << random(8);
    else if (kind === 3)
      new DataView(bytes.buffer).setInt32(Math.min(at, bytes.length - 4), [-1, 0x7fffffff, -0x80000000, 0, 65535, 1][random(6)], random(2) === 0); // prettier-ignore
    else if (kind === 4) bytes = bytes.slice(0, Math.max(8, at));
    else bytes.copyWithin(at, random(bytes.length), random(bytes.length));
  }
  return bytes;
}

describe('damaged pictures', () => {
  for (const [name, source, read] of READERS)
    it(`${name}: ${COUNT} mutations`, function () {
      this.timeout(Math.max(60_000, COUNT * 30));
      read(source, name); // whole, it is read
      let refused = 0;
      for (let seed = 1; seed <= COUNT; seed++)
        try {
          read(mutate(source, seed), name);
        } catch (error) {
          refused++;
          if (!(error instanceof InputError) || !error.place.startsWith(name))
            throw new Error(`mutation ${seed} of ${name}: ${(error as Error).stack}`, { cause: error });
        }
      expect(refused).to.be.above(COUNT / 20);
    });

  it('small files that claim to be large are refused before anything is set aside for them', () => {
    const large = 16_000;
    const small = writeExr({ ...picture, channels: picture.channels.slice(0, 1) }, { compression: 'NONE' });
    const view = new DataView(small.buffer);
    const window = Buffer.from(small).indexOf('dataWindow\0box2i\0') + 17 + 4;
    view.setInt32(window + 8, large / 2, true);
    expect(() => readExr(small, 'big.exr')).to.throw(InputError, /big\.exr|cut off/);
    const tiff = READERS.find(([name]) => name === 'label.tif')![1].slice();
    const tags = new DataView(tiff.buffer);
    const little = tiff[0] === 0x49;
    const start = tags.getUint32(4, little);
    for (let i = 0; i < tags.getUint16(start, little); i++) {
      const at = start + 2 + i * 12;
      const tag = tags.getUint16(at, little);
      if (tag === 256 || tag === 257) {
        tags.setUint16(at + 2, 4, little);
        tags.setUint32(at + 8, 8000, little);
      }
    }
    expect(() => readTexture(tiff, 'big.tif', PLAIN_SPACE)).to.throw(InputError, /cut off/);
    const sky = new TextEncoder().encode('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 8000 +X 8000\n');
    expect(() => readTexture(sky, 'big.hdr', PLAIN_SPACE)).to.throw(InputError, /cut off/);
    const png = READERS.find(([name]) => name === 'label.png')![1].slice();
    const head = new DataView(png.buffer);
    head.setUint32(16, 11_000);
    head.setUint32(20, 11_000);
    expect(() => readTexture(png, 'big.png', PLAIN_SPACE)).to.throw(InputError);
  });
});
