// Lights that stand in for a glowing mesh. From afar a convex body of even radiance sends out, towards each side, its
// radiance times its silhouette, and a quarter of its surface in the mean (Cauchy 1850).
import { expect } from 'chai';
import { emitterShine, compileScene, renderHere, frameOf, filmStatistics } from '@dusting/core/render';
import { patchShot } from '@dusting/core/scene';
import { standInCure, isOnlySmooth } from '../../src/diagnose/fireflies/standInCure.ts';
import { standInLights } from '../../src/diagnose/fireflies/standInLights.ts';
import { GLASS, GLOW, makeShot, MATT, slab, sphere, square, type TestObject, type TestScene } from '../scenes.ts';

/** Turned about all axes, so that nothing lies along them; 2 m above the floor. */
const [c, s] = [Math.cos(0.5), Math.sin(0.5)];
const placed = [c, -s * c, s * s, 0.3, s, c * c, -c * s, -0.2, 0, s, c, 2];
const bodies = {
  ball: { mesh: sphere(0.1, 48), silhouette: [Math.PI * 0.01, Math.PI * 0.01], mean: Math.PI * 0.01, extents: [0.2, 0.2, 0.2] }, // prettier-ignore
  sheet: { mesh: square(0.3), silhouette: [0, 0.09], mean: 0.045, extents: [0.3, 0.3, 0] },
  slab: { mesh: slab(0.3, 0, 0.06), silhouette: [0.018, 0.0937], mean: (2 * 0.09 + 4 * 0.018) / 4, extents: [0.3, 0.3, 0.06] }, // prettier-ignore
  rod: { mesh: slab(0.06, 0, 0.36), silhouette: [0.0036, 0.0312], mean: (2 * 0.0036 + 4 * 0.0216) / 4, extents: [0.36, 0.06, 0.06] }, // prettier-ignore
};
const floor: TestObject = { mesh: square(40), surface: { ...MATT, base_color: [0.6, 0.6, 0.6] } };
const sceneOf = ({ mesh }: { mesh: TestObject['mesh'] }, more: TestObject[] = []): TestScene => ({
  objects: [floor, { mesh, surface: { ...GLOW, emission_luminance: 8, emission_color: [1, 0.5, 0.25] }, transform: placed }, ...more], // prettier-ignore
  view: 0.4,
  settings: { width: 8, height: 8, pixelSamples: 128, clearShadows: 'plain' },
});
function open(scene: TestScene) {
  const { blobs, document } = makeShot(scene);
  const compile = (of = document) => compileScene(of, of.final, (id) => blobs.get(id)!);
  return { document, compiled: compile(), mean: (of = document) => filmStatistics(renderHere(compile(of), of.final, frameOf(of.final)), 1).meanLuminance }; // prettier-ignore
}

describe('light that stands in for a glowing mesh', () => {
  for (const [name, body] of Object.entries(bodies))
    it(`${name}: intensity by direction, and the floor below within 2 %`, async () => {
      const { compiled, document, mean } = open(sceneOf(body));
      const shine = emitterShine(compiled, document, document.final, 'o1');
      const red = shine.intensities.map(([r]) => r / 8);
      for (const value of red) expect(value).to.be.within(0.97 * body.silhouette[0], 1.02 * body.silhouette[1]);
      expect(red.reduce((a, b) => a + b) / red.length).to.be.closeTo(body.mean, 0.015 * body.mean);
      for (const [r, g, b] of shine.intensities) expect([g / r, b / r].map((v) => v.toFixed(3))).to.deep.equal(['0.500', '0.250']); // prettier-ignore
      shine.extents.forEach((extent, k) => expect(extent).to.be.closeTo(body.extents[k], 0.12 * body.extents[0]));
      const { least, most } = standInLights(shine, name);
      expect(least).to.be.within(0.85, 1);
      expect(most).to.be.within(1, 1.12);
      const cure = (await standInCure(compiled, document, document.final, 'o1'))!;
      const [before, after] = [mean(), mean(patchShot(document, cure.patch))];
      // seen from one side a rod may differ as much as is said
      expect(after / before).to.be.within(Math.min(0.98, cure.least), Math.max(1.02, cure.most));
      if (name === 'ball' || name === 'sheet') expect(after / before).to.be.within(0.98, 1.02);
    });

  it('leaves clear glass to the mesh, which lights nothing else and casts no shadow; ids stay free', async () => {
    const around = { mesh: sphere(0.4, 32), surface: GLASS, transform: placed };
    const { compiled, document } = open(sceneOf(bodies.ball, [around]));
    document.lights['stand-in-o1-1'] = { ...document.lights.l0, kind: 'point' } as never;
    const { patch } = (await standInCure(compiled, document, document.final, 'o1'))!;
    const added = patch.filter(({ op }) => op === 'add') as { path: string; value: { linked: string[]; seenByCamera: boolean } }[]; // prettier-ignore
    expect(added.map(({ path }) => path)).to.deep.equal(['/lights/stand-in-o1-1-2']);
    expect(added[0].value).to.deep.include({ linked: ['o0'], seenByCamera: false });
    expect(patch).to.deep.include({ op: 'replace', path: '/objects/o1/castsShadows', value: false });
    expect(patch.at(-1)).to.include({ path: '/surfaces/s1/emission_reach' });
    const surfaces = Object.values(document.surfaces);
    expect(surfaces.map(isOnlySmooth)).to.deep.equal([false, false, true]);
    expect(isOnlySmooth({ ...surfaces[2], specular_roughness: 0.2 })).to.equal(false);
  });

  it('is no cure for what moves or emits nothing', async () => {
    const { compiled, document } = open(sceneOf(bodies.ball));
    document.objects.o1.laterTransforms = [placed];
    expect(await standInCure(compiled, document, document.final, 'o1')).to.equal(null);
    expect(() => emitterShine(compiled, document, document.final, 'o0')).to.throw('the object emits nothing');
  });
});
