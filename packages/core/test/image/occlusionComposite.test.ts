// Multiplying an occlusion layer into a picture: common practice, no source; its figures by hand, with CIE L* (CIE 15:2004).
import { expect } from 'chai';
import { lightness } from '@dusting/core/color';
import { OCCLUSION_COMPOSITE_DEFAULTS, occlusionFactor, takenByOcclusion, type OcclusionComposite } from '@dusting/core/image'; // prettier-ignore

const plain = OCCLUSION_COMPOSITE_DEFAULTS;

describe('occlusion multiplied into a picture', () => {
  for (const [name, change, open, color, factor] of [
    ['full strength is the layer itself', {}, 0.3, 0, 0.3],
    ['half strength is half way', { strength: 0.5 }, 0.3, 0, 0.65],
    ['no strength leaves the light', { strength: 0 }, 0, 0, 1],
    ['contrast is an exponent', { contrast: 2 }, 0.5, 0, 0.25],
    ['what is closed turns to the color', {}, 0, 0.2, 0.2],
    ['a layer beyond 0 and 1 is held', {}, 1.4, 0, 1],
    ['on either side', {}, -0.2, 0, 0],
  ] as [string, Partial<OcclusionComposite>, number, number, number][])
    it(name, () => expect(occlusionFactor(open, { ...plain, ...change }, color)).to.be.closeTo(factor, 1e-12));

  it('says what it takes, on average and of the darkest tenth', () => {
    const grey = Array.from({ length: 10 }, (_, i) => (i === 0 ? 0.05 : 0.4));
    const open = grey.map((_, i) => (i === 0 ? 0.25 : 1));
    const { darkest, mean } = takenByOcclusion([grey, grey, grey], open, plain);
    expect(darkest).to.be.closeTo(lightness(0.05) - lightness(0.0125), 1e-9);
    expect(mean).to.be.closeTo(darkest / 10, 1e-9);
    expect(takenByOcclusion([grey, grey, grey], open, plain, (i) => i > 0).mean).to.be.closeTo(0, 1e-9);
  });
});
