// The Radiance file format reference; three's HDR loader reads the same files (it divides mantissas by 255, not 256).
import { expect } from 'chai';
import { FloatType } from 'three';
import { HDRLoader } from 'three/examples/jsm/loaders/HDRLoader.js';
import { InputError, PLAIN_SPACE, readTexture, writeHdr } from '@dusting/core/formats';
import { hashUnit } from '@dusting/core/math';

const WIDTH = 40;
const HEIGHT = 6;
const texel = (x: number, y: number) => [(x * 5) % 256, x < 20 ? 70 : (x * 31 + y) % 256, y * 40, 120 + ((x + y) % 16)];

/** A file whose rows are packed in runs, as flat pixels, or with the older runs of whole pixels. */
function write(kind: 'packed' | 'flat' | 'old', header = ''): Uint8Array {
  const out: number[] = [];
  for (let y = 0; y < HEIGHT; y++) {
    const row = Array.from({ length: WIDTH }, (_, x) => texel(x, y));
    if (kind === 'flat') out.push(...row.flat());
    else if (kind === 'old') out.push(...row[0], 1, 1, 1, WIDTH - 1);
    else {
      out.push(2, 2, 0, WIDTH);
      for (let k = 0; k < 4; k++)
        for (let x = 0; x < WIDTH;) {
          let run = 1;
          while (x + run < WIDTH && run < 127 && row[x + run][k] === row[x][k]) run++;
          if (run > 2) out.push(128 + run, row[x][k]);
          else out.push(run, ...row.slice(x, x + run).map((p) => p[k]));
          x += run;
        }
    }
  }
  const text = `#?RADIANCE\n${header}FORMAT=32-bit_rle_rgbe\n\n-Y ${HEIGHT} +X ${WIDTH}\n`;
  return Uint8Array.from([...text].map((c) => c.charCodeAt(0)).concat(out));
}

const linear = PLAIN_SPACE;
const srgb = { ...PLAIN_SPACE, encoding: 'srgb' as const };

describe('Radiance HDR', () => {
  it('packed and flat rows hold the same values: mantissa times 2^(exponent - 136)', () => {
    const [packed, flat] = (['packed', 'flat'] as const).map((kind) => readTexture(write(kind), 'sky.hdr', srgb));
    expect(packed.texels).to.deep.equal(flat.texels);
    const [r, g, b, e] = texel(33, 4);
    const at = (4 * WIDTH + 33) * 4;
    expect([...packed.texels.slice(at, at + 4)]).to.deep.equal([r, g, b].map((m) => m * 2 ** (e - 136)).concat(1));
  });

  it('an independent loader reads the same picture', () => {
    const bytes = write('packed');
    const theirs = new HDRLoader().setDataType(FloatType).parse(bytes.buffer as ArrayBuffer)!;
    const ours = readTexture(bytes, 'sky.hdr', linear).texels;
    expect([theirs.width, theirs.height]).to.deep.equal([WIDTH, HEIGHT]);
    for (let i = 0; i < ours.length; i++)
      if (i % 4 < 3) expect(ours[i]).to.be.closeTo((Number(theirs.data![i]) * 255) / 256, 1e-6 * (1 + ours[i]));
  });

  it('what is written is read by an independent loader, within half a step of a mantissa of 8 bits', () => {
    for (const [width, height] of [
      [40, 6],
      [5, 3],
      [300, 2],
    ] as const) {
      const value = (i: number) => (i % 7 === 0 ? 0.25 : 100 * hashUnit(i) ** 8);
      const pixels = Float32Array.from({ length: width * height * 3 }, (_, i) => value(i));
      const bytes = writeHdr(width, height, pixels);
      const theirs = new HDRLoader().setDataType(FloatType).parse(bytes.slice().buffer)!;
      expect([theirs.width, theirs.height]).to.deep.equal([width, height]);
      for (let i = 0; i < width * height; i++) {
        const most = Math.max(...pixels.subarray(i * 3, i * 3 + 3));
        for (let k = 0; k < 3; k++)
          expect((Number(theirs.data![i * 4 + k]) * 255) / 256).to.be.closeTo(pixels[i * 3 + k], most / 128 + 1e-30);
      }
    }
    const even = writeHdr(200, 4, new Float32Array(2400).fill(0.5));
    expect(even.length, 'runs are packed').to.be.below(4 * 4 * 8 + 80);
    expect(readTexture(writeHdr(2, 1, new Float32Array([NaN, -1, 0, 0, 0, 0])), 'a.hdr', linear).texels[0]).to.equal(0);
  });

  it('older runs repeat the last pixel, and an exposure is divided out', () => {
    const old = readTexture(write('old', 'EXPOSURE=4\n'), 'sky.hdr', linear).texels;
    const [, g, , e] = texel(0, 2);
    for (const x of [0, 17, WIDTH - 1]) expect(old[(2 * WIDTH + x) * 4 + 1]).to.equal((g * 2 ** (e - 136)) / 4);
  });

  it('damaged files are refused with their name: cut off at every length, and 3000 with changed bytes', () => {
    const bytes = write('packed');
    const refused = (changed: Uint8Array) => {
      try {
        readTexture(changed, 'sky.hdr', linear);
        return false;
      } catch (error) {
        if (!(error instanceof InputError)) throw error;
        expect(error.sentence).to.contain('sky.hdr');
        return true;
      }
    };
    for (let length = 2; length < bytes.length; length++) expect(refused(bytes.subarray(0, length))).to.equal(true);
    for (let i = 0; i < 3000; i++) {
      const changed = bytes.slice();
      for (let k = 0; k < 3; k++)
        changed[2 + Math.floor(hashUnit(i * 6 + k) * (bytes.length - 2))] = Math.floor(256 * hashUnit(i * 6 + 3 + k));
      refused(changed);
    }
    const huge = String.fromCharCode(...bytes).replace('-Y 6 +X 40', '-Y 99999 +X 99999');
    expect(refused(Uint8Array.from([...huge].map((c) => c.charCodeAt(0))))).to.equal(true);
  });
});
