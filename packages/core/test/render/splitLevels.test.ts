// The spread of groups of splits against plain arithmetic, and against what renders with so many splits measure: by the law
// of total variance the variance of a group's mean is that of the sample's mean and the mean spread of the groups about it.
import { expect } from 'chai';
import { FILM, frameOf, renderHere, SPLIT_KINDS, SPLIT_LEVELS } from '@dusting/core/render';
import { SplitLevels } from '../../src/render/splitLevels.ts';
import { compileTest, MATT, square, type TestScene } from '../scenes.ts';

/** A board under a wide bright lamp that is hidden in part: light by chance, asked for and met. */
const board: TestScene = {
  objects: [
    { mesh: square(4), surface: { ...MATT, base_color: [0.6, 0.6, 0.6] } },
    { mesh: square(0.5, 0.4), surface: { ...MATT } },
  ],
  lights: [{ kind: 'sphere', radius: 0.5, strength: 3, seenByCamera: false, transform: [1, 0, 0, 0.7, 0, 1, 0, 0, 0, 0, 1, 1.4] }], // prettier-ignore
  environment: { gradient: { zenith: [0.9, 0.9, 0.9], horizon: [0.2, 0.2, 0.2], ground: [0, 0, 0] }, color: [1, 1, 1] },
  view: 1.6,
  settings: { width: 24, height: 24, pixelSamples: 64 },
};

/** Mean over the pixels of the variance of one camera sample, and of what comes to it with fewer splits. */
function variances(diffuseSamples: number, lightSamples: number) {
  const { compiled, settings: base } = compileTest(board);
  const settings = { ...base, diffuseSamples, lightSamples };
  const { data, region } = renderHere(compiled, settings, frameOf(settings));
  const pixels = region.width * region.height;
  const n = settings.pixelSamples;
  let whole = 0;
  const spread = SPLIT_KINDS.map(() => SPLIT_LEVELS.map(() => 0));
  for (let at = 0; at < data.length; at += FILM.stride) {
    const y = 0.2126 * data[at] + 0.7152 * data[at + 1] + 0.0722 * data[at + 2];
    whole += (data[at + FILM.beauty + 6] - (y * y) / n) / (n - 1) / pixels;
    spread.forEach((levels, k) =>
      levels.forEach((_, l) => (levels[l] += data[at + FILM.splits + k * SPLIT_LEVELS.length + l] / n / pixels)),
    );
  }
  return { whole, spread };
}

describe('groups of splits', () => {
  it('spread about the mean of all as arithmetic says', () => {
    const levels = new SplitLevels();
    levels.begin();
    for (const y of [1, 5, 2, 8, 3, 3, 0, 2]) levels.add(y);
    const about = (means: number[]) => means.reduce((sum, m) => sum + (m - 3) ** 2, 0) / means.length;
    expect(levels.spread(0)).to.be.closeTo(about([1, 5, 2, 8, 3, 3, 0, 2]), 1e-12);
    expect(levels.spread(1)).to.be.closeTo(about([3, 5, 3, 1]), 1e-12);
    expect(levels.spread(2)).to.be.closeTo(about([4, 2]), 1e-12);
  });

  it('that are no several whole ones tell nothing', () => {
    const levels = new SplitLevels();
    levels.begin();
    for (const y of [1, 5, 2, 8, 3, 3]) levels.add(y);
    expect(levels.spread(1)).to.be.above(0);
    expect(levels.spread(2), 'six are no groups of four').to.equal(0);
    levels.begin();
    levels.add(4);
    expect([0, 1, 2].map((l) => levels.spread(l))).to.deep.equal([0, 0, 0]);
  });

  it('tell what fewer of all would have measured', () => {
    const { spread, whole } = variances(8, 8);
    const [diffuse, light] = [SPLIT_KINDS.indexOf('diffuse'), SPLIT_KINDS.indexOf('light')];
    SPLIT_LEVELS.forEach((size, level) => {
      const told = whole + spread[diffuse][level] + spread[light][level];
      const measured = variances(size, size).whole;
      expect(told / measured, `${size} of each`).to.be.closeTo(1, 0.08);
    });
  });
});
