// The tools of the format read our files (Debian's package openexr, where it is installed).
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { fromHalf, InputError, readExr, toHalf, writeExr } from '@dusting/core/formats';
import type { Picture } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';

const region = { x: 3, y: 2, width: 37, height: 41 };
const plane = (seed: number, scale = 1) =>
  Float32Array.from({ length: 37 * 41 }, (_, i) => scale * (hashUnit(i * 7 + seed) - 0.3));
const picture: Picture = {
  width: 37,
  height: 41,
  dataWindow: region,
  displayWindow: { x: 0, y: 0, width: 64, height: 64 },
  channels: [
    { name: 'R', type: 'float', data: plane(1) },
    { name: 'transmission.G', type: 'half', data: plane(2, 40) },
    { name: 'object.id', type: 'uint', data: plane(3, 1000).map((v) => Math.abs(Math.round(v))) },
    { name: 'a layer with a name of more than 31 letters.B', type: 'float', data: plane(4) },
  ],
  metadata: { note: 'Späte Ernte' },
};

describe('OpenEXR', () => {
  for (const compression of ['NONE', 'ZIP'] as const)
    it(`${compression}: what was written is read, to the last bit of its type`, () => {
      const back = readExr(writeExr(picture, { compression }));
      expect(back.dataWindow).to.deep.equal(region);
      expect(back.displayWindow).to.deep.equal(picture.displayWindow);
      expect(back.metadata.note).to.equal('Späte Ernte');
      for (const { name, type, data } of picture.channels) {
        const read = back.channels.find((c) => c.name === name)!;
        expect(read.type).to.equal(type);
        data.forEach((v, i) => expect(read.data[i]).to.equal(type === 'half' ? fromHalf(toHalf(v)) : v));
      }
    });

  it('the tools of the format read our files and agree on the header', function () {
    if (spawnSync('exrheader', ['-h']).error) this.skip();
    const file = join(mkdtempSync(join(tmpdir(), 'exr-')), 'ours.exr');
    writeFileSync(file, writeExr(picture));
    const { stdout, status } = spawnSync('exrheader', [file], { encoding: 'utf8' });
    expect(status).to.equal(0);
    expect(stdout)
      .to.match(/compression.*: zip/)
      .and.to.contain('(3 2) - (39 42)');
    expect(stdout)
      .to.contain('transmission.G, 16-bit floating-point')
      .and.to.contain('object.id, 32-bit unsigned integer');
  });

  it("the format's own library reads our pixels: it makes tiles of them, which are refused by name here", function () {
    if (spawnSync('exrmaketiled', ['-h']).error) this.skip();
    const folder = mkdtempSync(join(tmpdir(), 'exr-'));
    const frame = { x: 0, y: 0, width: 37, height: 41 };
    const plain = { ...picture, dataWindow: frame, displayWindow: frame, channels: picture.channels.slice(0, 2) };
    writeFileSync(join(folder, 'in.exr'), writeExr(plain));
    const made = spawnSync('exrmaketiled', ['-z', 'zip', join(folder, 'in.exr'), join(folder, 'tiled.exr')]);
    expect(made.status, String(made.stderr)).to.equal(0);
    expect(() => readExr(readFileSync(join(folder, 'tiled.exr')))).to.throw(InputError, 'tiled');
  });

  it('refuses damaged files with their reason', () => {
    const bytes = writeExr(picture);
    expect(() => readExr(new Uint8Array([1, 2, 3]))).to.throw(InputError, 'not an OpenEXR file');
    expect(() => readExr(bytes.subarray(0, 60))).to.throw(InputError, 'cut off');
    expect(() => readExr(bytes.subarray(0, bytes.length - 900))).to.throw(InputError, /cut off|missing|damaged/);
  });

  it('halves: IEEE 754 corner cases and the nearest value everywhere', () => {
    expect([0, 1, -2, 65504, 2 ** -24, 2 ** -14].map(toHalf)).to.deep.equal([0, 0x3c00, 0xc000, 0x7bff, 1, 0x0400]);
    expect([1e6, -Infinity, 65520, 65519].map(toHalf)).to.deep.equal([0x7c00, 0xfc00, 0x7c00, 0x7bff]);
    expect(fromHalf(toHalf(NaN))).to.be.NaN;
    for (let h = 0; h < 0x7c00; h++) expect(toHalf(fromHalf(h))).to.equal(h);
    for (let i = 0; i < 20000; i++) {
      const v = Math.fround(Math.exp(20 * hashUnit(i) - 12));
      const h = toHalf(v);
      const gap = Math.abs(fromHalf(h) - v);
      expect(gap).to.be.at.most(
        Math.min(Math.abs(fromHalf(h + 1) - v), Math.abs(fromHalf(Math.max(0, h - 1)) - v)) + 1e-12,
      );
    }
  });
});
