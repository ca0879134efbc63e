// Photometry handbooks: inverse square and cosine laws. Howell, A Catalog of Radiation Heat Transfer Configuration
// Factors: parallel squares and discs. Integrating-sphere theory: L = E / (1 - rho) and its truncated series.
import { expect } from 'chai';
import { compileTest, GLOW, MATT, renderTest, sphere, square, type TestScene } from '../scenes.ts';
import { filmStatistics, frameOf, renderHere } from '@dusting/core/render';
import { NO_CLAMP } from '@dusting/core/scene';

const within = (rendered: { mean: number; error: number }, expected: number, slack = 1e-4) =>
  expect(rendered.mean).to.be.closeTo(expected, 4 * rendered.error + slack * expected);
const floor = { mesh: square(4), surface: { ...MATT, base_color: [0.6, 0.6, 0.6] } };
const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
/** Radiance of a matt floor of albedo 0.6 under an irradiance. */
const reflected = (irradiance: number) => (0.6 / Math.PI) * irradiance;

describe('lights of known irradiance', () => {
  it('a point light follows the inverse square and the cosine law', () => {
    const lit = renderTest({
      objects: [floor],
      lights: [{ kind: 'point', strength: 5, transform: at(1, 0, 2) }],
      view: 1e-4,
    });
    const distance2 = 5;
    within(lit, reflected((5 / distance2) * (2 / Math.sqrt(distance2))));
  });

  it('a parallel and a wide sun give the same irradiance across the beam', () => {
    for (const angle of [0, 0.53, 20])
      within(
        renderTest({ objects: [floor], lights: [{ kind: 'sun', strength: 3, angle }], settings: { pixelSamples: 64 } }),
        reflected(3),
        2e-3,
      );
  });

  it('a spot is dark outside of its cone and whole inside', () => {
    const spot = { kind: 'spot' as const, strength: 4, innerCone: 20, outerCone: 30, transform: at(0, 0, 2) };
    within(renderTest({ objects: [floor], lights: [spot], view: 1e-4 }), reflected(1));
    const aside = { ...spot, transform: at(1.5, 0, 2) };
    expect(renderTest({ objects: [floor], lights: [aside], view: 1e-4 }).mean).to.equal(0);
  });

  // from a small element to a parallel square of half side a at distance h, above its middle
  const squareFactor = (a: number, h: number) => {
    const x = a / h;
    const r = Math.sqrt(1 + x * x);
    return (4 / (2 * Math.PI)) * 2 * (x / r) * Math.atan(x / r);
  };
  const strategies: [string, TestScene['settings']][] = [['light and surface sampling', { pixelSamples: 64 }], ['many light samples', { pixelSamples: 16, lightSamples: 8 }], ['many surface samples', { pixelSamples: 16, diffuseSamples: 8 }]]; // prettier-ignore
  for (const [name, settings] of strategies) {
    it(`a rectangle gives its configuration factor, by ${name}`, () => {
      const lights = [{ kind: 'rectangle' as const, strength: 2, width: 1, height: 1, transform: at(0, 0, 1) }];
      within(
        renderTest({ objects: [floor], lights, view: 1e-4, settings }),
        reflected(2 * Math.PI * squareFactor(0.5, 1)),
        1e-3,
      );
    });
    it(`an emissive mesh of the same shape does too, by ${name}`, () => {
      const panel = { mesh: square(1), surface: GLOW, transform: at(0, 0, 1) };
      // the camera looks from the side, since the panel hides the floor from above
      const camera = { transform: lookFrom([3, 0, 2]), verticalAngle: 0.01 };
      within(
        renderTest({ camera, objects: [floor, panel], settings }),
        reflected(Math.PI * squareFactor(0.5, 1)),
        1e-3,
      );
    });
  }

  it('a sphere gives (r / d)^2', () => {
    const lights = [{ kind: 'sphere' as const, strength: 1.5, radius: 0.5, transform: at(0, 0, 2) }];
    const camera = { transform: lookFrom([3, 0, 2]), verticalAngle: 0.01 };
    within(
      renderTest({ objects: [floor], lights, camera, settings: { pixelSamples: 64 } }),
      reflected(1.5 * Math.PI * 0.0625),
      1e-3,
    );
  });
});

describe('energy', () => {
  const ball = (surface: object, color = [1, 1, 1]): TestScene => ({
    objects: [{ mesh: sphere(1), surface }],
    environment: { color },
    view: 1.9,
    settings: { width: 16, height: 16 },
  });

  const furnace: [string, object, number][] = [
    ['matt', { ...MATT, base_color: [1, 1, 1] }, 2e-3],
    ['polished over white', { base_color: [1, 1, 1], specular_roughness: 0 }, 4e-3],
    ['glossy over white', { base_color: [1, 1, 1], specular_roughness: 0.5 }, 4e-3],
    ['mirror', { base_color: [1, 1, 1], base_metalness: 1, specular_roughness: 0 }, 2e-3],
    ['clear glass', { base_color: [1, 1, 1], transmission_weight: 1, specular_roughness: 0 }, 4e-3],
    [
      'thin glass',
      { base_color: [1, 1, 1], transmission_weight: 1, specular_roughness: 0, geometry_thin_walled: true },
      2e-3,
    ],
  ];
  for (const [name, surface, slack] of furnace)
    it(`white furnace: a ${name} ball of albedo 1 disappears`, () => within(renderTest(ball(surface)), 1, slack));

  it('closed matt enclosure: L = E / (1 - rho), and the series up to n events with a limit of n', () => {
    const inside = (diffuse: number) =>
      renderTest({
        objects: [
          { mesh: sphere(1, 32, false), surface: { ...MATT, base_color: [0.5, 0.5, 0.5], emission_luminance: 1 } },
        ],
        camera: { transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0], verticalAngle: 40 },
        settings: { pixelSamples: 64, depth: { diffuse } },
      });
    for (const n of [0, 1, 2, 4]) within(inside(n), (1 - 0.5 ** (n + 1)) / 0.5, 1e-3);
    within(inside(100), 2, 2e-3);
  });

  it('what a limit cuts off is measured: picture and cut-off light add up to the whole', () => {
    const { compiled, settings } = compileTest({
      ...ball({ base_color: [1, 1, 1], transmission_weight: 1, specular_roughness: 0 }),
      settings: { width: 24, height: 24, pixelSamples: 64, depth: { transmission: 1 } },
    });
    const statistics = filmStatistics(renderHere(compiled, settings, frameOf(settings)), 1);
    expect(statistics.cutOff.transmission).to.be.above(0.3);
    expect(statistics.cutOff.total).to.equal(0);
    expect(statistics.meanLuminance + statistics.cutOff.transmission).to.be.closeTo(1, 0.03);
  });

  it('the total limit bites first where both are met, and a clamp keeps account of what it takes', () => {
    const glass = ball({ base_color: [1, 1, 1], transmission_weight: 1, specular_roughness: 0 });
    const total = renderTest({
      ...glass,
      settings: { width: 16, height: 16, depth: { total: 1, transmission: 1 } },
    }).statistics;
    expect(total.cutOff.total).to.be.above(0.3);
    expect(total.cutOff.transmission).to.equal(0);
    const open = renderTest(ball({ ...MATT, base_color: [1, 1, 1] })).statistics;
    const clamped = renderTest({
      ...ball({ ...MATT, base_color: [1, 1, 1] }),
      settings: { width: 16, height: 16, clamp: { ...NO_CLAMP, direct: 0.25, indirect: 0.25 } },
    }).statistics;
    expect(clamped.meanLuminance).to.be.below(0.75 * open.meanLuminance);
    expect(clamped.meanLuminance + clamped.cutOff.clamp).to.be.closeTo(open.meanLuminance, 1e-6);
    // a clamp of one component takes from that alone
    const by = (kind: 'diffuse' | 'specular') => renderTest({ ...ball({ ...MATT, base_color: [1, 1, 1] }), settings: { width: 16, height: 16, clamp: { ...NO_CLAMP, [kind]: 0.25 } } }).statistics.meanLuminance; // prettier-ignore
    expect(by('diffuse')).to.equal(clamped.meanLuminance);
    expect(by('specular')).to.equal(open.meanLuminance);
  });
});

/** A camera at a place, looking at the origin, up along +Z as far as possible. */
function lookFrom(p: number[]): number[] {
  const unit = (v: number[]) => v.map((c) => c / Math.hypot(...v));
  const cross = (u: number[], v: number[]) => [
    u[1] * v[2] - u[2] * v[1],
    u[2] * v[0] - u[0] * v[2],
    u[0] * v[1] - u[1] * v[0],
  ];
  const back = unit(p);
  const right = unit(cross([0, 0, 1], back));
  const up = cross(back, right);
  return [0, 1, 2].flatMap((k) => [right[k], up[k], back[k], p[k]]);
}
