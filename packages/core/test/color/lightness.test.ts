// IEC 61966-2-1 (sRGB); CIE 15 (L*); primaries against an independent colour library (culori), and those of SMPTE ST
// 2065-1 and the Academy's AP1 against the matrices that the Academy's transforms print (from memory).
import { expect } from 'chai';
import { converter } from 'culori';
import { lightness, linearToSrgb, luminance, srgbToLinear, toRec709 } from '@dusting/core/color';

const [toLinear, toEncoded] = [converter('lrgb'), converter('rgb')];

describe('colour', () => {
  it('sRGB: published pairs, and there and back', () => {
    expect(srgbToLinear(0.5)).to.be.closeTo(0.21404, 1e-5);
    expect(linearToSrgb(0.18)).to.be.closeTo(0.46135, 1e-5);
    for (let i = 0; i <= 255; i++) expect(linearToSrgb(srgbToLinear(i / 255))).to.be.closeTo(i / 255, 1e-6);
  });
  it('L*: 18.4 % grey stands in the middle, both branches meet', () => {
    expect(lightness(0.184187)).to.be.closeTo(50, 1e-3);
    expect(lightness(216 / 24389)).to.be.closeTo(8, 1e-9);
    expect([lightness(0), lightness(1), lightness(7), lightness(-1)]).to.deep.equal([0, 100, 100, 0]);
  });
  it('the luminance weights of ITU-R BT.709 sum to 1', () => expect(luminance(1, 1, 1)).to.be.closeTo(1, 1e-12));

  it('the encoding is that of an independent library', () => {
    for (const v of [0.001, 0.02, 0.2, 0.5, 0.93]) {
      expect(srgbToLinear(v)).to.be.closeTo(toLinear({ mode: 'rgb', r: v, g: v, b: v }).g, 1e-6);
      expect(linearToSrgb(v)).to.be.closeTo(toEncoded({ mode: 'lrgb', r: v, g: v, b: v }).g, 1e-6);
    }
  });
  it('Display P3 and Rec. 2020: the same colours as the library finds', () => {
    const apply = (m: number[], v: number[]) => [0, 3, 6].map((r) => m[r] * v[0] + m[r + 1] * v[1] + m[r + 2] * v[2]);
    // encoded values whose linear ones are 0 or 1
    for (const v of [[1, 0, 0], [0, 1, 0], [0, 0, 1], [1, 1, 1]]) {
      const [r, g, b] = v;
      const p3 = toLinear({ mode: 'p3', r, g, b });
      const wide = toLinear({ mode: 'rec2020', r, g, b });
      apply(toRec709('display-p3')!, v).forEach((c, k) => expect(c).to.be.closeTo([p3.r, p3.g, p3.b][k], 2e-4));
      apply(toRec709('rec2020')!, v).forEach((c, k) => expect(c).to.be.closeTo([wide.r, wide.g, wide.b][k], 2e-4));
    } // prettier-ignore
  });
  it('AP1 and AP0: the matrices that go with them, and white stays white', () => {
    const ap1 = [1.70505, -0.62179, -0.08326, -0.13026, 1.1408, -0.01055, -0.024, -0.12897, 1.15297];
    toRec709('ap1')!.forEach((v, i) => expect(v).to.be.closeTo(ap1[i], 2e-4));
    const ap0 = toRec709('ap0')!;
    [2.52169, -1.13413, -0.38756].forEach((v, i) => expect(ap0[i]).to.be.closeTo(v, 5e-4));
    for (const r of [0, 3, 6]) expect(ap0[r] + ap0[r + 1] + ap0[r + 2]).to.be.closeTo(1, 1e-9);
    expect(toRec709('rec709')).to.equal(null);
  });
});
