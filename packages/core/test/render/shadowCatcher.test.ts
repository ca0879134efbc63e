// Ground that only catches shadows: what lies behind it times the share of the light that shadows leave it.
import { expect } from 'chai';
import { FILM } from '@dusting/core/render';
import type { MeshData } from '@dusting/core/formats';
import { GLASS, GLOW, makeShot, MATT, renderTest, slab, square, type TestObject, type TestScene } from '../scenes.ts';
import { contextOf, explained } from '../diagnosisBench.ts';

const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
const ground: TestObject = { mesh: square(8), surface: MATT, flags: { name: 'ground', onlyShadows: true } };
/** Behind it, turned to the camera: it lights the ground from below, where nobody looks. */
const wall: TestObject = { mesh: square(40), surface: GLOW, transform: at(0, 0, -5) };
/** Over all of x < 0, and hidden from the camera. */
const roof: TestObject = { mesh: square(8), surface: MATT, transform: at(-4, 0, 1), flags: { seenByCamera: false } };
/** Light straight down. */
const sun = { kind: 'sun' as const, strength: 3 };
/** From x below 0, at 45 degrees: its shadow lies 1 m further right. */
const slant = {
  kind: 'sun' as const,
  strength: Math.SQRT2,
  transform: [0.7071, 0, -0.7071, 0, 0, 1, 0, 0, 0.7071, 0, 0.7071, 0],
};

function disc(radius: number, z: number): MeshData {
  const points = Array.from({ length: 64 }, (_, i) => [radius * Math.cos((i * Math.PI) / 32), radius * Math.sin((i * Math.PI) / 32), z]); // prettier-ignore
  return { positions: new Float32Array([0, 0, z, ...points.flat()]), normals: null, uvs: null, indices: new Uint32Array(points.flatMap((_, i) => [0, 1 + i, 1 + ((i + 1) % 64)])) }; // prettier-ignore
}

/** Means of the left, middle and right thirds of a picture that is 3 m wide. */
function thirds(scene: TestScene, samples = 16): number[] {
  const { film } = renderTest({ view: 1, ...scene, settings: { width: 24, height: 8, pixelSamples: samples } });
  const sums = [0, 0, 0];
  for (let i = 0; i < 24 * 8; i++) sums[Math.floor((i % 24) / 8)] += film.data[i * FILM.stride] / film.data[i * FILM.stride + FILM.samples]; // prettier-ignore
  return sums.map((sum) => sum / 64);
}

describe('ground that only catches shadows', () => {
  it('shows what lies behind: whole where light comes, nothing of it in the shadow of the only light', () => {
    const [left, , right] = thirds({ objects: [ground, wall, roof], lights: [sun] });
    expect([left, right]).to.deep.equal([0, 1]);
    expect(thirds({ objects: [ground, wall, roof] }), 'without a light there are no shadows').to.deep.equal([1, 1, 1]);
    const plain = { ...ground, flags: { ...ground.flags, receivesShadows: false } };
    expect(thirds({ objects: [plain, wall, roof], lights: [sun] }), 'it receives none').to.deep.equal([1, 1, 1]);
  });

  it('of two lights it keeps the share of the one that is not in the way', () => {
    // irradiance 3 from above, and 1 at 45 degrees
    const [left, middle, right] = thirds({ objects: [ground, wall, roof], lights: [sun, slant], view: 1 }, 256);
    expect(left).to.equal(0);
    // up to x = 0 both are in the way, from there to 1 the second alone
    expect(middle).to.be.closeTo(0.5 * 0.75, 0.01);
    expect(right).to.be.closeTo(0.5 * 0.75 + 0.5, 0.01);
  });

  it('below a disc as wide as it is high, half of an even sky is left (r^2 / (r^2 + h^2) is covered)', () => {
    const above = {
      mesh: disc(1, 1),
      surface: { ...MATT, base_color: [0, 0, 0] as [number, number, number] },
      flags: { seenByCamera: false },
    };
    const [, middle] = thirds({ objects: [ground, wall, above], environment: { color: [1, 1, 1] }, view: 0.01 }, 256);
    expect(middle).to.be.closeTo(0.5, 0.02);
  });

  it('other rays do not meet it: through glass there is no shadow, and glass says so', async () => {
    // on the left the hidden roof is seen in it
    const pane = { mesh: slab(8, 2, 2.1), surface: GLASS, flags: { castsShadows: false } };
    const lit: TestScene = { objects: [pane, wall, roof], lights: [sun] };
    expect(thirds({ ...lit, objects: [...lit.objects, ground] })).to.deep.equal(thirds(lit));
    const { blobs, document } = makeShot({ ...lit, objects: [...lit.objects, ground], view: 1, settings: { width: 24, height: 8, pixelSamples: 8 } }); // prettier-ignore
    const found = await explained('glass', contextOf(document, blobs));
    expect(found.causes.map(({ id }) => id)).to.deep.equal(['unseenBehind:o3']);
    expect(found.evidence.flatMap((e) => (e.type === 'checklist' ? e.checks : [])).find(({ state }) => state === 'failed')!.text).to.match(/^ground only catches shadows.* 50 % of the glass pixels/); // prettier-ignore
    expect(found.remedies[0].patch).to.deep.equal([{ op: 'replace', path: '/objects/o3/onlyShadows', value: false }]);
  });

  it('a floor that is hidden from refractions is found behind glass as well; a hidden lamp is left alone', async () => {
    const pane = { mesh: slab(8, 2, 2.1), surface: GLASS };
    const behind = async (surface: TestObject['surface']) => {
      const floor = { mesh: square(8), surface, flags: { seenByReflections: false } };
      const { blobs, document } = makeShot({ objects: [pane, floor], environment: { color: [1, 1, 1] }, view: 1, settings: { width: 12, height: 12, pixelSamples: 8, clearShadows: 'tinted' } }); // prettier-ignore
      return (await explained('glass', contextOf(document, blobs))).causes.map(({ id }) => id);
    };
    expect(await behind({ ...MATT, base_color: [0.1, 0.1, 0.1] })).to.deep.equal(['unseenBehind:o1']);
    expect(await behind(GLOW)).to.deep.equal([]);
  });
});
