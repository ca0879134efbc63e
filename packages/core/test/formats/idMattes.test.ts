// The public specification of hashed-ID mattes 1.2; vectors of MurmurHash3_x86_32 with seed 0 from memory.
import { expect } from 'chai';
import { idOfName, matteOf, murmurHash3, namesAt, readExr, readIdMattes, writeExr } from '@dusting/core/formats';
import type { Picture } from '@dusting/core/image';
import { makeIdMattes, packIdMattes } from '../mattes.ts';

const bitsOf = (id: number) => new Uint32Array(Float32Array.of(id).buffer)[0];

describe('ID mattes', () => {
  it('names are hashed by MurmurHash3', () => {
    expect(murmurHash3('')).to.equal(0);
    expect(murmurHash3('test').toString(16)).to.equal('ba6bd213');
    expect(murmurHash3('Hello, world!').toString(16)).to.equal('c0363e43');
    expect(murmurHash3('The quick brown fox jumps over the lazy dog').toString(16)).to.equal('2e4ff723');
  });

  it('an id is the bits of its hash, and always a plain number', () => {
    expect(bitsOf(idOfName('test'))).to.equal(0xba6bd213);
    let turned = 0;
    for (let i = 0; i < 20000; i++) {
      const hash = murmurHash3(`jar ${i}`);
      const bits = bitsOf(idOfName(`jar ${i}`));
      const exponent = (bits >>> 23) & 255;
      expect(exponent).to.be.within(1, 254);
      if (bits === hash) continue;
      turned++;
      expect((bits ^ hash) >>> 0).to.equal(1 << 23);
    }
    expect(turned / 20000, 'two exponents of 256').to.be.within(0.004, 0.012);
  });

  const mattes = makeIdMattes('objects', ['sill', 'jar-1', 'Körbchen'], [
    { number: Int32Array.of(0, 1, 2, -1), coverage: Float32Array.of(0.75, 1, 0.5, 0) },
    { number: Int32Array.of(1, -1, 0, -1), coverage: Float32Array.of(0.25, 0, 0.25, 0) },
    { number: Int32Array.of(-1, -1, 1, -1), coverage: Float32Array.of(0, 0, 0.125, 0) },
  ]); // prettier-ignore
  const window = { x: 0, y: 0, width: 4, height: 1 };
  const picture = (): Picture => ({ width: 4, height: 1, dataWindow: window, displayWindow: window, ...packIdMattes(mattes) }); // prettier-ignore

  it('go through OpenEXR and come back by name', () => {
    const { channels, metadata } = picture();
    expect(channels.map((c) => c.name)).to.deep.equal(['objects00.R', 'objects00.G', 'objects00.B', 'objects00.A', 'objects01.R', 'objects01.G']); // prettier-ignore
    expect(Object.keys(metadata).every((k) => /^cryptomatte\/[0-9a-f]{7}\/(name|hash|conversion|manifest)$/.test(k))).to.equal(true); // prettier-ignore
    const [read] = readIdMattes(readExr(writeExr(picture())));
    expect(read.name).to.equal('objects');
    expect([...matteOf(read, 'jar-1')]).to.deep.equal([0.25, 1, 0.125, 0]);
    expect([...matteOf(read, 'Körbchen')]).to.deep.equal([0, 0, 0.5, 0]);
    expect([...matteOf(read, 'lantern')]).to.deep.equal([0, 0, 0, 0]);
    expect(namesAt(read, 2)).to.deep.equal([
      { name: 'Körbchen', share: 0.5 },
      { name: 'sill', share: 0.25 },
      { name: 'jar-1', share: 0.125 },
    ]);
    expect(namesAt(read, 3)).to.deep.equal([]);
  });

  it('without a list of names, or with a broken one, there are none', () => {
    for (const text of [undefined, '{', '[]', 'null', '{"jar":7,"sill":"xyz"}']) {
      const broken = picture();
      const key = Object.keys(broken.metadata).find((k) => k.endsWith('manifest'))!;
      if (text === undefined) delete broken.metadata[key];
      else broken.metadata[key] = text;
      expect(readIdMattes(broken), text).to.deep.equal([]);
    }
  });
});
