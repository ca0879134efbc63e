// The tools of the format read our files, and what they write is read as they read it (Debian's package openexr);
// environment maps of @pmndrs/assets against the loader of three.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { FloatType } from 'three';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { fromHalf, InputError, readExr, readExrHeader, toHalf, writeExr } from '@dusting/core/formats';
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
  for (const compression of ['NONE', 'ZIPS', 'ZIP', 'PIZ'] as const)
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

  const smooth = (seed: number, scale = 1) => Float32Array.from({ length: 150 * 140 }, (_, i) => scale * (1.1 + Math.sin((i % 150) / 9 + seed) * Math.cos(i / 1500) + 0.05 * hashUnit(i + seed))); // prettier-ignore
  const large: Picture = {
    width: 150,
    height: 140,
    dataWindow: { x: 0, y: 0, width: 150, height: 140 },
    displayWindow: { x: 0, y: 0, width: 150, height: 140 },
    channels: [
      ...['R', 'G', 'B', 'A'].map((name, k) => ({ name, type: 'half' as const, data: smooth(k) })),
      { name: 'depth.Z', type: 'float', data: smooth(7, 900) },
      { name: 'id.U', type: 'uint', data: smooth(9, 500).map(Math.floor) },
      { name: 'flat.Y', type: 'half', data: new Float32Array(150 * 140).fill(0.25) },
    ],
    metadata: {},
  };
  it('PIZ: the tools of the format read our files, with few and with many different numbers', function () {
    if (spawnSync('exrmaketiled', ['-h']).error) this.skip();
    const folder = mkdtempSync(join(tmpdir(), 'exr-'));
    const [ours, plain] = ['ours', 'plain'].map((n) => join(folder, `${n}.exr`));
    // whole numbers below 2^24 by chance hold nearly all 16-bit words: the wavelet counts modulo 2^16 then
    const chance = Float32Array.from({ length: 150 * 140 }, (_, i) => Math.floor(hashUnit(i) * 2 ** 24));
    const wild = ['a.U', 'b.U', 'c.U', 'd.U'].map((name, k) => ({ name, type: 'uint' as const, data: chance.map((v) => (v * (2 * k + 1)) % 2 ** 24) })); // prettier-ignore
    for (const channels of [large.channels, wild, large.channels.slice(6)]) {
      writeFileSync(ours, writeExr({ ...large, channels }, { compression: 'PIZ' }));
      const made = spawnSync('exrmaketiled', ['-z', 'none', ours, plain]);
      expect(made.status, String(made.stderr)).to.equal(0);
      const theirs = readExr(readFileSync(plain));
      for (const { name, type, data } of channels) {
        const read = theirs.channels.find((c) => c.name === name)!.data;
        expect(
          read.every((v, i) => v === (type === 'half' ? fromHalf(toHalf(data[i])) : data[i])),
          name,
        ).to.equal(true);
      }
    }
    const size = (compression: 'PIZ' | 'NONE') => writeExr(large, { compression }).length;
    expect(size('PIZ')).to.be.below(0.8 * size('NONE'));
  });

  it('some channels and rows alone are what the whole picture has there, in scanlines and in tiles', function () {
    if (spawnSync('exrmaketiled', ['-h']).error) this.skip();
    const folder = mkdtempSync(join(tmpdir(), 'exr-'));
    const [plain, tiled] = ['plain', 'tiled'].map((n) => join(folder, `${n}.exr`));
    writeFileSync(plain, writeExr(large));
    spawnSync('exrmaketiled', ['-t', '40', '64', plain, tiled]);
    for (const file of [plain, tiled]) {
      const part = readExr(readFileSync(file), file, { channels: (n) => n === 'G' || n === 'id.U', rows: { y: 37, height: 50 } }); // prettier-ignore
      expect(part.channels.map((c) => c.name)).to.deep.equal(['G', 'id.U']);
      expect(part.dataWindow).to.deep.equal({ x: 0, y: 37, width: 150, height: 50 });
      const whole = large.channels.find((c) => c.name === 'id.U')!.data;
      expect([...part.channels[1].data]).to.deep.equal([...whole.slice(37 * 150, 87 * 150)]);
    }
    expect(() => readExr(readFileSync(plain), 'a.exr', { rows: { y: 140, height: 1 } })).to.throw(
      InputError,
      'outside',
    );
  });

  const lossless = ['none', 'rle', 'zip', 'piz'];
  for (const form of [...lossless, 'pxr24', 'b44', 'b44a', 'dwaa', 'dwab'])
    it(`${form}, in tiles: read as the format's own library reads it`, function () {
      if (spawnSync('exrmaketiled', ['-h']).error) this.skip();
      const folder = mkdtempSync(join(tmpdir(), 'exr-'));
      const [source, packed, plain] = ['in', 'packed', 'plain'].map((n) => join(folder, `${n}.exr`));
      writeFileSync(source, writeExr(large));
      for (const [from, to, z] of [[source, packed, form], [packed, plain, 'none']]) {
        const made = spawnSync('exrmaketiled', ['-z', z, '-t', '40', '64', from, to]);
        expect(made.status, String(made.stderr)).to.equal(0);
      } // prettier-ignore
      const [ours, theirs] = [readExr(readFileSync(packed)), readExr(readFileSync(plain))];
      expect(readExrHeader(readFileSync(packed))).to.include({ tiled: true, compression: form.toUpperCase() });
      for (const { name, type, data } of theirs.channels) {
        const mine = ours.channels.find((c) => c.name === name)!.data;
        const given = large.channels.find((c) => c.name === name)!.data;
        let worst = 0;
        for (let i = 0; i < data.length; i++) {
          if (lossless.includes(form)) expect(mine[i]).to.equal(type === 'half' ? fromHalf(toHalf(given[i])) : given[i]); // prettier-ignore
          worst = Math.max(worst, Math.abs(mine[i] - data[i]) / Math.max(1e-3, Math.abs(data[i])));
        }
        // cosine transforms are summed in another order: the last bit of a half may differ before it is raised to 2.2
        expect(worst, name).to.be.at.most(form.startsWith('dwa') ? 2 ** -8 : 0);
      }
    });

  it('levels of detail are passed over, and several parts are read together', function () {
    if (spawnSync('exrmultipart', ['-h']).error) this.skip();
    const folder = mkdtempSync(join(tmpdir(), 'exr-'));
    const file = (name: string) => join(folder, `${name}.exr`);
    writeFileSync(file('a'), writeExr(large));
    spawnSync('exrmaketiled', ['-m', '-z', 'piz', file('a'), file('mip')]);
    const mip = readExr(readFileSync(file('mip')));
    expect([...mip.channels.find((c) => c.name === 'id.U')!.data]).to.deep.equal([...large.channels[5].data]);
    writeFileSync(file('b'), writeExr({ ...large, channels: large.channels.slice(4, 5) }));
    const made = spawnSync('exrmultipart', ['-combine', '-i', `${file('a')}:0`, `${file('b')}:0`, '-o', file('both')]);
    expect(made.status, String(made.stderr)).to.equal(0);
    const both = readExr(readFileSync(file('both')));
    expect(readExrHeader(readFileSync(file('both'))).parts).to.equal(2);
    const depths = both.channels.filter((c) => c.name.endsWith('depth.Z'));
    expect(depths).to.have.length(2);
    for (const { data } of depths) expect([...data]).to.deep.equal([...large.channels[4].data]);
  });

  it('environment maps that others wrote (DWAB): as an independent loader reads them', async () => {
    for (const name of ['studio', 'dawn']) {
      const { default: text } = (await import(`@pmndrs/assets/hdri/${name}.exr.js`)) as { default: string };
      const bytes = new Uint8Array(Buffer.from(text.slice(text.indexOf(',') + 1), 'base64'));
      const loader = new EXRLoader().setDataType(FloatType);
      const theirs = loader.parse(bytes.buffer) as unknown as { width: number; height: number; data: Float32Array };
      const ours = readExr(bytes, name);
      expect([ours.width, ours.height]).to.deep.equal([theirs.width, theirs.height]);
      const [r, g, b] = ['R', 'G', 'B'].map((c) => ours.channels.find((k) => k.name === c)!.data);
      let worst = 0;
      for (let y = 0; y < ours.height; y++)
        for (let x = 0; x < ours.width; x++) {
          const i = y * ours.width + x;
          const at = ((ours.height - 1 - y) * ours.width + x) * 4; // theirs begins at the bottom
          [r, g, b].forEach((data, k) => (worst = Math.max(worst, Math.abs(data[i] - theirs.data[at + k]) / (0.01 + Math.abs(data[i]))))); // prettier-ignore
        }
      expect(worst).to.be.below(0.02);
    }
  });

  it('channels that are sampled less often are repeated', () => {
    // luminance for each pixel, two differences for every second one of every second line, written by hand
    const [w, h] = [6, 4];
    const bytes = writeExr({ width: w, height: h, dataWindow: { x: 0, y: 0, width: w, height: h }, displayWindow: { x: 0, y: 0, width: w, height: h }, channels: ['BY', 'RY', 'Y'].map((name, k) => ({ name, type: 'float' as const, data: Float32Array.from({ length: w * h }, (_, i) => i + 100 * k) })), metadata: {} }, { compression: 'NONE' }); // prettier-ignore
    const view = new DataView(bytes.buffer);
    const list = Buffer.from(bytes).indexOf('chlist\0') + 7 + 4;
    for (const at of [list + 3, list + 3 + 19]) [view.setInt32(at + 8, 2, true), view.setInt32(at + 12, 2, true)];
    const head = Number(view.getBigUint64(bytes.length - (8 + w * 12) * h - 8 * h, true));
    const lines: number[] = [];
    let at = head;
    const out = new DataView(new ArrayBuffer(bytes.length));
    new Uint8Array(out.buffer).set(bytes.subarray(0, head));
    for (let y = 0; y < h; y++) {
      lines.push(at);
      const numbers =
        y % 2 === 0 ? [...[0, 1, 2].map((i) => 50 + y * 10 + i), ...[0, 1, 2].map((i) => 70 + y * 10 + i)] : [];
      numbers.push(...Array.from({ length: w }, (_, i) => y * w + i));
      out.setInt32(at, y, true);
      out.setInt32(at + 4, numbers.length * 4, true);
      numbers.forEach((v, i) => out.setFloat32(at + 8 + i * 4, v, true));
      at += 8 + numbers.length * 4;
    }
    lines.forEach((place, y) => out.setBigUint64(head - 8 * h + y * 8, BigInt(place), true));
    const { channels } = readExr(new Uint8Array(out.buffer, 0, at));
    const of = (name: string) => [...channels.find((c) => c.name === name)!.data];
    expect(of('Y')).to.deep.equal(Array.from({ length: w * h }, (_, i) => i));
    expect(of('BY').slice(0, 12)).to.deep.equal([50, 50, 51, 51, 52, 52, 50, 50, 51, 51, 52, 52]);
    expect(of('RY').slice(18)).to.deep.equal([90, 90, 91, 91, 92, 92]);
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
