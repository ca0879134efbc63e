// A layer against the size of things, sides that skies tell apart, and layers as other renderers write them: scenes in which one
// thing alone is at work, against closed forms.
import { expect } from 'chai';
import { DIAGNOSES, effectOf, explain } from '@dusting/core/diagnose';
import { linearToSrgb, srgbToLinear } from '@dusting/core/color';
import { writeHdr, type MeshData } from '@dusting/core/formats';
import { findChannel, type Picture } from '@dusting/core/image';
import { FILM, frameOf, layerLuminance, renderHere } from '@dusting/core/render';
import { patchShot } from '@dusting/core/scene';
import { contextOf, explained, renderShot } from '../diagnosisBench.ts';
import { compileTest, makeShot, MATT, renderTest, square, type TestObject, type TestScene } from '../scenes.ts';
import { box, camera, crates, diagnosed, disc, ground, LAYER, over, room, scene } from './occlusionScenes.ts';

/** A tube about Y with smooth normals, from the ground up. */
function tube(sides: number, radius: number, height: number): MeshData {
  const around = Array.from({ length: sides }, (_, i) => (2 * Math.PI * i) / sides);
  const rings = [0, height].flatMap((y) => around.map((a) => [radius * Math.cos(a), y, -radius * Math.sin(a)]));
  const normals = [0, 1].flatMap(() => around.map((a) => [Math.cos(a), 0, -Math.sin(a)]));
  const quads = around.map((_, i) => [i, (i + 1) % sides, sides + ((i + 1) % sides), sides + i]);
  return { positions: Float32Array.from(rings.flat()), normals: Float32Array.from(normals.flat()), uvs: null, indices: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])) }; // prettier-ignore
}
/** From (0, 1, 5) along -Z, on a floor at Y = 0. */
const eye = { verticalAngle: 40, transform: [1, 0, 0, 0, 0, 1, 0, 1, 0, 0, 1, 5] };
const floor: TestObject = { mesh: square(60), surface: MATT, transform: [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0] };
const upright = (object: TestObject): TestScene => ({ ...scene([floor, object], { distance: 2 }), camera: eye, settings: { ...scene([], { distance: 2 }).settings, width: 48, height: 36 } }); // prettier-ignore
/** Mean luminance of a picture. */
const measuredOf = (picture: Picture) => layerLuminance(picture, 'beauty')!.reduce((sum, v) => sum + v, 0) / (picture.width * picture.height); // prettier-ignore
const causesOf = (result: { causes: { id: string }[] }) => result.causes.map(({ id }) => id);

describe('an occlusion layer and the size of things', function () {
  this.timeout(60_000);

  it('a tube of six sides shows them, by what the lean of its normals takes; one of 48 does not; subdivided it is gone', async () => {
    const { blobs, document } = makeShot(upright({ mesh: tube(6, 0.8, 2), surface: MATT }));
    const result = await explained('occlusion', contextOf(document, blobs, { noise: { limit: 3, stops: 1 } }));
    expect(causesOf(result)).to.deep.equal(['finer']);
    // at the corners the normal leans by 30 degrees: (1 - cos 30) / 2 of the rays are lost, 6.7 of 100: 2.7 L* where it is open, 4 L* where it is half open
    const [, drop] = /drops by up to ([\d.]+) L\*/.exec(result.summary)!.map(Number);
    expect(drop).to.be.within(2, 4.2);
    const finer = patchShot(document, result.remedies[0].patch);
    const round = makeShot(upright({ mesh: tube(48, 0.8, 2), surface: MATT }));
    for (const shot of [{ document: finer, blobs }, round])
      expect(causesOf(await explained('occlusion', contextOf(shot.document, shot.blobs)))).to.not.include('finer');
  });

  it('a ground of thousands of kilometres: rays set out too high for the distance, and a distance is given that they reach', async () => {
    const { result } = await diagnosed(scene([{ mesh: square(2 ** 23), surface: MATT }, ...crates]));
    expect(causesOf(result)).to.include('farther');
    expect(result.summary).to.match(/Ray origins are offset [\d.]+ m from their surfaces/);
    const near = await diagnosed(scene([room, ...crates]));
    expect(causesOf(near.result)).to.not.include('farther');
  });

  it('an interior, a product and a landscape each get a distance of their own size', async () => {
    const things = (boxes: [number[], number[]][], plain: number) => [{ mesh: square(plain), surface: MATT }, ...boxes.map(([from, to]) => ({ mesh: box(from, to), surface: MATT }))]; // prettier-ignore
    const seenFrom = (objects: TestObject[], height: number, back: number, distance: number): TestScene => ({ ...scene(objects, { distance }), camera: { ...camera, transform: [1, 0, 0, 0, 0, 0.4, -0.9165, -back, 0, 0.9165, 0.4, height] } }); // prettier-ignore
    const product = things([[[-0.06, -0.06, 0], [0.06, 0.06, 0.16]], [[0.09, -0.03, 0], [0.15, 0.05, 0.07]]], 3); // prettier-ignore
    const landscape = things([[[-14, 20, 0], [-4, 28, 8]], [[3, 30, 0], [18, 42, 12]], [[-40, 60, 0], [-20, 70, 9]]], 4000); // prettier-ignore
    const cases: [string, (distance: number) => TestScene, number, number][] = [
      ['interior', (d) => scene([room, ...crates], { distance: d }), 0.25, 2],
      ['product', (d) => seenFrom(product, 0.3, 0.5, d), 0.02, 0.4],
      ['landscape', (d) => seenFrom(landscape, 22, 30, d), 2, 60],
    ];
    for (const [name, at, least, most] of cases) {
      const { result } = await diagnosed(at(1));
      const { best } = result.measured;
      expect(best, name).to.be.within(least, most);
      expect(causesOf((await diagnosed(at(best))).result), `${name}, at ${best} m`).to.deep.equal([]);
      expect(causesOf((await diagnosed(at(best / 200))).result), `${name}, at ${best / 200} m`).to.deep.equal(['distance']); // prettier-ignore
    }
  });
});

describe('sides that meet', function () {
  this.timeout(60_000);
  // turned by 45 degrees, seen along an edge: its sides face to the left and to the right of the camera
  const c = Math.SQRT1_2;
  const post: TestObject = { mesh: box([-0.5, 0, -0.5], [0.5, 2, 0.5]), surface: MATT, transform: [c, 0, c, 0, 0, 1, 0, 0, -c, 0, c, 0] }; // prettier-ignore
  const LIGHT = { diffuse: 1, specular: 0, transmission: 0, volume: 0, total: 1 };
  const [BRIGHT, DIM] = [1.6, 0.2];
  /** A sky that is bright in the half about a heading, degrees about Y from +Z, from top to bottom. */
  function lit(rotation: number) {
    const made = makeShot({ ...upright(post), objects: [post], settings: { ...upright(post).settings, pixelSamples: 32, depth: LIGHT } }); // prettier-ignore
    const [width, height] = [64, 32];
    // +Z lies at both ends of the picture
    const pixels = Float32Array.from({ length: width * height * 3 }, (_, i) => { const x = Math.floor(i / 3) % width; return x < width / 4 || x >= (3 * width) / 4 ? BRIGHT : DIM; }); // prettier-ignore
    const blob = 'f'.repeat(64);
    made.blobs.set(blob, writeHdr(width, height, pixels));
    const environment = { ...made.document.environment, color: [1, 1, 1], rotation, picture: { name: 'halves', blob, width, height } }; // prettier-ignore
    return { blobs: made.blobs, document: { ...made.document, environment } as typeof made.document };
  }

  it('are flat where light comes to both alike; the turn of the sky that parts them is found, and keeps its word', async () => {
    const { blobs, document } = lit(0);
    const context = contextOf(document, blobs, { noise: { limit: 3, stops: 1 } });
    const result = await explained('occlusion', context);
    expect(causesOf(result)).to.include('sky');
    const remedy = result.remedies.find(({ id }) => id === 'sky')!;
    const [turn] = remedy.patch;
    expect(Math.abs((turn as { value: number }).value)).to.be.within(40, 140);
    const after = DIAGNOSES.occlusion!.measure(renderShot(patchShot(document, remedy.patch), blobs).picture, context.region, 1); // prettier-ignore
    const effect = effectOf(remedy, 'sideContrast')!;
    expect(after.sideContrast).to.be.within(effect.low, effect.high);
    expect(after.sideContrast).to.be.above(effect.now! + 3);
    const turned = lit(90);
    expect(causesOf(await explained('occlusion', contextOf(turned.document, turned.blobs)))).to.not.include('sky');
  });

  it('a half of the sky lights a side by (1 + n d) / 2 of it: the picture and the curve of turns are that', async () => {
    const { blobs, document } = lit(90);
    const result = await explained('occlusion', contextOf(document, blobs));
    const table = result.evidence.find((e) => e.type === 'table' && e.id === 'sides')!;
    if (table.type !== 'table') throw new Error('no table');
    // both halves of the sky, on a side that faces the bright one at 45 degrees and one that faces away from it, albedo 1/2
    const [toward, off] = [(1 + c) / 2, (1 - c) / 2].map((part) => (BRIGHT * part + DIM * (1 - part)) / 2);
    const L = (y: number) => 116 * Math.cbrt(y) - 16;
    const [cell] = table.rows[0].slice(2);
    expect(cell.type === 'number' && cell.value).to.be.closeTo(L(toward) - L(off), 1);
    // a plain sky does not tell them apart
    const plain = table.rows[0][3];
    expect(plain.type === 'number' && plain.value).to.be.below(2);
  });
});

describe('occlusion in surfaces', function () {
  this.timeout(60_000);

  it('takes strength times (1 - tint) of what is closed from the diffuse light that the camera sees, and nothing without the layer', () => {
    // half of the sky is behind a disc, whose own light is none
    const lit = (surface: object, samples = 4) => {
      const black = { ...MATT, base_weight: 0 };
      const { mean } = renderTest({ objects: [{ mesh: square(400), surface: { ...MATT, ...surface } }, over(disc(1, 1), black)], view: 0.002, environment: { color: [1, 1, 1] }, settings: { pixelSamples: 64, occlusion: { ...LAYER, distance: 0, samples } } }); // prettier-ignore
      return mean;
    };
    const plain = lit({});
    expect(plain).to.be.closeTo(0.25, 0.004);
    expect(lit({ occlusion_strength: 0.6 }) / plain).to.be.closeTo(1 - 0.6 * 0.5, 0.01);
    expect(lit({ occlusion_strength: 0.6, occlusion_tint: [0.5, 0.5, 0.5] }) / plain).to.be.closeTo(1 - 0.6 * 0.5 * 0.5, 0.01); // prettier-ignore
    expect(lit({ occlusion_strength: 0.6 }, 0)).to.be.closeTo(plain, 1e-6);
  });

  it('is named where indirect light darkens corners as well, and the light without it is that of a render', async () => {
    const lamp = { kind: 'point' as const, strength: 5, transform: [1, 0, 0, 0, 0, 1, 0, -1, 0, 0, 1, 2.2] };
    const lit = (objects: TestObject[]): TestScene => ({ ...scene(objects), lights: [lamp], settings: { ...scene([]).settings, depth: { diffuse: 4, specular: 1, transmission: 1, volume: 0, total: 6 } } }); // prettier-ignore
    const multiplied = [room, ...crates].map((of): TestObject => ({ ...of, surface: { ...of.surface, occlusion_strength: 0.8 } })); // prettier-ignore
    const { result, tried } = await diagnosed(lit(multiplied));
    expect(causesOf(result)).to.deep.equal(['surfaces']);
    expect(result.summary).to.match(
      /multiply the layer into their base color: those pixels are [\d.]+ L\* darker on average.*darkened twice/,
    );
    const [remedy] = result.remedies;
    const effect = effectOf(remedy, 'luminance')!;
    const { blobs, document } = makeShot(lit(multiplied));
    const after = measuredOf(renderShot(patchShot(document, remedy.patch), blobs).picture);
    expect(after).to.be.within(effect.low, effect.high).and.above(effect.now!);
    expect(tried(remedy.patch).openness).to.be.closeTo(result.measured.openness, 0.03);
  });
});

describe('layers as they come', function () {
  this.timeout(60_000);

  it('a clay look is the layer as picture, without background and light, with one ray a sample at least', async () => {
    const of = (samples: number) => ({ ...scene([room, ...crates], { samples }), settings: { ...scene([], { samples }).settings, pixelSamples: 4, clay: true } }); // prettier-ignore
    for (const samples of [0, 4]) {
      const { compiled, settings } = compileTest({ ...of(samples), lights: [{ kind: 'sphere', radius: 0.1, strength: 9, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 1.5] }] }); // prettier-ignore
      const { data, stride } = renderHere(compiled, settings, frameOf(settings));
      for (let at = 0; at < data.length; at += stride) expect(data[at + FILM.beauty + 1]).to.be.closeTo(data[at + FILM.occlusion], 1e-5); // prettier-ignore
    }
    const open = compileTest({ ...of(1), objects: [ground] });
    const { data, stride } = renderHere(open.compiled, open.settings, frameOf(open.settings));
    const rays = Array.from({ length: data.length / stride }, (_, i) => data[i * stride + FILM.surfaceSamples]);
    rays.forEach((hits, i) => expect(data[i * stride + FILM.beauty]).to.be.closeTo(hits, 1e-5));
  });

  it('turned over, or through the curve of a screen, it is named; as it is, and black, it is not', async () => {
    const frame = (distance: number) => {
      const { blobs, document } = makeShot({ ...scene([room, ...crates]), settings: { ...scene([]).settings, width: 64, height: 36, occlusion: { ...LAYER, distance, samples: 32 } } }); // prettier-ignore
      return contextOf(document, blobs, { scene: null });
    };
    const [light, dark] = [frame(0.7), frame(2.5)];
    const read = async (context: ReturnType<typeof frame>, change: (v: number) => number) => {
      const { picture } = context;
      const layer = findChannel(picture, 'occlusion', 'Y')!;
      const channels = picture.channels.map((channel) => (channel === layer ? { ...layer, data: Float32Array.from(layer.data, change) } : channel)); // prettier-ignore
      return causesOf(await explain(DIAGNOSES.occlusion!, { ...context, picture: { ...picture, channels } }));
    };
    const bits = (v: number) => Math.round(v * 255) / 255;
    expect(await read(light, (v) => v)).to.deep.equal([]);
    expect(await read(light, (v) => 1 - v)).to.deep.equal(['inverted']);
    expect(await read(dark, (v) => v)).to.deep.equal([]);
    expect(await read(light, bits)).to.deep.equal([]);
    expect(await read(light, (v) => srgbToLinear(bits(v)))).to.deep.equal(['curve']);
    expect(await read(light, (v) => bits(v) ** 2)).to.deep.equal(['curve']);
    expect(await read(light, (v) => linearToSrgb(bits(v)))).to.deep.equal(['curve']);
  });
});
