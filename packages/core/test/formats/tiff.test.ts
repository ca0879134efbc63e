// TIFF 6.0 and Technical Note 3. Files are written by an independent library (geotiff) and rewritten with every
// compression by the tools of the format (tiffcp of libtiff); both have to give the same pixels.
import { expect } from 'chai';
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeArrayBuffer } from 'geotiff';
import { InputError, PLAIN_SPACE, readTexture } from '@dusting/core/formats';
import { hashUnit } from '@dusting/core/math';

const [width, height] = [45, 37];
const smooth = (i: number) => 0.5 + 0.4 * Math.sin(i / 97) + 0.1 * hashUnit(i >> 4);
const kinds = {
  '8 bit': { make: (n: number) => Uint8Array.from({ length: n }, (_, i) => Math.round(255 * smooth(i))), top: 255 },
  '16 bit': { make: (n: number) => Uint16Array.from({ length: n }, (_, i) => Math.round(65535 * smooth(i))), top: 65535 },
  float: { make: (n: number) => Float32Array.from({ length: n }, (_, i) => 20 * smooth(i) - 3), top: 1 },
}; // prettier-ignore

const written = (kind: keyof typeof kinds, samples: number, more = {}): { bytes: Uint8Array; values: number[] } => {
  const values = kinds[kind].make(width * height * samples);
  const buffer = writeArrayBuffer(
    values as never,
    {
      width,
      height,
      SamplesPerPixel: [samples],
      PhotometricInterpretation: samples < 3 ? 1 : 2,
      ...more,
    } as never,
  ) as ArrayBuffer;
  return { bytes: new Uint8Array(buffer), values: [...values].map((v) => v / kinds[kind].top) };
};

const compare = (bytes: Uint8Array, values: number[], samples: number) => {
  const { texels, ...size } = readTexture(bytes, 'label.tif', PLAIN_SPACE);
  expect(size).to.deep.equal({ width, height });
  for (let i = 0; i < width * height; i++)
    for (let k = 0; k < 3; k++)
      expect(texels[i * 4 + k]).to.be.closeTo(values[i * samples + (samples < 3 ? 0 : k)], 1e-6);
  return texels;
};

describe('TIFF', () => {
  for (const kind of Object.keys(kinds) as (keyof typeof kinds)[])
    for (const samples of [1, 3, 4])
      it(`${kind}, ${samples} channels: as an independent library wrote it`, () => {
        const { bytes, values } = written(kind, samples, samples === 4 ? { ExtraSamples: [2] } : {});
        const texels = compare(bytes, values, samples);
        if (samples === 4) expect(texels[7]).to.be.closeTo(values[7], 1e-6);
        else expect(texels[7]).to.equal(1);
      });

  const layouts: [string, string[]][] = [
    ['LZW', ['-c', 'lzw']],
    ['LZW with differences', ['-c', 'lzw:2']],
    ['deflate with differences', ['-c', 'zip:2']],
    ['PackBits', ['-c', 'packbits']],
    ['tiles', ['-t', '-w', '16', '-l', '32', '-c', 'zip']],
    ['planes apart', ['-p', 'separate', '-c', 'lzw']],
    ['big endian', ['-B', '-c', 'none']],
    ['strips of 5 rows', ['-r', '5', '-c', 'none']],
  ];
  for (const [name, options] of layouts)
    it(`${name}: as the tools of the format rewrote it, in all depths`, function () {
      if (spawnSync('tiffcp', []).error) return this.skip();
      const folder = mkdtempSync(join(tmpdir(), 'tiff-'));
      try {
        for (const kind of Object.keys(kinds) as (keyof typeof kinds)[]) {
          if (options.includes('separate') && kind !== '8 bit') continue; // the tool takes only those apart
          const { bytes, values } = written(kind, 3);
          writeFileSync(join(folder, 'a.tif'), bytes);
          const predictor = options.map((o) => (kind === 'float' ? o.replace(':2', ':3') : o));
          execFileSync('tiffcp', [...predictor, join(folder, 'a.tif'), join(folder, 'b.tif')], { stdio: 'ignore' });
          compare(readFileSync(join(folder, 'b.tif')), values, 3);
        }
      } finally {
        rmSync(folder, { recursive: true });
      }
    });

  it('damaged files are refused with their name: cut off at every length, and 4000 with changed bytes', () => {
    const { bytes } = written('8 bit', 3);
    const read = (changed: Uint8Array) => {
      try {
        readTexture(changed, 'label.tif', PLAIN_SPACE);
      } catch (error) {
        expect(error).to.be.instanceOf(InputError);
        expect((error as InputError).place).to.equal('label.tif');
      }
    };
    for (let length = 8; length < bytes.length; length += 3)
      expect(() => readTexture(bytes.slice(0, length), 'label.tif', PLAIN_SPACE)).to.throw(InputError);
    for (let i = 0; i < 4000; i++) {
      const changed = bytes.slice();
      for (let k = 0; k < 4; k++) {
        // the directory is where damage tells
        const reach = k < 3 ? 400 : changed.length;
        changed[4 + Math.floor(hashUnit(i * 8 + k) * (reach - 4))] = Math.floor(256 * hashUnit(i * 8 + 4 + k));
      }
      read(changed);
    }
  });
});
