// Reach of emissive surfaces, by distance and by events. A reach cuts a disc out of a wide flat emitter, whose
// configuration factor is known (Howell's catalog, B-13: element to coaxial parallel disc, r^2 / (r^2 + h^2)).
import { expect } from 'chai';
import { GLASS, GLOW, MATT, renderTest, slab, square, type TestObject } from '../scenes.ts';

const ALBEDO = 0.6;
const HEIGHT = 1.5;
const RADIUS = 0.8;
const REACH = Math.hypot(HEIGHT, RADIUS);
const FACTOR = RADIUS ** 2 / (RADIUS ** 2 + HEIGHT ** 2);
const floor = { mesh: square(40), surface: { ...MATT, base_color: [ALBEDO, ALBEDO, ALBEDO] } };
const emitter = (emission_reach: number, more: object = {}): TestObject => ({
  mesh: square(3, HEIGHT),
  surface: { ...GLOW, emission_reach, ...more },
  flags: { seenByCamera: false },
});
const render = (objects: TestObject[], pixelSamples = 64) => renderTest({ objects, view: 1e-4, settings: { pixelSamples } }); // prettier-ignore
const within = ({ mean, error }: { mean: number; error: number }, expected: number) =>
  expect(mean).to.be.closeTo(expected, 4 * error + 2e-3 * expected);

describe('reach of an emitter', () => {
  it('by distance: of a wide one a disc is left, whether points on it are chosen or it is met by chance', () => {
    within(render([floor, emitter(REACH)]), ALBEDO * FACTOR);
    expect(render([floor, emitter(0.99 * HEIGHT)]).mean).to.equal(0);
    // behind a thin pane without reflection it is met alone, and the distance is not that to the pane
    const pane = { mesh: slab(20, 0.7, 0.701), surface: { ...GLASS, specular_ior: 1.0001, geometry_thin_walled: true }, flags: { seenByCamera: false } }; // prettier-ignore
    within(render([floor, emitter(REACH), pane], 1024), ALBEDO * FACTOR);
    expect(render([floor, emitter(0.99 * HEIGHT), pane]).mean).to.equal(0);
  });

  it('by events: 0 lights what the camera sees, and no more', () => {
    const open = render([floor, emitter(0)]).mean;
    within(render([floor, emitter(0, { emission_bounces: 0 })]), open);
    // its other side lights a ceiling, which lights the floor past its edges: that comes after one event
    const wall = {
      mesh: square(40, 4),
      surface: { ...MATT, base_color: [0.9, 0.9, 0.9] },
      flags: { seenByCamera: false },
    };
    const all = render([floor, emitter(0), wall], 256);
    const first = render([floor, emitter(0, { emission_bounces: 0 }), wall], 256);
    within(first, open);
    expect(all.mean - first.mean).to.be.above(6 * Math.hypot(all.error, first.error));
  });

  it('smooth glass and mirrors show it from beyond its reach', () => {
    const seen = { ...emitter(0.01), flags: {} };
    expect(render([seen]).mean).to.be.closeTo(1, 1e-9);
    const pane = { mesh: slab(20, 3, 3.001), surface: { ...GLASS, geometry_thin_walled: true } };
    const [near, open] = [render([seen, pane], 256), render([{ ...emitter(0), flags: {} }, pane], 256)];
    expect(near.mean).to.be.closeTo(open.mean, 4 * Math.hypot(near.error, open.error));
  });
});
