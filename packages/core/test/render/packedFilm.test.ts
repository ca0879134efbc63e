// Own guarantee: what is packed comes out as single precision holds it (IEEE 754), to the bit.
import { expect } from 'chai';
import { hashPair, hashUnit } from '@dusting/core/math';
import { FILM, packFilm, unpackNumbers } from '@dusting/core/render';

describe('a packed film', () => {
  const region = { x: 3, y: 5, width: 7, height: 3 };
  const { stride } = FILM;
  const bitsOf = (values: Float32Array) => Array.from(new Uint32Array(values.slice().buffer));

  it('comes out to the bit in single precision: infinities, what is no number, and the last of an odd count', () => {
    const count = region.width * region.height * stride;
    for (const share of [0, 0.3, 1]) {
      const data = Float64Array.from({ length: count }, (_, i) => (hashUnit(hashPair(i, 1)) < share ? Math.sin(i) * 1e3 : 0)); // prettier-ignore
      data.set([Infinity, 1e-50, NaN, -Infinity], 30);
      data[count - 1] = 1 / 3;
      expect(count % 32, 'the last word is not full').not.to.equal(0);
      const { numbers } = packFilm({ region, stride, data });
      expect(bitsOf(unpackNumbers(numbers, count))).to.deep.equal(bitsOf(Float32Array.from(data)));
    }
  });

  it('takes a bit for each 0 and four bytes for each other number, and no memory beyond', () => {
    const data = new Float64Array(region.width * region.height * stride);
    data.set([1, 2, 3], 100);
    const { numbers } = packFilm({ region, stride, data });
    expect(numbers.length).to.equal(4 * Math.ceil(data.length / 32) + 3 * 4);
    expect(numbers.buffer.byteLength).to.equal(numbers.length);
  });

  it('leaves nothing of what the memory held before, and holds the sums of the picture', () => {
    const data = new Float64Array(region.width * region.height * stride);
    data.set([0.1, 0.2, 0.3], stride * 4 + FILM.beauty);
    const { numbers, picture } = packFilm({ region, stride, data });
    const memory = new Float32Array(data.length + 50).fill(7);
    expect(bitsOf(unpackNumbers(numbers, data.length, memory))).to.deep.equal(bitsOf(Float32Array.from(data)));
    expect(picture.length).to.equal(region.width * region.height * 3);
    expect(bitsOf(picture.subarray(12, 15))).to.deep.equal(bitsOf(Float32Array.of(0.1, 0.2, 0.3)));
    expect(picture.filter((v) => v !== 0)).to.have.length(3);
  });
});
