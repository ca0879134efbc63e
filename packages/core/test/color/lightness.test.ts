// IEC 61966-2-1 (sRGB); CIE 15 (L*).
import { expect } from 'chai';
import { lightness, linearToSrgb, luminance, srgbToLinear } from '@dusting/core/color';

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
});
