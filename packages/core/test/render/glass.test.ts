// Stokes 1862, "On the intensity of the light reflected from or transmitted through a pile of plates";
// Beer-Lambert along refracted paths (Born & Wolf).
import { expect } from 'chai';
import { FILM } from '@dusting/core/render';
import { GLASS, GLOW, renderTest, slab, square, type TestObject } from '../scenes.ts';

const R = 0.04;
const lamp: TestObject = { mesh: square(40), surface: GLOW, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, -5] };
const panes = (count: number, surface = {}): TestObject[] =>
  Array.from({ length: count }, (_, i) => ({
    mesh: slab(30, i, i + 0.25),
    surface: { ...GLASS, specular_ior: 1.5, ...surface },
  }));
const through = (objects: TestObject[], depth = {}, pixelSamples = 256) =>
  renderTest({ objects: [...objects, lamp], settings: { width: 8, height: 8, pixelSamples, depth } });
const close = (r: { mean: number; error: number }, expected: number) =>
  expect(r.mean).to.be.closeTo(expected, 4 * r.error + 1e-4);

describe('panes of glass', () => {
  it('one pane: T = (1 - R) / (1 + R) = 0.923', () => close(through(panes(1)), 0.96 / 1.04));
  for (const m of [2, 4])
    it(`${m} panes: T = (1 - R) / (1 + (2m - 1) R)`, () => close(through(panes(m)), 0.96 / (1 + (2 * m - 1) * R)));

  it('one pane with at most 2 specular events: the truncated sum', () => {
    // two crossings; each round trip inside adds two reflections
    close(through(panes(1), { specular: 2 }), 0.96 ** 2 * (1 + R ** 2));
    close(through(panes(1), { specular: 0 }), 0.96 ** 2);
  });
  it('a transmission limit of n lets exactly n crossings through', () => {
    expect(through(panes(2), { transmission: 3 }).mean).to.equal(0);
    close(through(panes(2), { transmission: 4, specular: 0 }), 0.96 ** 4);
    expect(through(panes(2), { transmission: 4, total: 3 }).mean).to.equal(0);
  });
  it('a thin wall is one whole pane', () => {
    const sheet = { mesh: square(30), surface: { ...GLASS, specular_ior: 1.5, geometry_thin_walled: true } };
    close(through([sheet]), 0.96 / 1.04);
  });

  it('absorption follows Beer-Lambert through the thickness', () => {
    const amber = { transmission_color: [0.5, 0.5, 0.5], transmission_depth: 0.5, specular_weight: 0 };
    // without reflection: 0.25 m at one half for each 0.5 m
    close(through(panes(1, amber)), 0.5 ** 0.5);
    close(through(panes(3, amber)), 0.5 ** 1.5);
  });
  it('a pane whose faces came in the wrong way round is a pane again once they are turned', () => {
    const amber = { transmission_color: [0.5, 0.5, 0.5], transmission_depth: 0.5, specular_weight: 0 };
    const [pane] = panes(1, amber);
    const reversed = { ...pane, mesh: { ...pane.mesh, indices: pane.mesh.indices.slice().reverse() } };
    const apart = Math.abs(through([reversed]).mean - 0.5 ** 0.5);
    expect(apart, 'the light is taken for inside where it is outside').to.be.greaterThan(0.1);
    close(through([{ ...reversed, flags: { facesTurned: true } }]), 0.5 ** 0.5);
  });
  it('a block that is subdivided with creases is the same block', () => {
    // turned by 45 and 35 degrees, so that three of its faces and the lamp through two of them are seen
    const transform = [0.71, 0, 0.71, 0, 0.41, 0.82, -0.41, 0, -0.58, 0.58, 0.58, 0];
    const seen = (flags: TestObject['flags']) => {
      const block = { mesh: slab(1, -0.5, 0.5), surface: { ...GLASS, specular_ior: 1.5 }, transform, flags };
      const bright = { ...lamp, mesh: square(2) };
      const { data } = renderTest({ objects: [block, bright], view: 1.6, environment: { color: [0.1, 0.1, 0.1] }, settings: { width: 24, height: 24, pixelSamples: 16 } }).film; // prettier-ignore
      return Array.from({ length: 576 }, (_, i) => data[i * FILM.stride] / 16);
    };
    const plain = seen({});
    const apart = (other: number[]) => other.reduce((sum, v, i) => sum + Math.abs(v - plain[i]), 0) / 576;
    expect(apart(seen({ subdivisionLevels: 3, creaseAngle: 40 }))).to.be.below(1e-3);
    expect(apart(seen({ subdivisionLevels: 3 }))).to.be.above(0.05);
  });
  it('and through the longer way of a refracted ray', () => {
    const angle = Math.PI / 3;
    const inside = Math.asin(Math.sin(angle) / 1.5);
    const camera = {
      transform: [
        Math.cos(angle),
        0,
        Math.sin(angle),
        10 * Math.sin(angle),
        0,
        1,
        0,
        0,
        -Math.sin(angle),
        0,
        Math.cos(angle),
        10 * Math.cos(angle),
      ],
      verticalAngle: 0.05,
    };
    const amber = {
      ...GLASS,
      specular_ior: 1.5,
      specular_weight: 0,
      transmission_color: [0.3, 0.3, 0.3],
      transmission_depth: 0.4,
    };
    const wide = { ...lamp, mesh: square(200) };
    const seen = renderTest({
      objects: [{ mesh: slab(30, -0.2, 0.2), surface: amber }, wide],
      camera,
      settings: { pixelSamples: 16 },
    });
    close(seen, Math.exp((Math.log(0.3) / 0.4) * (0.4 / Math.cos(inside))));
  });
  it('reversed faces turn the glass inside out: the light takes another way', () => {
    const whole = slab(2, 0, 0.5);
    const turned = { ...whole, indices: whole.indices.slice().reverse() };
    const camera = {
      transform: [Math.SQRT1_2, 0, Math.SQRT1_2, 7, 0, 1, 0, 0, -Math.SQRT1_2, 0, Math.SQRT1_2, 7],
      verticalAngle: 2,
    };
    const surface = { ...GLASS, transmission_color: [0.2, 0.2, 0.2], transmission_depth: 0.5 };
    const [right, wrong] = [whole, turned].map((mesh) =>
      renderTest({
        objects: [{ mesh, surface }],
        environment: { color: [1, 1, 1] },
        camera,
        settings: { pixelSamples: 64 },
      }),
    );
    expect(right.mean).to.be.below(0.6);
    expect(wrong.mean).to.be.above(right.mean + 0.1);
  });

  for (const [roughness, degrees] of [
    [0.3, 63],
    [0.5, 0],
    [0.7, 80],
    [1, 40],
  ])
    it(`a frosted pane of roughness ${roughness} at ${degrees} degrees stays white in a white environment`, () => {
      const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
      const r = renderTest({
        objects: [{ mesh: square(30), surface: { ...GLASS, specular_ior: 1.5, specular_roughness: roughness, geometry_thin_walled: true } }], // prettier-ignore
        environment: { color: [1, 1, 1] },
        camera: { transform: [c, 0, s, 10 * s, 0, 1, 0, 0, -s, 0, c, 10 * c], verticalAngle: 2 },
        settings: { pixelSamples: 128 },
      });
      expect(r.mean).to.be.closeTo(1, 0.01);
    });
});
