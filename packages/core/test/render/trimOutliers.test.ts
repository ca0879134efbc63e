// Outliers taken out of a film. The mean trimmed by the Gini coefficient in closed form: 0 for equal groups, (n - 1) / n where
// one of n has all the light.
import { expect } from 'chai';
import { findChannel } from '@dusting/core/image';
import { COMPONENTS, FILM, filmStride, frameOf, proofPicture, renderHere, type Film } from '@dusting/core/render';
import { trimOutliers } from '../../src/render/trimOutliers.ts';
import { compileTest, GLASS, GLOW, MATT, sphere, square, type TestScene } from '../scenes.ts';

const GROUPS = 5;
const region = { x: 0, y: 0, width: 1, height: 1 };
/** One pixel of ten samples, the groups of which bring so much grey light; `seen` comes from an emitter that the camera sees. */
function pixelOf(light: number[], seen = 0): Film {
  const stride = filmStride({ outlierGroups: GROUPS }, []);
  const data = new Float64Array(stride);
  const sum = light.reduce((all, v) => all + 2 * v, 0);
  const put = (slot: number, v: number) => data.fill(v, slot, slot + 3);
  light.forEach((v, g) => data.set([2 * v, 2 * v, 2 * v, 2], FILM.stride + 4 * g));
  data[FILM.samples] = 10;
  put(FILM.component, sum);
  put(FILM.component + FILM.componentStride * COMPONENTS.indexOf('emission'), 10 * seen);
  put(FILM.beauty, sum + 10 * seen);
  put(FILM.group, sum + 10 * seen);
  return { region, stride, data };
}
const beautyOf = ({ data }: Film) => data[FILM.beauty] / 10;

const flame: TestScene = {
  objects: [
    { mesh: square(4), surface: MATT },
    { mesh: sphere(0.06, 24), surface: { ...GLOW, emission_luminance: 60 }, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 1] }, // prettier-ignore
    { mesh: sphere(0.35, 32), surface: GLASS, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 1] },
  ],
  environment: { color: [0.05, 0.05, 0.05] },
  view: 1.2,
  settings: { width: 24, height: 18, pixelSamples: 30, outlierGroups: 9 },
};

describe('outliers', () => {
  it('equal groups stay as they are; of one that has all the light, the middle group is left', () => {
    const even = pixelOf([1, 1, 1, 1, 1]);
    trimOutliers(even, { outlierGroups: GROUPS });
    expect(beautyOf(even)).to.be.closeTo(1, 1e-12);
    const firefly = pixelOf([0.01, 0.01, 500, 0.01, 0.01]);
    trimOutliers(firefly, { outlierGroups: GROUPS });
    // Gini 0.8 of 5 groups: two of each end go
    expect(beautyOf(firefly)).to.be.closeTo(0.01, 1e-12);
    expect(firefly.data[FILM.stride] / 10).to.be.closeTo((500 + 0.04) / 5 - 0.01, 1e-9);
  });

  it('groups of 1, 2, 3, 4, 5: a Gini coefficient of 0.267 leaves all of them', () => {
    const film = pixelOf([3, 1, 5, 2, 4]);
    trimOutliers(film, { outlierGroups: GROUPS });
    expect(beautyOf(film)).to.be.closeTo(3, 1e-12);
  });

  it('what the camera sees itself stays, and a second time changes nothing', () => {
    const film = pixelOf([0, 0, 100, 0, 0], 7);
    trimOutliers(film, { outlierGroups: GROUPS });
    trimOutliers(film, { outlierGroups: GROUPS });
    expect(beautyOf(film)).to.be.closeTo(7, 1e-12);
    expect(film.data[FILM.group] / 10).to.be.closeTo(7, 1e-12);
  });

  it('of a render, components still add up to the picture, and what was taken is a layer that gives back the whole', () => {
    const [plain, trimmed] = [0, 9].map((outlierGroups) => {
      const { compiled, settings } = compileTest({ ...flame, settings: { ...flame.settings, outlierGroups } });
      return proofPicture(renderHere(compiled, settings, frameOf(settings)), settings, { groups: [], objects: [], surfaces: [] }); // prettier-ignore
    });
    const plane = (of: typeof plain, layer: string) => findChannel(of, layer, 'R')!.data;
    const [whole, beauty, taken] = [plane(plain, 'beauty'), plane(trimmed, 'beauty'), plane(trimmed, 'outliers')];
    let most = 0;
    beauty.forEach((v, i) => {
      expect(v + taken[i]).to.be.closeTo(whole[i], 2e-3 * whole[i] + 1e-6);
      const parts = COMPONENTS.reduce((sum, name) => sum + plane(trimmed, name)[i], 0);
      expect(parts).to.be.closeTo(v, 2e-3 * v + 1e-6);
      most = Math.max(most, taken[i] / whole[i]);
    });
    expect(most).to.be.above(0.3);
    expect(findChannel(plain, 'outliers', 'R')).to.equal(undefined);
  });
});
