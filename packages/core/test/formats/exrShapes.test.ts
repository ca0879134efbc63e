// Own guarantee: whatever the size, the types and the numbers, what was written is read, in every form that is written.
import { inflateSync } from 'node:zlib';
import { expect } from 'chai';
import { fromHalf, readExr, toHalf, writeExr } from '@dusting/core/formats';
import type { Channel, Picture } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';

const TYPES = ['half', 'float', 'uint'] as const;
const whole = (seed: number, from: number, to: number) => from + Math.floor(hashUnit(seed) * (to - from + 1));
/** Ways that numbers come in renders: noise, nothing, steps, few values, and what is not finite. */
const KINDS: ((i: number, seed: number) => number)[] = [
  (i, seed) => hashUnit(i * 31 + seed) * 4,
  () => 0,
  (i) => Math.floor(i / 7),
  (i, seed) => (hashUnit(i + seed) < 0.5 ? 0.25 : 3),
  (i, seed) => [Infinity, -1, 65504, 1e-7, 0][Math.floor(hashUnit(i * 3 + seed) * 5)],
];

function pictureOf(seed: number): Picture {
  const [width, height] = [whole(seed * 11, 1, 70), whole(seed * 11 + 1, 1, 70)];
  const window = { x: whole(seed * 11 + 2, -40, 40), y: whole(seed * 11 + 3, -40, 40), width, height };
  const channels = Array.from({ length: whole(seed * 11 + 4, 1, 6) }, (_, c): Channel => {
    const type = TYPES[whole(seed * 101 + c, 0, 2)];
    const kind = KINDS[whole(seed * 103 + c, 0, KINDS.length - 1)];
    const value = (i: number) => {
      const v = kind(i, seed * 107 + c);
      if (type === 'uint') return Number.isFinite(v) ? Math.abs(Math.round(v * 1000)) % 2 ** 24 : 2 ** 24 - 1;
      return v;
    };
    return { name: `layer${c}.${'RGBAYZ'[c]}`, type, data: new Float32Array(width * height).map((_, i) => value(i)) };
  });
  return { width, height, dataWindow: window, displayWindow: window, channels, metadata: { seed: String(seed) } };
}

describe('OpenEXR of any shape', () => {
  for (const compression of ['NONE', 'ZIPS', 'ZIP', 'PIZ'] as const)
    it(`${compression}: 60 pictures by chance come back to the last bit`, () => {
      for (let seed = 0; seed < 60; seed++) {
        const picture = pictureOf(seed);
        const back = readExr(writeExr(picture, { compression }), `seed ${seed}`);
        expect(back.dataWindow, `seed ${seed}`).to.deep.equal(picture.dataWindow);
        expect(back.metadata.seed).to.equal(String(seed));
        expect(back.channels).to.have.length(picture.channels.length);
        for (const { name, type, data } of picture.channels) {
          const read = back.channels.find((c) => c.name === name)!;
          expect(read.type).to.equal(type);
          const wrong = data.findIndex((v, i) => !Object.is(read.data[i], type === 'half' ? fromHalf(toHalf(v)) : v));
          expect(wrong, `seed ${seed}, ${name}, first wrong number`).to.equal(-1);
        }
      }
    });

  it('rows and channels by chance are what the whole picture has there', () => {
    for (let seed = 0; seed < 60; seed++) {
      const picture = pictureOf(seed);
      const { dataWindow, width, height, channels } = picture;
      const first = whole(seed * 13, 0, height - 1);
      const count = whole(seed * 13 + 1, 1, height - first);
      const wanted = channels[whole(seed * 13 + 2, 0, channels.length - 1)];
      const compression = (['NONE', 'ZIPS', 'ZIP', 'PIZ'] as const)[seed % 4];
      const part = readExr(writeExr(picture, { compression }), `seed ${seed}`, {
        channels: (name) => name === wanted.name,
        inflate: seed % 8 < 4 ? (packed, length) => inflateSync(packed, { maxOutputLength: length }) : undefined,
        rows: { y: dataWindow.y + first, height: count },
      });
      expect(part.dataWindow).to.deep.equal({ ...dataWindow, y: dataWindow.y + first, height: count });
      expect(part.channels.map((c) => c.name)).to.deep.equal([wanted.name]);
      const own = wanted.data.slice(first * width, (first + count) * width);
      const stored = wanted.type === 'half' ? own.map((v) => fromHalf(toHalf(v))) : own;
      expect([...part.channels[0].data], `seed ${seed}`).to.deep.equal([...stored]);
    }
  });
});
