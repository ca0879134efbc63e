// Findings of a proof against scenes in which one thing alone is wrong, and against one in which nothing is.
import { expect } from 'chai';
import { countFireflies, findFireflies, proofFindings, worstFirst } from '@dusting/core/diagnose';
import { filmNames, filmStatistics, frameOf, ProofBuilder, proofPicture, renderHere } from '@dusting/core/render';
import { NO_CLAMP, type RenderSettings } from '@dusting/core/scene';
import { compileTest, GLASS, GLOW, makeShot, MATT, slab, sphere, square, type TestScene } from '../scenes.ts';

/** Three panes of glass before a glow: six surfaces on the way of every path. */
const panes: TestScene = {
  objects: [
    ...[0, 0.5, 1].map((z) => ({ mesh: slab(4, z, z + 0.1), surface: GLASS })),
    { mesh: square(4, -0.5), surface: GLOW },
  ],
  view: 1,
  settings: {
    width: 16,
    height: 16,
    pixelSamples: 8,
    depth: { diffuse: 12, specular: 12, transmission: 12, volume: 12, total: 12 },
  },
};
function findingsOf(change: Partial<RenderSettings>) {
  const { compiled, settings: base } = compileTest(panes);
  const settings = { ...base, ...change };
  return proofFindings(filmStatistics(renderHere(compiled, settings, frameOf(settings)), 1), settings);
}

describe('findings of a proof', () => {
  it('of one that has enough of everything there are none', () => {
    expect(findingsOf({})).to.deep.equal([]);
  });

  it('the limit that cuts the light off is named, with its share, and none of the others', () => {
    const { depth } = compileTest(panes).settings;
    const [found, ...others] = findingsOf({ depth: { ...depth, transmission: 4 } });
    expect(others).to.deep.equal([]);
    expect(found).to.include({ id: 'cut-transmission', severity: 'error' });
    expect(found.about).to.deep.equal([{ type: 'setting', path: 'depth.transmission' }]);
    // all light but what is reflected, so nearly all of it
    expect(Number(/about ([\d.]+) %/.exec(found.text)![1])).to.be.above(90);
  });

  it('one sample is not said to be clean; a clamp warns and is no error', () => {
    expect(findingsOf({ pixelSamples: 1 }).map(({ id, severity }) => [id, severity])).to.deep.equal([['one-sample', 'warning']]); // prettier-ignore
    const clamped = findingsOf({ clamp: { ...NO_CLAMP, indirect: 0.3 } });
    expect(clamped.map(({ id, severity }) => [id, severity])).to.deep.equal([['cut-clamp', 'warning']]);
    expect(clamped[0].text).to.match(/^The clamp \(indirect 0\.3\) cuts off about [\d.]+ % of the light\.$/);
  });

  it('fireflies are counted on the proof as its diagnosis counts them, from 8 samples on', () => {
    const room: TestScene = {
      objects: [
        { mesh: square(4), surface: MATT },
        { mesh: sphere(0.05, 16), surface: { ...GLOW, emission_luminance: 60 }, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 1], flags: { seenByCamera: false, laterTransforms: [[1, 0, 0, 0.02, 0, 1, 0, 0, 0, 0, 1, 1]] } }, // prettier-ignore
      ],
      environment: { color: [0.05, 0.05, 0.05] },
      view: 1.2,
      settings: { width: 32, height: 24, pixelSamples: 16 },
    };
    const { compiled, settings } = compileTest(room);
    const names = filmNames(makeShot(room).document);
    const film = renderHere(compiled, settings, frameOf(settings));
    const wanted = findFireflies(proofPicture(film, settings, names), frameOf(settings));
    const builder = new ProofBuilder(frameOf(settings), settings, names, 1);
    builder.addBand(film);
    const { picture, statistics } = builder.finish(() => ({}));
    const fireflies = countFireflies(picture, 16)!;
    expect(fireflies.count).to.be.above(3).and.to.equal(wanted.length);
    expect(fireflies.worst).to.deep.equal({ x: wanted[0].x, y: wanted[0].y });
    expect(countFireflies(picture, 7)).to.equal(undefined);
    const found = proofFindings({ ...statistics, fireflies }, settings).find(({ id }) => id === 'fireflies')!;
    expect(found.text).to.equal(`About ${wanted.length} fireflies, one pixel in ${Math.round(768 / wanted.length)}, the worst at (${wanted[0].x}, ${wanted[0].y}).`); // prettier-ignore
    expect(found.kind).to.equal('fireflies');
    const few = { ...statistics, pixels: 1e6, fireflies: { count: 49, worst: { x: 0, y: 0 } } };
    expect(proofFindings(few, settings).some(({ id }) => id === 'fireflies')).to.equal(false);
  });

  it('the worst stands first, and equals keep their order', () => {
    const make = (id: string, severity: 'error' | 'warning' | 'note') => ({
      id,
      severity,
      text: '',
      short: '',
      about: [],
    });
    const order = worstFirst([make('a', 'note'), make('b', 'warning'), make('c', 'error'), make('d', 'warning')]);
    expect(order.map(({ id }) => id).join('')).to.equal('cbda');
  });
});
