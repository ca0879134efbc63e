// Immerkaer 1996: the mask leaves the spread of independent noise as it is, and nothing of shading up to the second degree
// or of edges along the rows and columns. Donoho & Johnstone 1994: the median of a normal variable's size is 0.6745 of its spread.
import { expect } from 'chai';
import { hashUnit } from '@dusting/core/math';
import { noiseFromPicture } from '@dusting/core/image';

const [WIDTH, HEIGHT] = [96, 64];
const WHOLE = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
/** Normal numbers by Box & Muller. */
const normal = (i: number) => Math.sqrt(-2 * Math.log(1 - hashUnit(2 * i))) * Math.cos(2 * Math.PI * hashUnit(2 * i + 1)); // prettier-ignore
const plane = (value: (x: number, y: number) => number, spread = 0) =>
  new Float32Array(WIDTH * HEIGHT).map(
    (_, i) => value(i % WIDTH, Math.floor(i / WIDTH)) + (spread ? spread * normal(i) : 0),
  );
const mean = (values: Float32Array) => values.reduce((sum, v) => sum + v, 0) / values.length;
const spreads = (data: Float32Array, region = WHOLE) => {
  const { variance, most } = noiseFromPicture(data, WIDTH, HEIGHT, region);
  return [Math.sqrt(mean(variance)), Math.sqrt(mean(most))];
};

describe('noise from the picture alone', () => {
  it('of a flat field and of smooth shading is the spread of what was added', () => {
    const shading: ((x: number, y: number) => number)[] = [
      () => 0.5,
      (x, y) => x / 50 + y / 20,
      (x, y) => (x * x - 2 * y * y + x * y) / 1000,
    ];
    for (const value of shading)
      for (const spread of [0.001, 0.1]) {
        const [median, all] = spreads(plane(value, spread));
        expect(median / spread).to.be.closeTo(1, 0.05);
        expect(all / spread).to.be.closeTo(1, 0.05);
      }
  });

  it('edges along rows and columns leave nothing, slanted ones little of the median', () => {
    expect(Math.max(...spreads(plane((x, y) => (x > 40 ? 1 : 0) + (y > 20 ? 2 : 0)).map((v) => v / 3)))).to.be.below(0.03); // prettier-ignore
    const [median, all] = spreads(plane((x, y) => (x + 2 * y > 110 ? 1 : 0), 0.01));
    expect(median / 0.01).to.be.within(0.95, 1.3);
    expect(all / 0.01, 'the mean counts the edge').to.be.above(1.8);
  });

  it('texture shows in the distance between the two', () => {
    const [median, all] = spreads(plane((x, y) => (x % 5 === 0 && y % 4 === 0 ? 1 : 0), 0.02));
    expect(all).to.be.above(2 * median);
  });

  it('is told for each place by itself: what is noisy on the right is so on the right', () => {
    const data = plane(() => 0.5).map((v, i) => v + (i % WIDTH < 48 ? 0.01 : 0.1) * normal(i));
    const { variance } = noiseFromPicture(data, WIDTH, HEIGHT, WHOLE);
    expect(Math.sqrt(variance[30 * WIDTH + 10])).to.be.within(0.007, 0.013);
    expect(Math.sqrt(variance[30 * WIDTH + 80])).to.be.within(0.07, 0.13);
    const part = noiseFromPicture(data, WIDTH, HEIGHT, { x: 56, y: 8, width: 16, height: 16 });
    expect(part.variance[0], 'a region is the same as its part of the whole').to.equal(variance[8 * WIDTH + 56]);
  });

  it('what is no number is left out, and too small a picture has none', () => {
    const data = plane(() => 0.5, 0.05);
    for (let i = 0; i < data.length; i += 97) data[i] = i % 2 ? NaN : Infinity;
    expect(spreads(data)[0] / 0.05).to.be.closeTo(1, 0.08);
    const tiny = noiseFromPicture(new Float32Array(4), 2, 2, { x: 0, y: 0, width: 2, height: 2 });
    expect([...tiny.variance, ...tiny.most]).to.deep.equal(Array(8).fill(0));
  });

  it('large regions have larger squares, and the same noise', () => {
    const [w, h] = [1200, 900];
    const data = new Float32Array(w * h).map((_, i) => 0.2 * normal(i));
    const { variance } = noiseFromPicture(data, w, h, { x: 0, y: 0, width: w, height: h });
    expect(Math.sqrt(mean(variance)) / 0.2).to.be.closeTo(1, 0.04);
    expect(variance[0]).to.equal(variance[15 * w + 15]);
  });
});
