// The drawing without WebGL, on a canvas that the test plays. IEC 61966-2-1 for the display values.
import { expect } from 'chai';
import { lightness, luminance, srgbToLinear } from '@dusting/core/color';
import { toHalf } from '@dusting/core/formats';
import { createCanvasDrawer } from '../src/picture/canvasDrawer.ts';
import { VIEW_DEFAULTS, type PlacedPicture, type View } from '../src/picture/view.ts';

const WALL = [43, 43, 43];
const view: View = { ...VIEW_DEFAULTS, centre: { x: 2, y: 1 }, scale: 10 };
/** An even picture of 4 x 2 pixels, or a part of that frame. */
const even = (rgb: number[], window = { x: 0, y: 0, width: 4, height: 2 }): PlacedPicture => ({
  window,
  picture: {
    width: window.width,
    height: window.height,
    channels: ['R', 'G', 'B'].slice(0, rgb.length),
    halves: Uint16Array.from({ length: window.width * window.height * rgb.length }, (_, i) =>
      toHalf(rgb[i % rgb.length]),
    ),
  },
});
function draw(first: PlacedPicture, second: PlacedPicture | null, change: Partial<View> = {}) {
  let shown: { data: Uint8ClampedArray } = { data: new Uint8ClampedArray() };
  const [width, height] = [60, 40];
  const context = {
    createImageData: () => ({ data: new Uint8ClampedArray(width * height * 4) }),
    putImageData: (image: typeof shown) => (shown = image),
  };
  createCanvasDrawer({ width, height, getContext: () => context } as unknown as HTMLCanvasElement).draw(first, second, {
    ...view,
    ...change,
  });
  return (x: number, y: number) => [...shown.data.slice((y * width + x) * 4, (y * width + x) * 4 + 3)];
}

describe('drawing on the processor', () => {
  it('shows the frame in its place, encoded for the display', () => {
    const at = draw(even([0.25, 1, 0]), null);
    expect(at(30, 20)).to.deep.equal([137, 255, 0]);
    expect(at(5, 20)).to.deep.equal(WALL);
    expect(at(30, 5)).to.deep.equal(WALL);
    expect([at(10, 10), at(49, 29)]).to.deep.equal([at(30, 20), at(30, 20)]);
  });
  it('exposure doubles for each stop, raw leaves the numbers, channels stand alone', () => {
    expect(draw(even([0.25, 0.1, 0]), null, { stops: 1, transform: 'raw' })(30, 20)).to.deep.equal([128, 51, 0]);
    expect(draw(even([0.25, 0.1, 0]), null, { channel: 'G', transform: 'raw' })(30, 20)).to.deep.equal([25, 25, 25]);
    expect(draw(even([0, 1, 0]), null, { channel: 'Y', transform: 'raw' })(30, 20)).to.deep.equal([182, 182, 182]);
    expect(draw(even([0.5]), null, { transform: 'raw' })(30, 20), 'one channel is grey').to.deep.equal([128, 128, 128]);
  });
  it('display transforms: BT.1886, and the photographic curve that keeps the ratios of colours', () => {
    expect(draw(even([0.5, 0.18, 0]), null, { transform: 'rec709' })(30, 20)).to.deep.equal([191, 125, 0]);
    const [r, g] = draw(even([2, 1, 0]), null, { transform: 'photographic' })(30, 20).map((v) => srgbToLinear(v / 255));
    expect(r / g).to.be.closeTo(2, 0.03);
    // Reinhard et al. 2002: the luminance of the white point becomes 1, that of 1 becomes (1 + 1/16) / 2
    expect(draw(even([4, 4, 4]), null, { transform: 'photographic' })(30, 20)).to.deep.equal([255, 255, 255]);
    expect(srgbToLinear(draw(even([1, 1, 1]), null, { transform: 'photographic' })(30, 20)[0] / 255)).to.be.closeTo(17 / 32, 0.005); // prettier-ignore
  });
  it('data layers in false colour: from dark blue to yellow, lighter all the way', () => {
    const steps = [0, 0.25, 0.5, 0.75, 1].map((v) => draw(even([v]), null, { range: [0, 1] })(30, 20));
    const light = steps.map(([r, g, b]) => lightness(luminance(srgbToLinear(r / 255), srgbToLinear(g / 255), srgbToLinear(b / 255)))); // prettier-ignore
    light.slice(1).forEach((l, i) => expect(l - light[i]).to.be.within(14, 24));
  });
  it('wipe shows the other one on the right, where it reaches', () => {
    const [before, after] = [even([0, 0, 0]), even([1, 1, 1], { x: 0, y: 0, width: 4, height: 1 })];
    const at = draw(before, after, { mode: 'wipe' });
    expect([at(20, 15), at(40, 15), at(40, 25)]).to.deep.equal([
      [0, 0, 0],
      [255, 255, 255],
      [0, 0, 0],
    ]);
  });
  it('the wipe turns, and blinking shows one whole', () => {
    const [before, after] = [even([0, 0, 0]), even([1, 1, 1])];
    const down = draw(before, after, { mode: 'wipe', wipe: { at: 0.5, angle: 90 } });
    expect([down(15, 12), down(45, 12), down(15, 28), down(45, 28)].map(([r]) => r)).to.deep.equal([0, 0, 255, 255]);
    const slant = draw(before, after, { mode: 'wipe', wipe: { at: 0.5, angle: 45 } });
    expect([slant(15, 12), slant(45, 12), slant(29, 19), slant(31, 21)].map(([r]) => r)).to.deep.equal([
      0, 255, 0, 255,
    ]);
    expect(draw(before, after, { mode: 'blink' })(45, 20)[0]).to.equal(0);
    expect(draw(before, after, { mode: 'blink', blink: true })(15, 20)[0]).to.equal(255);
  });
  it('differences: their size with a gain, and relative in false colour', () => {
    const [before, after] = [even([0.5, 0.5, 0.5]), even([0.4, 0.5, 0.6])];
    const change = { mode: 'difference', difference: 'absolute', gain: 2 } as const;
    expect(draw(before, after, change)(30, 20)).to.deep.equal([51, 0, 51]);
    const half = draw(even([0.24, 0.24, 0.24]), even([0.365, 0.365, 0.365]), { mode: 'difference', difference: 'relative' }); // prettier-ignore
    expect(half(30, 20)).to.deep.equal(draw(even([0.5]), null, { range: [0, 1] })(30, 20));
  });
  it('Display P3: white stays white, pure red of Rec. 709 lies inside (SMPTE EG 432-1; from memory: 234, 51, 35)', () => {
    expect(draw(even([1, 1, 1]), null, { transform: 'displayP3' })(30, 20)).to.deep.equal([255, 255, 255]);
    const red = draw(even([1, 0, 0]), null, { transform: 'displayP3' })(30, 20);
    [234, 51, 35].forEach((v, k) => expect(red[k]).to.be.closeTo(v, 1));
  });
  it('side by side shows both, difference is grey where they agree', () => {
    const [before, after] = [even([0, 0, 0]), even([1, 1, 1])];
    const side = draw(before, after, { mode: 'side', scale: 5 });
    expect([side(15, 20), side(45, 20)]).to.deep.equal([
      [0, 0, 0],
      [255, 255, 255],
    ]);
    expect(draw(after, after, { mode: 'difference' })(30, 20)).to.deep.equal([128, 128, 128]);
    expect(draw(before, even([1, 0, 0]), { mode: 'difference' })(30, 20)).to.deep.equal([255, 128, 128]);
    expect(draw(after, before, { mode: 'difference' })(30, 20)).to.deep.equal([0, 0, 0]);
  });
});
