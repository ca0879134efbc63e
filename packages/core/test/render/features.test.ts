// Each thing that can be switched on, against a value that is known without it: configuration factors of Howell's
// catalog, Fresnel's and Snell's laws, geometry. Occlusion: 1/2 beside an infinite wall and the factor of a parallel
// disc (view-factor catalogue), 0 in a closed room.
import { expect } from 'chai';
import { writeHdr } from '@dusting/core/formats';
import { TEXTURE_DEFAULTS, type Surface, type TextureRef } from '@dusting/core/scene';
import { compileScene, FILM, filmStatistics, frameOf, PathTracer, renderHere, type Film } from '@dusting/core/render';
import {
  compileTest,
  GLASS,
  GLOW,
  makeShot,
  MATT,
  renderTest,
  slab,
  sphere,
  square,
  type TestScene,
} from '../scenes.ts';

const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
const floor = { mesh: square(40), surface: { ...MATT, base_color: [0.6, 0.6, 0.6] } };
const within = (r: { mean: number; error: number }, expected: number, slack = 2e-3) =>
  expect(r.mean).to.be.closeTo(expected, 4 * r.error + slack * Math.abs(expected) + 1e-9);
const lamp = { kind: 'point' as const, strength: 5, transform: at(0, 0, 2) };
const lit = (0.6 / Math.PI) * (5 / 4);
const meanOf = ({ data }: Film, slot: number, count: number) => {
  let [sum, samples] = [0, 0];
  for (let i = 0; i < data.length; i += FILM.stride) {
    sum += data[i + slot];
    samples += data[i + count];
  }
  return sum / samples;
};

describe('lights: what they reach', () => {
  const render = (light: object, more: Partial<TestScene> = {}) =>
    renderTest({ objects: [floor], lights: [{ ...lamp, ...light }], view: 1e-4, ...more });
  // a small lid between the light and the point that the camera sees past
  const BLACK = { ...MATT, base_color: [0, 0, 0] };
  const lid = { mesh: square(0.2), surface: BLACK, transform: at(0, 0, 1), flags: { seenByCamera: false } };

  it('a stop doubles, beyond the reach there is nothing', () => {
    within(render({ exposure: 1 }), 2 * lit);
    within(render({ reach: 2.1 }), lit);
    expect(render({ reach: 1.9 }).mean).to.equal(0);
  });
  it('is linked to objects, and to the first bounces', () => {
    within(render({ linked: ['o0'] }), lit);
    expect(render({ linked: [] }).mean).to.equal(0);
    const walls = { objects: [floor, { mesh: square(40), surface: floor.surface, transform: [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, -1, 3] as number[] }] }; // prettier-ignore
    const all = renderTest({ ...walls, lights: [lamp], view: 1e-4, camera: undefined, settings: { pixelSamples: 64 } });
    const direct = renderTest({
      ...walls,
      lights: [{ ...lamp, bounces: 0 }],
      view: 1e-4,
      settings: { pixelSamples: 64 },
    });
    expect(all.mean).to.equal(direct.mean); // the camera stands above the ceiling: nothing but darkness
  });
  it('casts shadows, coloured ones, or none; objects cast or receive none', () => {
    const objects = [floor, lid];
    expect(render({}, { objects }).mean).to.equal(0);
    within(render({ castsShadows: false }, { objects }), lit);
    within(render({ shadowColor: [0.25, 0.25, 0.25] }, { objects }), 0.25 * lit);
    within(render({}, { objects: [floor, { ...lid, flags: { ...lid.flags, castsShadows: false } }] }), lit);
    within(render({}, { objects: [{ ...floor, flags: { receivesShadows: false } }, lid] }), lit);
    const shadow = renderTest({ objects, lights: [lamp], view: 1e-4 }).film;
    expect(meanOf(shadow, FILM.shadow + 1, FILM.samples)).to.be.closeTo(lit, 1e-3 * lit);
  });
  it('a disc above a floor: the factor of coaxial parallel discs, element to disc (Howell B-13)', () => {
    const [radius, height] = [0.8, 1.5];
    const disc = { kind: 'disc' as const, radius, transform: at(0, 0, height), strength: 2 };
    const factor = radius ** 2 / (radius ** 2 + height ** 2);
    within(renderTest({ objects: [floor], lights: [{ ...disc, seenByCamera: false }], view: 1e-4, settings: { pixelSamples: 64 } }), 0.6 * 2 * factor); // prettier-ignore
  });
  it('twenty lamps chosen from a tree give the sum of their single pictures', () => {
    const lamps = Array.from({ length: 20 }, (_, i) => ({ ...lamp, strength: 1 + i, transform: at(Math.cos(i) * 2, Math.sin(i * 2), 1 + (i % 3)) })); // prettier-ignore
    const sum = lamps.reduce((total, l) => total + renderTest({ objects: [floor], lights: [l], view: 1e-4, settings: { pixelSamples: 1, width: 1, height: 1 } }).mean, 0); // prettier-ignore
    within(renderTest({ objects: [floor], lights: lamps, view: 1e-4, settings: { pixelSamples: 64 } }), sum, 1e-3);
  });
  it('light groups add up to the picture', () => {
    const lights = [
      { ...lamp, group: 'a' },
      { ...lamp, group: 'b', strength: 2, transform: at(1, 0, 2) },
    ];
    const { film, mean } = renderTest({ objects: [floor], lights, environment: { color: [0.1, 0.1, 0.1] } });
    const groups = [0, 1, 2].map((g) => meanOf(film, FILM.group + g * 3 + 1, FILM.samples));
    expect(Math.min(...groups)).to.be.above(0.01);
    expect(groups.reduce((s, g) => s + g, 0)).to.be.closeTo(mean, 1e-6);
  });
  it('a gradient sky: the irradiance of its linear law; the camera may see another background', () => {
    const gradient = { zenith: [1, 1, 1], horizon: [0.4, 0.4, 0.4], ground: [0, 0, 0] };
    // integral of (h + (z - h) cos) cos over the hemisphere: pi (h + 2 (z - h) / 3); up is +Y
    const ceiling = { mesh: square(40), surface: floor.surface, transform: [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0] };
    const camera = { transform: [1, 0, 0, 0, 0, 0, 1, 5, 0, -1, 0, 0], verticalAngle: 1 };
    within(renderTest({ objects: [ceiling], camera, environment: { gradient }, settings: { pixelSamples: 64 } }), 0.6 * (0.4 + 0.4), 4e-3); // prettier-ignore
    const away = { transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 50], verticalAngle: 1 };
    const small = { mesh: square(1e-3), surface: MATT, transform: at(900, 0, 0) };
    expect(renderTest({ objects: [small], camera: away, environment: { color: [1, 1, 1], background: [0.2, 0.2, 0.2] } }).mean).to.be.closeTo(0.2, 1e-6); // prettier-ignore
  });
});

describe('surfaces that let light pass', () => {
  const behind = { mesh: square(40), surface: GLOW };
  const pane = (surface: Partial<Surface>, flags = {}) => ({ mesh: square(20, 1), surface: { ...MATT, base_color: [0, 0, 0], ...surface }, flags }); // prettier-ignore

  it('opacity is a share, a cutoff makes holes, back faces of single-sided objects are not there', () => {
    const many = { settings: { pixelSamples: 256 } };
    within(renderTest({ objects: [behind, pane({ geometry_opacity: 0.3 })], ...many }), 0.7);
    expect(renderTest({ objects: [behind, pane({ geometry_opacity: 0.3, opacity_cutoff: 0.5 })] }).mean).to.equal(1);
    expect(renderTest({ objects: [behind, pane({ geometry_opacity: 0.6, opacity_cutoff: 0.5 })] }).mean).to.equal(0);
    const turned = { ...pane({}), transform: [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, -1, 2] };
    expect(renderTest({ objects: [behind, turned] }).mean).to.equal(0);
    expect(renderTest({ objects: [behind, { ...turned, flags: { doubleSided: false } }] }).mean).to.equal(1);
  });
  it('shadows of half-opaque surfaces are half, of glass whole, none or tinted as asked', () => {
    const cover = (surface: Partial<Surface>, clearShadows: 'off' | 'plain' | 'tinted' = 'off') =>
      renderTest({
        objects: [floor, { mesh: slab(2, 0.9, 1), surface, flags: { seenByCamera: false } }],
        lights: [lamp],
        view: 1e-4,
        settings: { clearShadows },
      });
    within(cover({ ...MATT, base_color: [0, 0, 0], geometry_opacity: 0.5 }), 0.25 * lit);
    const honey = { ...GLASS, transmission_tint: [0.5, 0.5, 0.5] };
    expect(cover(honey).mean).to.equal(0);
    within(cover(honey, 'plain'), lit, 0.015); // the underside of the glass reflects a little light back
    within(cover(honey, 'tinted'), 0.25 * lit, 0.015);
  });
  it('a map that tints glass tints its shadow as well', () => {
    const pane = {
      mesh: square(2, 1),
      surface: { ...GLASS, geometry_thin_walled: true },
      flags: { seenByCamera: false },
    };
    const { blobs, document } = makeShot({ objects: [floor, pane], lights: [lamp], view: 1e-4, settings: { clearShadows: 'tinted' } }); // prettier-ignore
    const blob = 'e'.repeat(64);
    blobs.set(blob, writeHdr(2, 2, new Float32Array(12).fill(0.5)));
    document.textures.gray = { ...structuredClone(TEXTURE_DEFAULTS), name: 'gray', blob, width: 2, height: 2, encoding: 'linear' } as TextureRef; // prettier-ignore
    document.surfaces.s1.maps.base_color = 'gray';
    const film = renderHere(compileScene(document, document.final, (id) => blobs.get(id)!), document.final, frameOf(document.final)); // prettier-ignore
    within({ mean: filmStatistics(film, 1).meanLuminance, error: 0 }, 0.5 * lit, 0.03); // the pane reflects a little light back
  });
  it('honey that reaches into its jar is one boundary of glass and honey; with the same index it is not seen at all', () => {
    // slabs 0..1 of glass and 0.9..2 of the same glass: as one slab 0..2
    const one = [behind, { mesh: slab(20, 0.5, 2), surface: GLASS }];
    const two = [behind, { mesh: slab(20, 0.5, 1), surface: GLASS }, { mesh: slab(20.5, 0.9, 2), surface: GLASS }];
    const settings = { pixelSamples: 64 };
    const whole = renderTest({ objects: one, settings });
    within(renderTest({ objects: two, settings }), whole.mean, 1e-3);
    within(whole, 0.96 / 1.04, 5e-3); // Stokes 1862
  });
  it('a camera inside of a body of water sees no boundary where it stands', () => {
    const water = { ...GLASS, specular_ior: 1.33, transmission_color: [0.5, 0.5, 0.5], transmission_depth: 1 };
    const seen = renderTest({ objects: [{ mesh: square(40, 0), surface: GLOW }, { mesh: slab(60, -1, 20), surface: water }], view: 0.1 }); // prettier-ignore
    within(seen, 0.5 ** 10, 1e-3); // ten metres of water from the camera to the light
  });
  it('dispersion splits a beam, and keeps white light white where nothing is bent', () => {
    const glass = { ...GLASS, transmission_dispersion_scale: 1, transmission_dispersion_abbe_number: 20 };
    const flat = renderTest({
      objects: [behind, { mesh: slab(20, 0.5, 1), surface: glass }],
      settings: { pixelSamples: 243 },
    });
    const [r, g, b] = [0, 1, 2].map((k) => meanOf(flat.film, FILM.beauty + k, FILM.samples));
    for (const c of [r, g, b]) expect(c).to.be.closeTo(0.96 / 1.04, 0.012);
    expect(b).to.be.below(r); // blue has the greater index and loses more by reflection
  });
});

describe('rays', () => {
  it('near and far clip what the camera sees, not what lights it', () => {
    const camera = { transform: at(0, 0, 10), verticalAngle: 1 };
    const objects = [
      { mesh: square(9), surface: GLOW },
      { mesh: square(9, 4), surface: { ...GLOW, emission_luminance: 3 } },
    ];
    expect(renderTest({ objects, camera }).mean).to.be.closeTo(3, 1e-6);
    expect(renderTest({ objects, camera: { ...camera, near: 6.5 } }).mean).to.be.closeTo(1, 1e-6);
    expect(renderTest({ objects, camera: { ...camera, far: 5 } }).mean).to.equal(0);
  });
  it('a ray distance ends rays in the sky', () => {
    const box = { objects: [floor, { mesh: slab(30, -20, 12), surface: { ...MATT, base_color: [0, 0, 0] } }], environment: { color: [1, 1, 1] }, view: 1e-4 }; // prettier-ignore
    expect(renderTest(box).mean).to.equal(0);
    expect(renderTest({ ...box, settings: { rayDistance: 2, pixelSamples: 64 } }).mean).to.be.above(0.2);
  });
  it('a moving square covers each place as long as it stands there', () => {
    // a square of 2 m crosses the view of 0.1 m within the first half of the interval's 4 m
    const moving = { mesh: square(2, 1), surface: GLOW, flags: { laterTransforms: [at(4, 0, 0)] } };
    const seen = renderTest({ objects: [moving], view: 1e-3, settings: { pixelSamples: 256 } });
    within(seen, 0.25, 5e-3);
  });
  it('the roughness floor blurs what is seen after a first bounce, and nothing that the camera sees itself', () => {
    const mirror = { mesh: square(40), surface: { base_metalness: 1, specular_roughness: 0, base_color: [1, 1, 1] } };
    const scene = { objects: [mirror], environment: { color: [1, 1, 1] }, settings: { roughnessFloor: 0.5 } };
    within(renderTest(scene), 1, 1e-6);
  });
});

describe('occlusion', () => {
  const occlusion = (objects: TestScene['objects'], settings: object) => {
    const { compiled, settings: whole } = compileTest({ objects, environment: { color: [1, 1, 1] }, view: 1e-4 });
    const full = { ...whole, pixelSamples: 16, occlusion: { ...whole.occlusion, samples: 16, ...settings } };
    return meanOf(renderHere(compiled, full, frameOf(full)), FILM.occlusion, FILM.surfaceSamples);
  };
  const wall = { mesh: square(4000), surface: MATT, transform: [0, 0, 1, 1e-3, 0, 1, 0, 0, -1, 0, 0, 0] };
  it('is half open beside an infinite wall, and closed in a room', () => {
    expect(occlusion([floor], {})).to.equal(1);
    expect(occlusion([floor, wall], {})).to.be.closeTo(0.5, 0.01);
    expect(occlusion([floor, { mesh: slab(30, -5, 12), surface: MATT }], {})).to.equal(0);
  });
  it('below a disc is closed by its view factor; a distance, a cone and clear surfaces change that as they say', () => {
    const disc = {
      mesh: sphere(1, 64),
      surface: GLASS,
      transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1e-3, 1],
      flags: { seenByCamera: false },
    };
    expect(1 - occlusion([floor, disc], {})).to.be.closeTo(0.5, 0.01); // r^2 / (r^2 + h^2)
    expect(occlusion([floor, disc], { distance: 0.9 })).to.equal(1);
    expect(occlusion([floor, disc], { cone: 40 })).to.equal(0);
    expect(occlusion([floor, disc], { clearSurfaces: false })).to.equal(1);
    const soft = occlusion([floor, disc], { distance: 2, falloff: 1 });
    expect(soft).to.be.within(0.7, 0.95);
  });
});

describe('replay', () => {
  it('gives the vertices of a sample: camera, glass in and out, the light behind', () => {
    const scene = { objects: [{ mesh: square(40), surface: GLOW }, { mesh: slab(20, 0.5, 1), surface: { ...GLASS, specular_weight: 1 } }] }; // prettier-ignore
    const { compiled, settings } = compileTest(scene);
    const tracer = new PathTracer(compiled, settings);
    const vertices = tracer.replay(3, 4, 0).filter((v) => v.branch === null || v.branch === 'transmission');
    expect(vertices[0]).to.include({ object: 'o1', branch: null, inside: false });
    expect(vertices[1]).to.include({ object: 'o1', branch: 'transmission', lobe: 'transmission', density: 0 });
    const second = vertices[2];
    expect(second).to.include({ object: 'o1', inside: true, event: 1, component: 'transmission' });
    expect(second.position[2]).to.be.closeTo(0.5, 1e-4);
    expect(tracer.replay(3, 4, 0)).to.deep.equal(tracer.replay(3, 4, 0));
  });

  it('leaves no trace in what is rendered after it', () => {
    const { compiled, settings } = compileTest({ objects: [{ mesh: square(40), surface: MATT }], environment: { color: [1, 1, 1] } }); // prettier-ignore
    const [fresh, used] = [0, 1].map(() => new PathTracer(compiled, settings));
    used.replay(3, 4, 0);
    const [wanted, found] = [fresh, used].map((tracer) => {
      const data = new Float64Array(FILM.stride);
      tracer.renderPixel(3, 4, 5, 1, data, 0, () => 0);
      return data;
    });
    expect(found).to.deep.equal(wanted);
    expect(wanted[FILM.beauty]).to.be.above(0);
  });
});
