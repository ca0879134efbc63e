// Light of a lamp with a shape where shadows are off, tinted or let through. Points on it are chosen and it is met by rays of
// paths (Veach 1997, 9.2): what only one of the two can bring must not be shared between them. The value without any shadow
// is that of the configuration factor (Howell's catalog, element to a parallel rectangle with a corner above it; from memory).
import { expect } from 'chai';
import { GLASS, GLOW, MATT, renderTest, slab, square, type TestObject, type TestScene } from '../scenes.ts';

const HEIGHT = 0.3;
const ALBEDO = 0.6;
const at = (z: number) => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, z];
/** Of a square of side 1 above its middle: four times that of a quarter, from its corner. */
const factor = (() => {
  const a = 0.5 / HEIGHT;
  const part = (a / Math.hypot(1, a)) * Math.atan(a / Math.hypot(1, a));
  return (4 * 2 * part) / (2 * Math.PI);
})();
const LIT = ALBEDO * factor;
const floor: TestObject = { mesh: square(40), surface: { ...MATT, base_color: [ALBEDO, ALBEDO, ALBEDO] } };
const hidden = { seenByCamera: false };
const lamp = {
  kind: 'rectangle' as const,
  width: 1,
  height: 1,
  strength: 1,
  transform: at(HEIGHT),
  seenByCamera: false,
};
const glow: TestObject = { mesh: square(1, HEIGHT), surface: GLOW, flags: hidden };
/** Between floor and lamp, and above half of what the floor sees. */
const lid = (more: object = {}): TestObject => ({ mesh: square(0.4, 0.1), surface: { ...MATT, base_color: [0, 0, 0] }, flags: { ...hidden, ...more } }); // prettier-ignore
const pane: TestObject = { mesh: slab(20, 0.1, 0.101), surface: { ...GLASS, specular_ior: 1.0001 }, flags: hidden };

const expectLit = (scene: TestScene, expected = LIT) => {
  const { mean, error } = renderTest({ view: 1e-4, ...scene, settings: { pixelSamples: 64, ...scene.settings } });
  expect(mean).to.be.closeTo(expected, 4 * error + 3e-3 * expected);
};

describe('shadows that are off, or let light through', () => {
  for (const [name, source] of [
    ['a lamp', { objects: [], lights: [lamp] }],
    ['a glowing mesh', { objects: [glow], lights: [] }],
  ] as const) {
    const scene = (objects: TestObject[], more: Partial<TestScene> = {}): TestScene => ({ objects: [floor, ...source.objects, ...objects], lights: [...source.lights], ...more }); // prettier-ignore
    it(`${name}: glass that lets shadow rays through takes nothing`, () => {
      expectLit(scene([]));
      expectLit(scene([pane], { settings: { clearShadows: 'plain' } }));
      expectLit(scene([pane], { settings: { clearShadows: 'tinted' } }));
      const holes = { ...pane, surface: { ...pane.surface, geometry_opacity: 0.5 } };
      expectLit(scene([holes], { settings: { clearShadows: 'plain', pixelSamples: 256 } }));
    });
    it(`${name}: objects that cast no shadow, or receive none`, () => {
      expectLit(scene([lid({ castsShadows: false })]));
      expectLit({
        ...scene([lid()]),
        objects: [{ ...floor, flags: { receivesShadows: false } }, ...source.objects, lid()],
      });
    });
  }
  it('frosted glass is passed once: by the shadow ray, or by the path that asks behind it', () => {
    const frosted = (more: object): TestObject => ({ ...pane, surface: { ...GLASS, specular_ior: 1.0001, specular_roughness: 0.5, ...more } }); // prettier-ignore
    for (const geometry_thin_walled of [false, true])
      expectLit({ objects: [floor, frosted({ geometry_thin_walled })], lights: [lamp], settings: { clearShadows: 'plain', pixelSamples: 256 } }); // prettier-ignore
    // seen by the camera it is as bright as without clear shadows
    const seen = { ...frosted({ geometry_thin_walled: true, specular_ior: 1.5 }), mesh: square(20, 0.1), flags: {} };
    const behind = { ...lamp, transform: [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, -1, -0.2] };
    const view = (clearShadows: 'off' | 'plain') => renderTest({ objects: [seen], lights: [behind], view: 1e-4, settings: { clearShadows, pixelSamples: 256 } }); // prettier-ignore
    const [open, clear] = [view('off'), view('plain')];
    expect(clear.mean).to.be.closeTo(open.mean, 4 * Math.hypot(open.error, clear.error));
  });
  it('what stands outside of the range of a lamp throws no shadow, and inside of it the same as ever', () => {
    // rays from the middle meet the lid after 0.1 to 0.3 m
    const ranged = (shadowFrom: number, shadowTo: number, more: object = {}): TestScene => ({ objects: [floor, { ...lid(), ...more }], lights: [{ ...lamp, shadowFrom, shadowTo }] }); // prettier-ignore
    expectLit(ranged(0, 0.05));
    expectLit(ranged(0.35, 0));
    const holes = { surface: { ...MATT, base_color: [0, 0, 0], geometry_opacity: 0.5 } };
    expectLit(ranged(0.35, 0, holes));
    const whole = renderTest({ view: 1e-4, ...ranged(0, 0), settings: { pixelSamples: 256 } });
    expect(whole.mean).to.be.below(0.6 * LIT);
    expectLit({ ...ranged(0.05, 0.35), settings: { pixelSamples: 256 } }, whole.mean);
    const far = ranged(0, 0.05);
    expectLit({ ...far, lights: [{ kind: 'sun', strength: 1, shadowTo: 0.05 }] }, ALBEDO / Math.PI);
  });
  it('a lamp without shadows, and one whose shadows are half as bright', () => {
    expectLit({ objects: [floor, lid()], lights: [{ ...lamp, castsShadows: false }] });
    const dark = renderTest({ objects: [floor, lid()], lights: [lamp], view: 1e-4, settings: { pixelSamples: 256 } });
    expectLit({ objects: [floor, lid()], lights: [{ ...lamp, shadowColor: [0.5, 0.5, 0.5] }] }, (LIT + dark.mean) / 2);
  });
});
