// Oklab against culori, another implementation (Ottosson 2020 publishes the matrices).
import { converter } from 'culori';
import { expect } from 'chai';
import { fromLightnessSaturationHue, toLightnessSaturationHue } from '@dusting/core/color';

const COLORS = [[0.87, 0.4, 0.045], [0.02, 0.3, 0.9], [1, 1, 1], [0.18, 0.18, 0.18], [0, 0.6, 0], [0.001, 0, 0.0004]]; // prettier-ignore

describe('lightness, saturation and hue', () => {
  it('are those of Oklch', () => {
    const toOklch = converter('oklch');
    for (const [r, g, b] of COLORS) {
      const theirs = toOklch({ mode: 'lrgb', r, g, b });
      const ours = toLightnessSaturationHue([r, g, b]);
      expect(ours.lightness).to.be.closeTo(theirs.l, 1e-4);
      expect(ours.saturation * ours.lightness).to.be.closeTo(theirs.c, 1e-4);
      if (theirs.c > 0.001) expect(ours.hue).to.be.closeTo(theirs.h!, 0.05);
    }
  });

  it('lead back to the colour', () => {
    for (const color of COLORS)
      fromLightnessSaturationHue(toLightnessSaturationHue(color)).forEach((c, k) => expect(c).to.be.closeTo(color[k], 1e-5)); // prettier-ignore
  });

  it('a lightened tint keeps its hue, and its saturation as far as it can be shown', () => {
    const honey = toLightnessSaturationHue([0.5, 0.2, 0.02]);
    const lighter = fromLightnessSaturationHue({ ...honey, lightness: 0.9 });
    expect(toLightnessSaturationHue(lighter).hue).to.be.closeTo(honey.hue, 0.1);
    expect(toLightnessSaturationHue(lighter).lightness).to.be.closeTo(0.9, 1e-3);
    expect(Math.max(...lighter)).to.be.at.most(1);
    expect(toLightnessSaturationHue(lighter).saturation).to.be.lessThan(honey.saturation);
    const light = fromLightnessSaturationHue({ ...honey, lightness: 1.5 }, Infinity);
    expect(toLightnessSaturationHue(light).saturation).to.be.closeTo(honey.saturation, 1e-4);
  });
});
