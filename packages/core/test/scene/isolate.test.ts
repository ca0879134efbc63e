// Light adds up: what single lights give is together what all of them give (linearity of light transport, Kajiya 1986).
import { expect } from 'chai';
import { compileScene, FILM, frameOf, renderHere } from '@dusting/core/render';
import { GLOW as SHINING, isIsolating, isolate, ISOLATION_DEFAULTS, penumbra, SKY, type Isolation } from '@dusting/core/scene'; // prettier-ignore
import { GLASS, GLOW, makeShot, MATT, sphere, square } from '../scenes.ts';

const { document, blobs } = makeShot({
  objects: [
    { mesh: square(4), surface: MATT },
    { mesh: sphere(0.3, 24), surface: GLASS, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0.5] },
    { mesh: square(0.5), surface: GLOW, transform: [1, 0, 0, 1, 0, -1, 0, 0, 0, 0, -1, 2] },
  ],
  lights: [{ kind: 'sphere', radius: 0.1, strength: 20, transform: [1, 0, 0, -1, 0, 1, 0, 0, 0, 0, 1, 2] }],
  environment: { color: [0.1, 0.2, 0.3] },
  view: 2,
  settings: { width: 8, height: 8, pixelSamples: 256, depth: { diffuse: 3, specular: 3, transmission: 6, volume: 1, total: 6 } }, // prettier-ignore
});
function meanOf(change: Partial<Isolation>): number {
  const seen = isolate(document, 'final', { ...ISOLATION_DEFAULTS, ...change });
  const { data } = renderHere(
    compileScene(seen, seen.final, (id) => blobs.get(id)!),
    seen.final,
    frameOf(seen.final),
  );
  let sum = 0;
  for (let i = 0; i < 64; i++) sum += data[i * FILM.stride + FILM.beauty + 1] / data[i * FILM.stride + FILM.samples];
  return sum / 64;
}

describe('isolating', () => {
  it('single lights add up to all of them, and those that are off to the rest', () => {
    const all = meanOf({});
    const single = [['l0'], [SKY], [SHINING]].map((lights) => meanOf({ lights }));
    expect(single.reduce((a, b) => a + b) / all).to.be.closeTo(1, 0.02);
    single.forEach((one) => expect(one).to.be.within(0.02 * all, 0.98 * all));
    expect(meanOf({ muted: ['l0'] }) / (all - single[0])).to.be.closeTo(1, 0.03);
  });

  it('direct light is less than all of it, and less bounces than more', () => {
    const [direct, less, all, more] = (['direct', 'less', null, 'more'] as const).map((bounces) => meanOf({ bounces }));
    expect(direct).to.be.lessThan(less);
    expect(less).to.be.lessThan(all);
    expect(all).to.be.at.most(more * 1.01);
    expect(direct).to.be.greaterThan(0);
  });

  it('the shot stays as it is', () => {
    const before = JSON.stringify(document);
    const change: Isolation = { lights: [SKY], muted: ['l0'], objects: ['o0'], grey: true, noTextures: true, flat: true, bounces: 'direct', noBackground: true }; // prettier-ignore
    const seen = isolate(document, 'final', change);
    expect(JSON.stringify(document)).to.equal(before);
    expect(Object.keys(seen.objects)).to.deep.equal(['o0']);
    expect(seen.surfaces.s1.transmission_weight, 'grey').to.equal(0);
    expect(seen.environment.background).to.deep.equal([0, 0, 0]);
    expect(seen.preview).to.equal(document.preview);
    expect(isIsolating(ISOLATION_DEFAULTS)).to.equal(false);
    expect(isIsolating({ ...ISOLATION_DEFAULTS, muted: ['l0'] })).to.equal(true);
    expect(isolate(document, 'final', ISOLATION_DEFAULTS)).to.equal(document);
  });
});

describe('penumbra', () => {
  it('of the sun, half a degree wide: 0.93 m behind an edge 100 m away (similar triangles)', () => {
    const sun = { ...document.lights.l0, kind: 'sun' as const, angle: 0.533 };
    expect(penumbra(sun, Infinity, 100)).to.be.closeTo(0.93, 0.005);
  });
  it('of an area grows with its size and the way behind the edge', () => {
    const panel = { ...document.lights.l0, kind: 'rectangle' as const, width: 1, height: 0.2 };
    expect(penumbra(panel, 2, 0.1)).to.be.closeTo(0.05, 1e-12);
    expect(penumbra({ ...panel, kind: 'point' }, 2, 0.1)).to.equal(0);
  });
});
