// Findings of a proof against scenes in which one thing alone is wrong, and against one in which nothing is.
import { expect } from 'chai';
import { proofFindings, worstFirst } from '@dusting/core/diagnose';
import { filmStatistics, frameOf, renderHere } from '@dusting/core/render';
import type { RenderSettings } from '@dusting/core/scene';
import { compileTest, GLASS, GLOW, slab, square, type TestScene } from '../scenes.ts';

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
    const clamped = findingsOf({ clamp: { direct: 0, indirect: 0.3 } });
    expect(clamped.map(({ id, severity }) => [id, severity])).to.deep.equal([['cut-clamp', 'warning']]);
    expect(clamped[0].text).to.match(/^The clamp \(indirect 0\.3\) cuts off about [\d.]+ % of the light\.$/);
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
