// Own rule: a scene that was never rendered takes a sample's time of other scenes, times three either way.
import { expect } from 'chai';
import { expectTime } from '@dusting/core/plan';
import { FINAL_DEFAULTS } from '@dusting/core/scene';

describe('the time of a first render', () => {
  const settings = { ...FINAL_DEFAULTS, width: 100, height: 50, pixelSamples: 4 };
  const past = (seconds: number) => ({ settings: { ...settings, pixelSamples: 8 }, pixels: 2500, seconds });

  it('goes with pixels and samples, by the middle of what others took', () => {
    // twice the pixels at half of the samples: the same work
    const { high, low, value } = expectTime([past(2), past(3), past(40)], settings)!;
    expect(value).to.be.closeTo(3, 1e-9);
    expect([low, high]).to.deep.equal([value / 3, value * 3]);
  });

  it('is not known before anything was rendered', () => {
    expect(expectTime([], settings)).to.equal(null);
    expect(expectTime([past(0)], settings)).to.equal(null);
  });
});
