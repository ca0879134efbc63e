// Lights whose part is known by construction: a wide lamp half hidden brings the noise of its shadow, a point has none.
import { expect } from 'chai';
import { lightCosts } from '../../src/plan/costShares.ts';
import { usualNotes } from '../../src/plan/usualValues.ts';
import { addSamples, emptyFilm, FILM, filmStatistics, frameOf, lightGroups, PathTracer, proofPicture, type Film } from '@dusting/core/render'; // prettier-ignore
import { FINAL_DEFAULTS } from '@dusting/core/scene';
import { compileTest, makeShot, MATT, square, type TestScene } from '../scenes.ts';

const board: TestScene = {
  objects: [
    { mesh: square(4), surface: MATT },
    { mesh: square(0.5, 0.4), surface: { ...MATT, base_color: [0, 0, 0] } },
  ],
  lights: [
    { kind: 'sphere', radius: 0.4, strength: 5, group: 'Old hive', seenByCamera: false, transform: [1, 0, 0, 0.7, 0, 1, 0, 0, 0, 0, 1, 1.4] }, // prettier-ignore
    { kind: 'point', strength: 2, group: 'Fill', transform: [1, 0, 0, -0.7, 0, 1, 0, 0, 0, 0, 1, 1.4] },
  ],
  view: 1.6,
  settings: { width: 32, height: 32, pixelSamples: 8, lightSamples: 2, depth: { diffuse: 1, total: 1 } },
};

describe('what a light costs, and adds to the noise', () => {
  const { compiled, settings } = compileTest(board);
  const film = emptyFilm(frameOf(settings));
  const raysOf = ({ data }: Film) => {
    let sum = 0;
    for (let at = FILM.rays; at < data.length; at += FILM.stride) for (let k = 0; k < 6; k++) sum += data[at + k];
    return sum;
  };
  addSamples(new PathTracer(compiled, settings), film, 0, settings.pixelSamples, () => 1000 * raysOf(film));
  const groups = lightGroups(makeShot(board).document);
  const picture = proofPicture(film, settings, { groups, objects: [], surfaces: [] });
  const statistics = filmStatistics(film, 1);
  const costs = (names: string[]) => lightCosts(picture, frameOf(settings), 1, statistics, names);

  it('is told of each by its name', () => {
    const [hive, fill] = ['Old hive', 'Fill'].map((name) => costs(groups).find((c) => c.name === name)!);
    // what is left are the edges of the dark square, which both show
    expect(hive.noise).to.be.above(0.8);
    expect(fill.noise).to.be.below(0.2);
    // both send as many shadow rays; they are all that is asked for at the first surface
    expect(hive.time / fill.time).to.be.closeTo(1, 0.1);
    const at = (first: number, count: number) => film.data.reduce((sum, v, i) => (i % FILM.stride >= first && i % FILM.stride < first + count ? sum + v : sum), 0); // prettier-ignore
    const asked = raysOf(film) - at(FILM.rays, 1) - at(FILM.branchRays, 4);
    expect((hive.time + fill.time) / (asked / raysOf(film))).to.be.closeTo(1, 0.05);
  });

  it('is not told where there is one alone', () => {
    expect(costs(['Old hive'])).to.deep.equal([]);
  });
});

describe('usual values (common practice, no source)', () => {
  const counts = { pixelSamples: 16, diffuseSamples: 1, specularSamples: 1, transmissionSamples: 1, volumeSamples: 1, lightSamples: 1 }; // prettier-ignore
  const told = (change: object, kinds: Parameters<typeof usualNotes>[1] = [], settings: object = {}, moves = false) =>
    usualNotes({ ...counts, ...change }, kinds, { ...FINAL_DEFAULTS, ...settings }, moves);

  it('are said where a plan leaves them, each for itself', () => {
    expect(told({})).to.deep.equal([]);
    expect(told({ pixelSamples: 4 })[0]).to.contain('fewer than the usual 9');
    expect(told({ pixelSamples: 12 }, [], {}, true)[0]).to.contain('This shot moves');
    expect(told({ diffuseSamples: 64 }, ['diffuse'])[0]).to.contain('1024 diffuse samples');
    expect(told({ pixelSamples: 9 }, ['volume'])[0]).to.contain('9 volume samples');
    expect(told({}, [], { filter: { kind: 'gaussian', width: 6 } })).to.have.length(1);
    expect(told({}, [], { filter: { kind: 'sinc', width: 6 } })).to.deep.equal([]);
  });
});
