// Where the shadow of a named object lies: what stands at a height h over a floor, under a sun at 45 degrees, throws its shadow h
// away (h / tan(elevation)). The camera looks down on a square of the floor, 2 m wide.
import { expect } from 'chai';
import { evidenceText, type RaysEvidence } from '@dusting/core/diagnose';
import type { Light } from '@dusting/core/scene';
import type { MeshData } from '@dusting/core/formats';
import { contextOf, explained } from '../diagnosisBench.ts';
import { makeShot, MATT, slab, square, type TestObject } from '../scenes.ts';

const SIZE = 40;
const C = Math.SQRT1_2;
const sun: Partial<Light> = { name: 'sun', kind: 'sun', strength: 2, angle: 0, transform: [C, 0, C, 0, 0, 1, 0, 0, -C, 0, C, 0] }; // prettier-ignore
const moved = (mesh: MeshData, x: number): MeshData => ({ ...mesh, positions: mesh.positions.map((v, i) => (i % 3 === 0 ? v + x : v)) }); // prettier-ignore
const boardAt = (x: number, flags = {}, height = 1): TestObject => ({ mesh: moved(slab(0.2, height, height + 0.02), x), surface: MATT, flags: { seenByCamera: false, ...flags } }); // prettier-ignore
const LEFT = { x: 2, y: 10, width: 8, height: 20 };

async function asked(
  boards: TestObject[],
  { expected = 'o1', region = LEFT, light = sun, size = SIZE, floor = {} } = {},
) {
  const { blobs, document } = makeShot({ objects: [{ mesh: square(20), surface: MATT, flags: floor }, ...boards], lights: [light], view: 2, environment: { color: [0.02, 0.02, 0.02] }, settings: { width: size, height: size, pixelSamples: 4 } }); // prettier-ignore
  for (const [id, object] of Object.entries(document.objects)) object.name = id === 'o0' ? 'floor' : `board ${id.slice(1)}`; // prettier-ignore
  return explained('shadow', contextOf(document, blobs, { expected, region }));
}

describe('the object that should throw a shadow', function () {
  this.timeout(60_000);

  it('is named with where its shadow falls instead, in metres and pixels, and drawn on the picture', async () => {
    const result = await asked([boardAt(1.5)]);
    const [, metres, px, x, y] = /^The shadow of board 1 from sun falls ([\d.]+) m from here, (\d+) px away: the nearest of it lies at \((\d+), (\d+)\)\./.exec(result.summary)!.map(Number); // prettier-ignore
    // the shadow begins at 1.5 - 0.1 - 1.02 m; a pixel is 2 m / 40
    const begins = 1.5 - 0.1 - 1.02;
    const pixel = 2 / SIZE;
    expect(x).to.be.closeTo((begins + 1) / pixel, 1.5);
    expect(px).to.be.closeTo((begins + 1) / pixel - (LEFT.x + LEFT.width - 1), 1.5);
    const middle = (LEFT.x + LEFT.width / 2) * pixel - 1;
    expect(metres).to.be.within(begins - middle - 1.5 * pixel, begins - middle + 1.5 * pixel);
    expect(Math.abs(y - SIZE / 2)).to.be.at.most(0.1 / pixel + 1);
    const map = result.evidence.find(({ id }) => id === 'caster-l0')!;
    if (map.type !== 'map') throw new Error('no map');
    const area = map.values.filter((v) => v > 0).length * (map.tile * pixel) ** 2;
    expect(area, '0.2 m x 0.22 m').to.be.within(0.6 * 0.044, 1.5 * 0.044);
  });

  it('throws it here, with the share of the region', async () => {
    const result = await asked([boardAt(0.51)], { region: { x: 4, y: 16, width: 16, height: 8 } });
    const share = Number(/^board 1 stands between sun and (\d+) % of this region\./.exec(result.summary)![1]) / 100;
    // 0.22 m x 0.2 m of 0.8 m x 0.4 m
    expect(share).to.be.closeTo((0.22 * 0.2) / (0.8 * 0.4), 0.06);
  });

  for (const [name, boards, words] of [
    [
      'throws none by its flag',
      [boardAt(1.5, { castsShadows: false })],
      /from sun falls [\d.]+ m from here.* None is there, because board 1 is set to cast no shadows\./,
    ],
    [
      'throws it onto shade',
      [boardAt(1.5), boardAt(1.53, {}, 1.03)],
      /from sun falls .* (9\d|100) % of it lies in the shadow of board 2 already\./,
    ],
    // its middle is 1.01 m above the floor: 1.01 m * sqrt(2)
    [
      'throws it outside of the frame',
      [boardAt(5)],
      /^The shadow of board 1 from sun is not on this picture: it falls 1\.43 m on from it/,
    ],
    ['throws it onto nothing', [boardAt(-9.5)], /^The shadow of board 1 from sun falls on nothing/],
  ] as [string, TestObject[], RegExp][])
    // prettier-ignore
    it(name, async () => expect((await asked(boards)).summary).to.match(words));

  it('is asked for in regions that lie between two places of the frame', async () => {
    // looks stand at every fourth pixel of a frame of 200; the shadow covers 138 to 160 of them
    const result = await asked([boardAt(1.5)], { size: 200, region: { x: 148, y: 100, width: 1, height: 1 } });
    expect(result.summary).to.match(/^board 1 stands between sun and 100 % of this region\./);
  });

  it('a light that casts none, and a floor that receives none, are why it is not there', async () => {
    const lightWithout = await asked([boardAt(1.5)], { light: { ...sun, castsShadows: false } });
    expect(lightWithout.summary).to.match(/falls .*\. None is there, because sun is set to cast no shadows\./);
    const rays = lightWithout.evidence.find(({ type }) => type === 'rays')!;
    expect(evidenceText(rays)[0]).to.equal('sun: casts no shadows; nothing between');
    const placeWithout = await asked([boardAt(1.5)], { floor: { receivesShadows: false } });
    expect(placeWithout.summary).to.match(/None is there, because what lies there is set to receive no shadows\./);
  });

  it('is said to be gone where the scene has it no more', async () => {
    const result = await asked([boardAt(1.5)], { expected: 'o7' });
    expect(result.summary).to.match(/^The object that should throw it is not in the scene of this proof\./);
  });

  it('rays to a lamp with a size are drawn to scale: nine, as many stopped as hit the board', async () => {
    const lamp: Partial<Light> = { name: 'lamp', kind: 'disc', radius: 0.5, strength: 5, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 4] }; // prettier-ignore
    // seen from below the board of 0.2 m at 1 m covers the lamp up to 0.4 m from its axis
    const at = (centre: number) => ({ x: centre - 1, y: 19, width: 2, height: 2 });
    const { evidence } = await asked([boardAt(0)], { light: lamp, region: at(20) });
    const rays = evidence.find(({ type }) => type === 'rays') as RaysEvidence;
    const { lines } = rays.rays[0];
    expect(lines).to.have.length(9);
    // the middle and, by Pythagoras, none of the eight at 0.425 m, but for those towards the corners
    const stopped = lines.filter(({ stop }) => stop !== null);
    const hits = lines.filter(({ points: [from, to] }) => [0, 1].every((k) => Math.abs(from[k] + (to[k] - from[k]) / 4) < 0.1)); // prettier-ignore
    expect(stopped.length).to.equal(hits.length).and.within(1, 8);
    for (const { points, stop } of stopped) expect([stop![2], points[1][2]].map((v) => v.toFixed(3))).to.deep.equal(['1.000', '4.000']); // prettier-ignore
    expect(evidenceText(rays)).to.deep.include(`lamp: ${stopped.length} of 9 stopped by board 1`);
  });
});
