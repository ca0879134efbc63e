// Numbers of single precision against the machine's own (IEEE 754), and shots with one thing wrong about their place or size.
import { expect } from 'chai';
import { facing } from '../../src/diagnose/shadow/facing.ts';
import { sidesAndSurfaces } from '../../src/diagnose/shadow/sidesAndSurfaces.ts';
import { placeAndScale, singleSpacing } from '../../src/diagnose/shadow/placeAndScale.ts';
import { compileTest, makeShot, MATT, slab, square, type TestObject, type TestScene } from '../scenes.ts';

const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
const cube = (transform: number[]): TestObject => ({ mesh: slab(0.5, -0.25, 0.25), surface: MATT, transform });
const looked = (objects: TestObject[]) => {
  const scene: TestScene = { objects, lights: [], view: 2, settings: { width: 20, height: 20 } };
  return placeAndScale(compileTest(scene).compiled, makeShot(scene).document);
};

describe('place and scale of a shot', () => {
  it('the distance between numbers of single precision is that of the machine', () => {
    for (const value of [1e-3, 0.7, 1, 3.5, 9051, 65_535, 1e6, 16_777_216]) {
      const bits = new Uint32Array(Float32Array.of(value).buffer);
      const next = new Float32Array(Uint32Array.of(bits[0] + 1).buffer)[0];
      expect(singleSpacing(value), `${value}`).to.equal(next - Math.fround(value));
    }
  });
  it('a shot at home has nothing to say', () => {
    const found = looked([cube(at(0, 0, 0)), cube(at(1, 0, 0))]);
    expect(found).to.deep.include({ mirrored: [], sheared: [], farPivots: [], unit: null });
    expect(found.away).to.be.below(1);
    // 2 m over 20 pixels
    expect(found.largest.pixels).to.be.closeTo(Math.hypot(0.5, 0.5, 0.5) / 0.1, 2);
  });
  it('far from the origin, by its placements or by its meshes', () => {
    expect(looked([cube(at(0, 9000, 0))])).to.deep.include({ spacing: 2 ** -10 });
    const { mesh } = cube([]);
    const baked = { ...mesh, positions: mesh.positions.map((v, i) => (i % 3 === 1 ? v + 9000 : v)) };
    const found = looked([{ mesh: baked, surface: MATT }]);
    expect(found.away).to.be.closeTo(9000, 1);
    expect(found.farPivots).to.deep.equal(['o0']);
  });
  it('mirrored and sheared placements are known from each other, and turned ones are neither', () => {
    const found = looked([cube([-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]), cube([1, 0.3, 0, 1, 0, 1, 0, 0, 0, 0, 1, 0]), cube([0, -1, 0, 2, 1, 0, 0, 0, 0, 0, 1, 0])]); // prettier-ignore
    expect(found).to.deep.include({ mirrored: ['o0'], sheared: ['o1'] });
  });
  it('closed meshes that look inwards, and faces that look different ways, are known; turned faces and mirrors are allowed for', () => {
    const one = cube(at(0, 0, 0));
    const inward = { ...one.mesh, indices: one.mesh.indices.toReversed() };
    const mixed = { ...one.mesh, indices: one.mesh.indices.map((v, i, all) => (i === 0 ? all[1] : i === 1 ? all[0] : v)) }; // prettier-ignore
    const objects = [one, { ...one, mesh: inward }, { ...one, mesh: inward, flags: { facesTurned: true } }, { ...one, mesh: mixed }, cube([-1, 0, 0, 2, 0, 1, 0, 0, 0, 0, 1, 0]), { mesh: square(1), surface: MATT }]; // prettier-ignore
    const scene: TestScene = { objects, lights: [], view: 2, settings: { width: 20, height: 20 } };
    expect(facing(compileTest(scene).compiled, makeShot(scene).document)).to.deep.equal({ inward: ['o1'], mixed: ['o3'] }); // prettier-ignore
  });
  it('objects that show on one side, and those with a surface that nobody has set, are listed', () => {
    const plain: TestObject = { mesh: square(1), surface: {} };
    const { document } = makeShot({ objects: [cube(at(0, 0, 0)), plain, { ...plain, flags: { doubleSided: false } }, { ...plain, surface: { base_color: [0.2, 0.2, 0.2] } }] }); // prettier-ignore
    expect(sidesAndSurfaces(document)).to.deep.equal({ oneSided: ['o2'], defaultSurface: ['o1', 'o2'] });
  });
  it('an unlikely size names the unit that makes it likely', () => {
    const sized = (size: number) => looked([{ mesh: square(size), surface: MATT }]).unit;
    expect(sized(1)).to.equal(null);
    expect(sized(80)?.name).to.equal('centimetres');
    expect(sized(800)?.name).to.equal('millimetres');
    expect(sized(0.0008)?.factor).to.equal(1000);
  });
});
