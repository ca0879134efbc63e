// Files of several parts: the format's own tools take them apart (Debian's package openexr), and of a file of which only the ranges
// that are named for some layers or rows are there, these are read as from the whole.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { exrRanges, InputError, readExr, readExrHeader, writeExr, type ExrWanted } from '@dusting/core/formats'; // prettier-ignore
import type { Picture } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';
import { streamed } from '../streamed.ts';

const [WIDTH, HEIGHT] = [90, 70];
const dataWindow = { x: 5, y: 9, width: WIDTH, height: HEIGHT };
const half = (seed: number) => Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => Math.floor(hashUnit(i + 991 * seed) * 2048) / 64); // prettier-ignore
const names = ['R', 'error.directDiffuse.Y', 'G', 'error.Y', 'B', 'albedo.R', 'zones.Y', 'a layer with a name of more than 31 letters.X']; // prettier-ignore
const picture: Picture = {
  width: WIDTH,
  height: HEIGHT,
  dataWindow,
  displayWindow: { x: 0, y: 0, width: 128, height: 96 },
  channels: names.map((name, k) => ({ name, type: k % 3 === 1 ? 'float' : 'half', data: half(k) })),
  metadata: { note: 'Späte Ernte' },
};

const expectAlike = (read: Picture, wanted: Picture) => {
  expect(read.channels.map(({ name }) => name)).to.have.members(wanted.channels.map(({ name }) => name));
  for (const { data, name } of read.channels)
    expect(Buffer.compare(Buffer.from(data.buffer), Buffer.from(wanted.channels.find((c) => c.name === name)!.data.buffer)), name).to.equal(0); // prettier-ignore
};

/** A file of which only its head and what is wanted are there; the rest is noise. */
function sparse(file: Uint8Array, wanted: ExrWanted, head = 4096): { bytes: Uint8Array; taken: number } {
  const ranges = exrRanges(file.subarray(0, head), file.length, wanted)!;
  const bytes = Uint8Array.from(file, (_, i) => (i < head ? file[i] : 90 + (i % 7)));
  for (const [start, end] of ranges) bytes.set(file.subarray(start, end), start);
  return { bytes, taken: ranges.reduce((sum, [start, end]) => sum + end - start, 0) };
}

describe('OpenEXR of several parts', () => {
  it('has a part for each kind of layer, the main one first, and is read as one picture', async () => {
    const file = await streamed(picture);
    const header = readExrHeader(file);
    expect(header.parts).to.equal(5);
    expect(header.channels.slice(0, 3).map(({ name }) => name)).to.deep.equal(['B', 'G', 'R']);
    const read = readExr(file);
    expectAlike(read, picture);
    expect([read.dataWindow, read.displayWindow, read.metadata.note]).to.deep.equal([dataWindow, picture.displayWindow, 'Späte Ernte']); // prettier-ignore
    const alone = await streamed({ ...picture, channels: picture.channels.slice(0, 1) });
    expect(readExrHeader(alone).parts, 'one layer is a plain file').to.equal(1);
    expect(Buffer.from(alone).equals(writeExr({ ...picture, channels: picture.channels.slice(0, 1) }))).to.equal(true);
  });

  it('is taken apart by the tools of the format, and each part unpacked by their library', async function () {
    if (spawnSync('exrmultipart', ['-h']).error) this.skip();
    const folder = mkdtempSync(join(tmpdir(), 'exr-'));
    const ours = join(folder, 'ours.exr');
    writeFileSync(ours, await streamed(picture));
    const { status, stderr } = spawnSync('exrmultipart', ['-separate', '-i', ours, '-o', join(folder, 'part')]);
    expect(status, String(stderr)).to.equal(0);
    const found: string[] = [];
    for (let p = 1; p <= 5; p++) {
      const [part, plain] = [join(folder, `part.${p}.exr`), join(folder, `plain.${p}.exr`)];
      const made = spawnSync('exrmaketiled', ['-z', 'none', part, plain]);
      expect(made.status, String(made.stderr)).to.equal(0);
      for (const { data, name } of readExr(readFileSync(plain)).channels) {
        expect([...data], name).to.deep.equal([...picture.channels.find((c) => c.name === name)!.data]);
        found.push(name);
      }
    }
    expect(found).to.have.members(names);
  });

  it('of a layer or some rows nothing is needed but their ranges, and these are few', async () => {
    // parts far enough apart that their ranges are not taken together
    const wide = { ...picture, width: WIDTH * 8, dataWindow: { ...dataWindow, width: WIDTH * 8 }, channels: picture.channels.map((c, k) => ({ ...c, data: Float32Array.from({ length: WIDTH * 8 * HEIGHT }, (_, i) => Math.floor(hashUnit(i + 31 * k) * 2048) / 64) })) }; // prettier-ignore
    const file = await streamed(wide);
    for (const wanted of [
      { channels: (name: string) => !name.includes('.') },
      { channels: (name: string) => name === 'zones.Y' },
      { rows: { y: 30, height: 3 } },
      { channels: (name: string) => name.startsWith('error'), rows: { y: 9, height: 1 } },
    ]) {
      const { bytes, taken } = sparse(file, wanted);
      expect(taken).to.be.below(0.45 * file.length);
      expectAlike(readExr(bytes, 'a.exr', wanted), readExr(file, 'a.exr', wanted));
    }
    expect(() => readExr(sparse(file, { channels: (name) => name === 'zones.Y' }).bytes), 'the rest is not there').to.throw(InputError); // prettier-ignore
  });

  it('files whose parts lie among each other, and those of one part, are read by ranges as well', function () {
    if (spawnSync('exrmultipart', ['-h']).error) this.skip();
    const folder = mkdtempSync(join(tmpdir(), 'exr-'));
    const [a, b, both] = ['a', 'b', 'both'].map((name) => join(folder, `${name}.exr`));
    writeFileSync(a, writeExr({ ...picture, channels: picture.channels.slice(5, 6) }));
    writeFileSync(b, writeExr({ ...picture, channels: picture.channels.slice(6, 7) }));
    const made = spawnSync('exrmultipart', ['-combine', '-i', `${a}:0`, `${b}:0`, '-o', both]);
    expect(made.status, String(made.stderr)).to.equal(0);
    for (const path of [a, both])
      for (const wanted of [
        { channels: (name: string) => name.endsWith('albedo.R') },
        { rows: { y: 70, height: 9 } },
      ]) {
        const file = readFileSync(path);
        expectAlike(readExr(sparse(file, wanted).bytes, path, wanted), readExr(file, path, wanted));
      }
  });

  it('a head that is not all there is asked for again, and one that is damaged is refused', async () => {
    const file = await streamed(picture);
    expect(exrRanges(file.subarray(0, 300), file.length, {})).to.equal(null);
    expect(() => exrRanges(Uint8Array.of(1, 2, 3), 3, {})).to.throw(InputError, 'not an OpenEXR');
  });
});
