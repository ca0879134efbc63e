// Noise of glass by the way of its light: scenes in which one way alone brings it. The variance of all of it together is held
// against that of the samples of a render.
import { expect } from 'chai';
import { FILM, frameOf, renderHere } from '@dusting/core/render';
import { glassNoise, GLASS_WAYS, type GlassWay } from '../../src/diagnose/glass/glassNoise.ts';
import { contextOf, explained } from '../diagnosisBench.ts';
import { compileTest, GLASS, GLOW, makeShot, MATT, sphere, square, type TestObject, type TestScene } from '../scenes.ts'; // prettier-ignore

const settings = { width: 20, height: 20, pixelSamples: 64 };
const floor: TestObject = { mesh: square(6), surface: MATT };
const pane = (surface: object): TestObject => ({ mesh: square(3, 1), surface: { ...GLASS, geometry_thin_walled: true, ...surface } }); // prettier-ignore
const at = (x: number, z: number) => [1, 0, 0, x, 0, 1, 0, 0, 0, 0, 1, z];
/** Shines down, wide. */
const panel = { kind: 'rectangle' as const, strength: 5, width: 3, height: 3, transform: at(2.5, 3) };
/** Over the floor, and a glowing square over it: the camera sees neither, and shadow rays do not pass. */
const ball: TestObject = { mesh: sphere(0.4, 24), surface: { ...GLASS, specular_ior: 1.5 }, transform: at(0, 0.6), flags: { seenByCamera: false } }; // prettier-ignore
const glowing: TestObject = { mesh: square(1), surface: { ...GLOW, emission_luminance: 5 }, transform: [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, -1, 3], flags: { seenByCamera: false } }; // prettier-ignore
const black = { ...MATT, base_weight: 0 };

const CASES: [GlassWay, string, TestScene][] = [
  ['reflected', 'rough glass before a black floor, under a lamp', { objects: [{ ...floor, surface: black }, pane({ specular_roughness: 0.5 })], lights: [{ kind: 'sphere', radius: 0.5, strength: 9, transform: at(0.5, 4), seenByCamera: false }], view: 1, settings }], // prettier-ignore
  ['through', 'a frosted pane before a sky that is bright on one side', { objects: [pane({ specular_roughness: 0.6 })], environment: { gradient: { zenith: [4, 4, 4], horizon: [0.5, 0.5, 0.5], ground: [0, 0, 0] } }, view: 1, settings }], // prettier-ignore
  ['behind', 'a clear pane over a floor below a wide panel', { objects: [floor, pane({})], lights: [panel], view: 1, settings: { ...settings, clearShadows: 'plain' } }], // prettier-ignore
  ['caustic', 'a ball of glass over the floor, and a glowing square over it', { objects: [floor, ball, glowing], view: 0.4, settings }], // prettier-ignore
];

describe('noise of glass', function () {
  this.timeout(60_000);
  for (const [way, name, scene] of CASES)
    it(`${name}: ${way}`, async () => {
      const { compiled, settings: own } = compileTest(scene);
      const { document } = makeShot(scene);
      const noise = (await glassNoise(compiled, document, own, frameOf(own), async () => {}))!;
      const [lead] = [...GLASS_WAYS].sort((a, b) => noise.shares[b] - noise.shares[a]);
      expect(lead, JSON.stringify(noise.shares)).to.equal(way);
      expect(noise.shares[way]).to.be.above(0.7);
      expect(GLASS_WAYS.reduce((sum, w) => sum + noise.shares[w], 0)).to.be.closeTo(1, 1e-9);
      if (way === 'caustic') return; // rare and bright: eight samples do not tell its variance
      const { data, stride } = renderHere(compiled, own, frameOf(own));
      let variance = 0;
      for (let i = 0; i < data.length; i += stride) {
        const n = data[i + FILM.samples];
        const y = 0.2126 * data[i] + 0.7152 * data[i + 1] + 0.0722 * data[i + 2];
        variance += (data[i + FILM.beauty + 6] - (y * y) / n) / (n - 1);
      }
      expect(noise.variance / (variance / (data.length / stride))).to.be.within(0.7, 1.4);
    });

  it('the glass diagnosis tells it, with what answers it', async () => {
    const { blobs, document } = makeShot(CASES[2][2]);
    const result = await explained('glass', contextOf(document, blobs));
    expect(result.summary).to.match(
      /\d+ % of the noise here comes from light of one kind: surfaces seen through glass\. It is reduced by transmission samples/,
    );
  });
});
