// Counting by hand; luminance by the weights of ITU-R BT.709.
import { expect } from 'chai';
import { histogram, waveform } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';

const options = { bins: 16, from: -4, to: 4 }; // half a stop a bin, 1 at the start of bin 8
const sum = (counts: Uint32Array) => counts.reduce((all, n) => all + n, 0);

describe('graphs', () => {
  it('a histogram counts over stops: each value in the bin that its logarithm says', () => {
    const { counts, pixels } = histogram([Float32Array.of(1, 2, 2.1, 0.5, 1.42)], 1, options);
    expect(pixels).to.equal(5);
    expect(counts).to.have.length(1);
    expect([...counts[0]]).to.deep.equal([0, 0, 0, 0, 0, 0, 1, 0, 1, 1, 2, 0, 0, 0, 0, 0]);
  });

  it('what lies beyond both ends is in no bin', () => {
    const { counts } = histogram([Float32Array.of(2 ** -4.1, 2 ** -4, 2 ** 3.9, 2 ** 4, 1e9)], 1, options);
    expect([counts[0][0], counts[0][15], sum(counts[0])]).to.deep.equal([1, 1, 2]);
  });

  it('three planes have the luminance as a fourth', () => {
    const plane = (v: number) => Float32Array.of(v);
    const { counts } = histogram([plane(2), plane(0.25), plane(0.25)], 10, options);
    const bin = (k: number) => counts[k].indexOf(1);
    expect([0, 1, 2].map(bin)).to.deep.equal([10, 4, 4]);
    // 0.2126 x 2 + 0.7874 x 0.25 = 0.62, which is -0.69 stops
    expect(bin(3)).to.equal(Math.floor((Math.log2(0.2126 * 2 + 0.7874 * 0.25) + 4) * 2));
  });

  it('dark, clipped and broken pixels are counted once, whichever channel it is', () => {
    const [r, g, b] = [Float32Array.of(0, 3, NaN, 0.5, -1), Float32Array.of(1, 3, 0.5, 0.5, 5), Float32Array.of(1, 1, 0.5, 0.5, 1)]; // prettier-ignore
    const found = histogram([r, g, b], 2, options);
    expect(found).to.include({ dark: 2, clipped: 2, notFinite: 1, pixels: 5 });
    const infinite = histogram([Float32Array.of(Infinity)], 2, options);
    expect(infinite).to.include({ clipped: 1, notFinite: 1, dark: 0 });
    expect(sum(infinite.counts[0])).to.equal(0);
  });

  it('a waveform keeps the columns of the picture; 1 stands at the top, beyond is held at the edge', () => {
    // two columns of the graph for four of the picture
    const shown = Float32Array.of(0, 0, 1, 1, 0.5, 0.5, 2, -1);
    const counts = waveform(shown, 4, 2, 4);
    const row = (r: number) => [...counts.slice(r * 2, r * 2 + 2)];
    expect([0, 1, 2, 3].map(row)).to.deep.equal([[0, 3], [0, 0], [2, 0], [2, 1]]); // prettier-ignore
  });

  it('every pixel of a waveform is counted, whether it has more columns than the picture or fewer', () => {
    const shown = Float32Array.from({ length: 600 }, (_, i) => hashUnit(i));
    for (const columns of [7, 30, 300]) {
      const counts = waveform(shown, 30, columns, 50);
      expect(sum(counts)).to.equal(600);
      const used = Array.from({ length: columns }, (_, c) => Array.from({ length: 50 }, (_, r) => counts[r * columns + c]).some((n) => n > 0)); // prettier-ignore
      expect(used.filter(Boolean)).to.have.length(Math.min(columns, 30));
    }
  });
});
