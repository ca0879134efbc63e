// A shot that is moved as a whole, or read in another unit, shows the same picture: what it is made of knows no unit and no
// origin of its own. Each kind of light, a medium, motion, a lens and every range are in it.
import { expect } from 'chai';
import { moveShot, patchShot, scaleShot, transformsOf, type Light } from '@dusting/core/scene';
import { renderShot } from '../diagnosisBench.ts';
import { GLASS, makeShot, MATT, slab, sphere, square, type TestScene } from '../scenes.ts';

const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
const lights: Partial<Light>[] = [
  { kind: 'point', strength: 2, transform: at(1, 0, 2), reach: 4 },
  { kind: 'spot', strength: 3, transform: at(-1, 0, 2), outerCone: 60 },
  { kind: 'sphere', radius: 0.2, strength: 4, transform: at(0, 1, 2), shadowTo: 1.5 },
  { kind: 'rectangle', width: 0.5, height: 0.8, strength: 3, transform: at(0, -1, 2), shadowFrom: 0.2 },
  { kind: 'disc', radius: 0.4, strength: 3, transform: at(1, 1, 2) },
  { kind: 'sun', strength: 0.5, angle: 3 },
];
const scene: TestScene = {
  objects: [
    { mesh: square(8), surface: MATT },
    { mesh: sphere(0.4, 24), surface: { ...GLASS, transmission_color: [0.9, 0.5, 0.2], transmission_depth: 0.3 }, transform: at(-0.4, 0.1, 0.5) },
    { mesh: slab(0.3, 0.4, 0.6), surface: MATT, transform: at(0.5, 0.3, 0.2), flags: { laterTransforms: [at(0.5, 0.5, 0.2)] } },
    { mesh: square(0.3, 1.2), surface: { ...MATT, emission_luminance: 2, emission_reach: 3 }, flags: { seenByCamera: false } },
  ],
  lights,
  view: 2,
  settings: { width: 20, height: 20, pixelSamples: 16, occlusion: { samples: 4, distance: 0.5, falloff: 0, cone: 90, clearSurfaces: true } },
}; // prettier-ignore

describe('a shot moved or scaled as a whole', () => {
  const { blobs, document } = makeShot(scene);
  const whole = renderShot(document, blobs);
  const values = (picture: typeof whole, layer: string) => picture.picture.channels.filter(({ name }) => name.startsWith(layer)).flatMap(({ data }) => [...data]); // prettier-ignore
  for (const [name, patch] of [
    ['64 m to the side and 9 m up', moveShot(document, [64, 0, 9])],
    ['read in centimetres', scaleShot(document, 0.01)],
    ['25.4 times as large', scaleShot(document, 25.4)],
  ] as const)
    it(`${name}: the same picture`, () => {
      const other = renderShot(patchShot(document, patch), blobs);
      expect(other.statistics.meanLuminance).to.be.closeTo(
        whole.statistics.meanLuminance,
        0.005 * whole.statistics.meanLuminance,
      );
      const [before, after] = [values(whole, 'occlusion'), values(other, 'occlusion')];
      expect(before.length).to.be.above(300);
      const apart = before.reduce((sum, v, i) => sum + Math.abs(v - after[i]), 0) / before.length;
      expect(apart, 'occlusion').to.be.below(0.01);
    });
  it('and back is where it was', () => {
    const away = patchShot(document, moveShot(document, [64, -32, 8]));
    const back = patchShot(away, moveShot(away, [-64, 32, -8]));
    for (const [i, [path, m]] of transformsOf(document).entries())
      m.forEach((v, k) => expect(transformsOf(back)[i][1][k], path).to.be.closeTo(v, 1e-12));
  });
});
