// Pictures of frames of two sizes, one of them made from the other by hand.
import { expect } from 'chai';
import { atFrame, differencesOf, scaleRegion, type Picture, type Region } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';

const [WIDTH, HEIGHT] = [12, 8];

function pictureOf(dataWindow: Region, frame: Region, value: (x: number, y: number, k: number) => number): Picture {
  const { height, width, x, y } = dataWindow;
  const channels = [...'RGB'].map((name, k) => ({
    name,
    type: 'float' as const,
    data: Float32Array.from({ length: width * height }, (_, i) => value(x + (i % width), y + Math.floor(i / width), k)),
  }));
  return { width, height, dataWindow, displayWindow: frame, channels, metadata: {} };
}
const frameOf = (width: number, height: number) => ({ x: 0, y: 0, width, height });
const noise = (x: number, y: number, k: number) => Math.fround(hashUnit(x + 100 * y + 10000 * k));
const small = pictureOf(frameOf(WIDTH, HEIGHT), frameOf(WIDTH, HEIGHT), noise);

describe('a picture in a frame of another size', () => {
  const twice = frameOf(2 * WIDTH, 2 * HEIGHT);

  it('of twice the size has each pixel four times, and is not apart from itself there', () => {
    const large = pictureOf(twice, twice, (x, y, k) => noise(x >> 1, y >> 1, k));
    expect(atFrame(small, twice)).to.deep.equal(large);
    for (const [a, b] of [
      [small, large],
      [large, small],
    ])
      // prettier-ignore
      expect(differencesOf(a, b, b.dataWindow, 0)).to.deep.equal({ rmse: 0, relative: 0, similarity: 1, deltaE: 0 });
    expect(atFrame(small, small.displayWindow)).to.equal(small);
  });

  it('a part of a frame is the same part of the other, and is compared with it alone', () => {
    const part = { x: 3, y: 2, width: 5, height: 4 };
    const cut = pictureOf(part, frameOf(WIDTH, HEIGHT), noise);
    const placed = atFrame(cut, twice);
    expect(placed.dataWindow).to.deep.equal({ x: 6, y: 4, width: 10, height: 8 });
    const brighter = pictureOf(twice, twice, (x, y, k) => noise(x >> 1, y >> 1, k) + 0.25);
    expect(differencesOf(cut, brighter, twice, 0)!.rmse).to.be.closeTo(0.25, 1e-6);
    expect(differencesOf(cut, brighter, { x: 0, y: 0, width: 6, height: 4 }, 0)).to.equal(null);
  });

  it('of sizes that do not divide each other it stays inside', () => {
    const odd = atFrame(pictureOf({ x: 11, y: 7, width: 1, height: 1 }, frameOf(WIDTH, HEIGHT), noise), frameOf(17, 5));
    expect(odd.dataWindow).to.deep.equal({ x: 15, y: 4, width: 1, height: 1 });
    expect(odd.channels[0].data[0]).to.equal(noise(11, 7, 0));
    expect(scaleRegion({ x: 1, y: 0, width: 1, height: 1 }, frameOf(400, 200), frameOf(40, 20))).to.deep.equal({ x: 0, y: 0, width: 1, height: 1 }); // prettier-ignore
  });
});
