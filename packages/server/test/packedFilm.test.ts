import { expect } from 'chai';
import { packFilm, unpackFilm } from '../src/store/packedFilm.ts';

describe('films on their way through the database', () => {
  it('come out to the bit, and are smaller where pixels are alike', async () => {
    const data = Float32Array.from({ length: 5000 }, (_, i) => (i % 50 === 0 ? Math.sin(i) : 0));
    data[3] = Infinity;
    data[4] = -0;
    const part = data.subarray(1); // not at the start of its memory
    const packed = await packFilm(part);
    expect(packed.length).to.be.below(part.byteLength / 4);
    expect(Buffer.from((await unpackFilm(packed)).buffer).equals(Buffer.from(part.slice().buffer))).to.equal(true);
  });
});
