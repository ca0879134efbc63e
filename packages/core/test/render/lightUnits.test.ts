// Multiple importance sampling needs one density for both ways to a light (Veach 1997, 9.2): the chance by which a light is
// asked must be the one that is said of it when it is met, and the chances must sum to 1.
import { expect } from 'chai';
import { compileScene } from '@dusting/core/render';
import { hashUnit } from '@dusting/core/math';
import { FEW_LIGHTS } from '../../src/render/compile.ts';
import { LightUnits, SKY, TREE } from '../../src/render/lightUnits.ts';
import { GLOW, IDENTITY, makeShot, MATT, square, type TestScene } from '../scenes.ts';

const at = (i: number) => [1, 0, 0, 6 * hashUnit(i * 3) - 3, 0, 1, 0, 6 * hashUnit(i * 3 + 1) - 3, 0, 0, 1, 1 + 3 * hashUnit(i * 3 + 2)]; // prettier-ignore
const lamp = (i: number) => ({
  kind: 'sphere' as const,
  radius: 0.1,
  strength: 1 + 9 * hashUnit(i + 500),
  transform: at(i),
});
const vertexOf = (i: number) => Float64Array.of(4 * hashUnit(i * 7) - 2, 4 * hashUnit(i * 7 + 1) - 2, 3 * hashUnit(i * 7 + 2), 0, 0, 1); // prettier-ignore

function unitsOf(lamps: number, extra: Partial<TestScene> = {}) {
  const { document, blobs } = makeShot({
    objects: [
      { mesh: square(4), surface: MATT },
      { mesh: square(0.5), surface: GLOW, transform: [...IDENTITY.slice(0, 11), 2] },
    ],
    lights: Array.from({ length: lamps }, (_, i) => lamp(i)),
    environment: { color: [0.2, 0.3, 0.4] },
    ...extra,
  });
  const scene = compileScene(document, document.final, (id) => blobs.get(id)!);
  return { scene, units: new LightUnits(scene) };
}
const sum = (values: Iterable<number>) => [...values].reduce((all, v) => all + v, 0);

describe('lights that are asked', () => {
  it('few lamps stand by themselves, many in a tree with the emissive triangles, the sky alone', () => {
    const few = unitsOf(2).units.items;
    expect(few.filter((i) => i >= 0)).to.deep.equal([0, 1]);
    expect(few).to.include(SKY).and.to.include(TREE);
    expect(unitsOf(FEW_LIGHTS + 30).units.items.filter((i) => i >= 0)).to.deep.equal([]);
    const dark = unitsOf(1, { objects: [{ mesh: square(4), surface: MATT }], environment: { color: [0, 0, 0], strength: 0 } }); // prettier-ignore
    expect(dark.units.items).to.deep.equal([0]);
  });

  for (const lamps of [1, FEW_LIGHTS, FEW_LIGHTS + 40])
    it(`of ${lamps} lamps, at any place: the chances sum to 1, and none is left out`, () => {
      const { scene, units } = unitsOf(lamps);
      const triangles = scene.emitters.densities.length;
      for (let i = 0; i < 50; i++) {
        const vertex = vertexOf(i);
        units.weigh(vertex);
        expect(sum(units.asked)).to.be.closeTo(1, 1e-9);
        const lights = Array.from({ length: lamps }, (_, k) => units.askedFor(k, vertex));
        const emitters = Array.from({ length: triangles }, (_, k) => units.askedInTree(k, vertex));
        expect(sum([...lights, ...emitters, units.askedForSky()]), 'every way to light').to.be.closeTo(1, 1e-6);
        expect(Math.min(...lights, ...emitters, units.askedForSky())).to.be.above(0);
      }
    });

  it('at the first surface each light sample asks every unit once, a tree as often as a few lights', () => {
    const { units } = unitsOf(2);
    units.askAll();
    units.items.forEach((_, i) => expect(units.asked[i]).to.be.at.least(1));
    const { scene, units: many } = unitsOf(FEW_LIGHTS + 40);
    many.askAll();
    const tree = many.items.indexOf(TREE);
    expect(many.asked[tree]).to.equal(FEW_LIGHTS);
    const all = sum(Array.from({ length: FEW_LIGHTS + 40 }, (_, k) => many.askedFor(k, vertexOf(1))));
    const triangles = sum(scene.emitters.densities.map((_, k) => many.askedInTree(k, vertexOf(1))));
    expect(all + triangles, 'shared out among what stands in it').to.be.closeTo(FEW_LIGHTS, 1e-6);
  });

  it('the nearer and the stronger of two equal lamps is asked more often', () => {
    const two = (near: number, far: number, strengths: [number, number]) => {
      const lights = [near, far].map((x, i) => ({ kind: 'sphere' as const, radius: 0.1, strength: strengths[i], transform: [1, 0, 0, x, 0, 1, 0, 0, 0, 0, 1, 1] })); // prettier-ignore
      const { units } = unitsOf(2, { lights, environment: { color: [0, 0, 0], strength: 0 } });
      const vertex = Float64Array.of(0, 0, 0, 0, 0, 1);
      units.weigh(vertex);
      return [units.askedFor(0, vertex), units.askedFor(1, vertex)];
    };
    const [near, far] = two(0.5, 3, [1, 1]);
    expect(near).to.be.above(2 * far);
    const [weak, strong] = two(1, -1, [1, 8]);
    expect(strong).to.be.above(4 * weak);
  });

  it('links and reach by bounces say for whom a lamp is meant', () => {
    const { document, blobs } = makeShot({
      objects: [{ mesh: square(4), surface: MATT }, { mesh: square(1), surface: MATT }],
      lights: [{ kind: 'point', strength: 1, bounces: 1 }],
    }); // prettier-ignore
    const [first, second] = Object.keys(document.objects);
    Object.values(document.lights)[0].linked = [second];
    const scene = compileScene(document, document.final, (id) => blobs.get(id)!);
    const units = new LightUnits(scene);
    const number = (id: string) => scene.objectIds.indexOf(id);
    expect([first, second].map((id) => units.isMeant(0, number(id), 0))).to.deep.equal([false, true]);
    expect(units.isMeant(0, -1, 0), 'a place in a volume').to.equal(true);
    expect(units.isMeant(0, number(second), 40), 'after many bounces').to.equal(false);
  });
});
