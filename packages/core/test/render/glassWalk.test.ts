// The walk through glass against closed forms: interface counts of stacks and nested spheres, Snell's law, Beer-Lambert along
// refracted lengths, Fresnel at normal incidence, and the critical angle asin(1 / 1.5) = 41.8 degrees.
import { expect } from 'chai';
import { GlassWalk, MOST_INTERFACES, STEP, WALK_END } from '@dusting/core/render';
import { compileTest, GLASS, GLOW, MATT, slab, sphere, square, type TestObject, type TestScene } from '../scenes.ts';

const walked = (scene: TestScene, px = 4, py = 4) => {
  const { compiled, settings } = compileTest({ view: 0.1, ...scene });
  const walk = new GlassWalk(compiled, settings);
  return { walk, isGlass: walk.walk(px, py) };
};
const wall: TestObject = { mesh: square(200, -50), surface: GLOW };
const turned = (degrees: number) => {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return [c, 0, s, 0, 0, 1, 0, 0, -s, 0, c, 0];
};

describe('walk through glass', () => {
  for (const count of [1, 4, 20])
    for (const degrees of [0, 60, 85])
      it(`a stack of ${count} boxes at ${degrees} degrees has ${2 * count} interfaces`, () => {
        const boxes = Array.from({ length: count }, (_, i) => ({ mesh: slab(60, -i * 0.02 - 0.01, -i * 0.02), surface: GLASS, transform: turned(degrees) })); // prettier-ignore
        const { isGlass, walk } = walked({ objects: [...boxes, wall] });
        expect(isGlass).to.equal(true);
        expect(walk.passes).to.equal(2 * count);
        expect(walk.reflections).to.equal(0);
        expect(walk.end).to.equal(WALK_END.emitter);
      });

  it('concentric spheres that fill each other have two interfaces each; a shell around air has four', () => {
    const ball = (radius: number, n: number, priority: number) => ({ mesh: sphere(radius), surface: { ...GLASS, specular_ior: n, medium_priority: priority } }); // prettier-ignore
    expect(walked({ objects: [ball(1, 1.3, 0), ball(0.6, 1.4, 1), ball(0.3, 1.5, 2), wall] }).walk.passes).to.equal(6);
    const inner = sphere(0.8);
    const hollow = { ...inner, indices: inner.indices.toReversed(), normals: inner.normals!.map((n) => -n) };
    const shell = walked({ objects: [ball(1, 1.5, 0), { mesh: hollow, surface: GLASS }, wall] });
    expect(shell.walk.passes).to.equal(4);
  });

  it('no glass, and glass without end', () => {
    expect(walked({ objects: [{ mesh: square(1), surface: MATT }] }).isGlass).to.equal(false);
    const many = Array.from({ length: 40 }, (_, i) => ({
      mesh: slab(60, -i * 0.02 - 0.01, -i * 0.02),
      surface: GLASS,
    }));
    const { walk } = walked({ objects: many });
    expect(walk.end).to.equal(WALK_END.beyond);
    expect(walk.passes).to.equal(MOST_INTERFACES);
  });

  it('absorbs along the refracted length: thickness / cos of the angle inside', () => {
    const glass = { ...GLASS, transmission_color: [0.5, 0.25, 0.9], transmission_depth: 0.1 };
    for (const degrees of [0, 45]) {
      const { walk } = walked({
        objects: [{ mesh: slab(60, 0, 0.1), surface: glass, transform: turned(degrees) }, wall],
      });
      const inside = Math.asin(Math.sin((degrees * Math.PI) / 180) / 1.5);
      const length = 0.1 / Math.cos(inside);
      expect(walk.distance[1]).to.be.closeTo(length, 1e-5);
      [0.5, 0.25, 0.9].forEach((c, k) => expect(walk.absorbed[k]).to.be.closeTo(c ** (length / 0.1), 1e-4));
    }
  });

  it('tints at each interface, and reflects 4 % of each at normal incidence', () => {
    const glass = { ...GLASS, transmission_tint: [0.8, 0.5, 0] };
    const { walk } = walked({ objects: [{ mesh: slab(60, 0, 0.1), surface: glass }, wall] });
    [0.64, 0.25, 0].forEach((c, k) => expect(walk.tint[k]).to.be.closeTo(c, 1e-12));
    expect(walk.fresnel).to.be.closeTo(0.96 ** 2, 1e-9);
    const pane = walked({
      objects: [{ mesh: square(60), surface: { ...glass, geometry_thin_walled: true } }, wall],
    }).walk;
    expect(pane.passes).to.equal(1);
    expect(pane.fresnel).to.be.closeTo(0.96 / 1.04, 1e-9);
  });

  it('is reflected inside from 41.8 degrees on', () => {
    // a flat face below, met from inside of a half ball through its round side, where rays to the middle are not refracted
    const lens = (degrees: number) =>
      walked({
        objects: [
          { mesh: sphere(1, 256), surface: { ...GLASS, specular_ior: 1.5 } },
          // air of high priority cuts the ball in half
          { mesh: slab(30, -15, 0), surface: { ...GLASS, specular_ior: 1, medium_priority: 9, transmission_tint: [1, 1, 0.99] }, transform: turned(degrees) },
        ],
        view: 1e-4,
      }).walk; // prettier-ignore
    expect([...lens(41.3).kind.subarray(0, 3)])
      .to.include(STEP.through)
      .and.not.include(STEP.reflected);
    expect([...lens(42.3).kind.subarray(0, 2)]).to.include(STEP.reflected);
  });

  it('a ray through a ball is deviated by twice the angle that each side refracts', () => {
    const { walk } = walked({ objects: [{ mesh: sphere(1, 512), surface: { ...GLASS, specular_ior: 1.5 } }, wall], view: 8 / 7 }, 7, 4); // prettier-ignore
    const x = (3.5 / 8) * (8 / 7);
    const y = (0.5 / 8) * (8 / 7);
    const outside = Math.asin(Math.hypot(x, y));
    const inside = Math.asin(Math.hypot(x, y) / 1.5);
    expect(walk.distance[1]).to.be.closeTo(2 * Math.cos(inside), 2e-3);
    const [ax, ay, az, bx, by, bz] = [...walk.place.subarray(0, 6)];
    const turn = Math.acos(-(bz - az) / Math.hypot(bx - ax, by - ay, bz - az));
    expect(turn).to.be.closeTo(outside - inside, 2e-3);
  });
});
