// Occlusion against closed forms of the cosine-weighted hemisphere (Nusselt's analog: the share of the unit disc that the
// projection of what blocks covers): a disc of radius R at height h takes R2 / (R2 + h2), an endless wall beside the place
// 1/2, two of them 3/4. Then scenes in which one thing alone is wrong with the layer: the diagnosis names it and nothing else,
// and what its remedies predict is rendered.
import { expect } from 'chai';
import { chooseDistance, DIAGNOSES, dialLayer, effectOf, evidenceCsv, evidenceText, explain, fromBase64, layerOf, occlusionSketch, readLayer, type DialEvidence, type Explanation } from '@dusting/core/diagnose'; // prettier-ignore
import { fromHalf } from '@dusting/core/formats';
import { findChannel } from '@dusting/core/image';
import { frameOf } from '@dusting/core/render';
import { meanOpenness } from '../../src/diagnose/occlusion/occlusionPlane.ts';
import { failedChecks, renderShot } from '../diagnosisBench.ts';
import { compileTest, GLASS, makeShot, MATT, sphere, square, type TestObject, type TestScene } from '../scenes.ts';
import { box, camera, crates, diagnosed, disc, ground, LAYER, mesh, over, room, scene } from './occlusionScenes.ts';

const FAR = 1e4;
/** Beside the camera's axis, along Y and along X. */
const wallX = mesh([-0.01, -FAR, 0, -0.01, FAR, 0, -0.01, FAR, FAR, -0.01, -FAR, FAR], [0, 1, 2, 0, 2, 3]);
const wallY = mesh([-FAR, -0.01, 0, FAR, -0.01, 0, FAR, -0.01, FAR, -FAR, -0.01, FAR], [0, 1, 2, 0, 2, 3]);
const floor: TestObject = { mesh: square(2 * FAR), surface: MATT };
/** Mean of the layer around the middle of a floor, with something over it. */
async function open(
  objects: TestObject[],
  wish: { distance?: number; falloff?: number; clearSurfaces?: boolean } = {},
) {
  // prettier-ignore
  const { compiled, settings } = compileTest({ objects: [floor, ...objects], view: 0.002, settings: { width: 8, height: 8 } }); // prettier-ignore
  const sketch = await occlusionSketch(compiled, settings, frameOf(settings));
  return readLayer(sketch, layerOf(sketch, { distance: 0, falloff: 0, clearSurfaces: true, ...wish })).mean;
}

describe('hit distances of occlusion rays', () => {
  it('a disc over a floor, at several heights', async () => {
    for (const [radius, height] of [[1, 1], [0.5, 2], [3, 0.5]]) // prettier-ignore
      expect(await open([over(disc(radius, height))])).to.be.closeTo(1 - radius ** 2 / (radius ** 2 + height ** 2), 0.006); // prettier-ignore
  });

  it('an endless wall, and a corner of two', async () => {
    expect(await open([{ mesh: wallX, surface: MATT }])).to.be.closeTo(1 / 2, 0.01);
    expect(await open([{ mesh: wallX, surface: MATT }, { mesh: wallY, surface: MATT }])).to.be.closeTo(1 / 4, 0.01); // prettier-ignore
  });

  it('a dome: open up to its radius, closed beyond, and faded in between', async () => {
    const dome = over(sphere(2, 96));
    expect(await open([dome])).to.equal(0);
    expect(await open([dome], { distance: 1.95 })).to.equal(1);
    expect(await open([dome], { distance: 2.01 })).to.equal(0);
    // every ray meets it at 2 m: 1 - (1 - 2 / 5)^f
    for (const falloff of [0.5, 1, 2]) expect(await open([dome], { distance: 5, falloff })).to.be.closeTo(1 - 0.6 ** falloff, 0.002); // prettier-ignore
  });

  it('a pane of glass blocks where clear surfaces do, and what stands behind it where they do not', async () => {
    const pane = over(disc(1, 1), { ...GLASS, geometry_thin_walled: true });
    expect(await open([pane])).to.be.closeTo(0.5, 0.006);
    expect(await open([pane], { clearSurfaces: false })).to.equal(1);
    expect(await open([pane, over(disc(1, 2))], { clearSurfaces: false })).to.be.closeTo(0.8, 0.006);
  });

  it('a tinted pane holds back what it does not let through: by tint, by absorption, by weight', async () => {
    const through = async (surface: object, more = disc(1, 1)) => open([over(more, { ...GLASS, ...surface })], { clearSurfaces: false }); // prettier-ignore
    // the disc covers one half
    expect(await through({ geometry_thin_walled: true, transmission_tint: [0.3, 0.3, 0.3] })).to.be.closeTo(1 - 0.7 / 2, 0.01); // prettier-ignore
    expect(await through({ geometry_thin_walled: true, transmission_weight: 0.6 })).to.be.closeTo(1 - 0.4 / 2, 0.01);
    // a dome of glass with walls of 0.1 m that let 0.5 through in this thickness, met at right angles (Beer-Lambert)
    const [inner, outer] = [sphere(1, 96), sphere(1.1, 96)];
    const count = outer.positions.length / 3;
    const wall = mesh([...outer.positions, ...inner.positions], [...outer.indices, ...[...inner.indices].reverse().map((i) => i + count)]); // prettier-ignore
    expect(await through({ transmission_color: [0.5, 0.5, 0.5], transmission_depth: 0.1 }, wall)).to.be.closeTo(0.5, 0.01); // prettier-ignore
  });

  it('behind a pane that does not count the layer is that of what stands there, as far as the pane is clear', async () => {
    // seen from above: a pane at 2 m, a disc at 1 m that the camera does not see, the floor
    for (const tint of [1, 0.4]) {
      const glass = { ...GLASS, geometry_thin_walled: true, transmission_tint: [tint, tint, tint] as [number, number, number] }; // prettier-ignore
      const objects: TestObject[] = [{ mesh: disc(0.02, 2), surface: glass }, over(disc(1, 1))];
      expect(await open(objects)).to.equal(1);
      expect(await open(objects, { clearSurfaces: false })).to.be.closeTo(1 - tint * 0.5, 0.01);
      const [counted, passed] = [true, false].map((clearSurfaces) => {
        const { blobs, document } = makeShot({ objects: [floor, ...objects], view: 0.002, environment: { color: [1, 1, 1] }, settings: { width: 8, height: 8, pixelSamples: 16, occlusion: { ...LAYER, distance: 0, samples: 16, clearSurfaces } } }); // prettier-ignore
        return renderShot(document, blobs).picture;
      });
      const frame = { x: 0, y: 0, width: 8, height: 8 };
      expect(meanOpenness(counted, frame)).to.equal(1);
      expect(meanOpenness(passed, frame)).to.be.closeTo(1 - tint * 0.5, 0.01);
      // nothing but the layer is another one
      expect(findChannel(passed, 'beauty', 'R')!.data).to.deep.equal(findChannel(counted, 'beauty', 'R')!.data);
    }
  });
});

const best = (result: Explanation) => result.measured.best;
/** Larger than the others: 36 pixels that are rendered twice know the noise of a layer to 12 % only. */
const fewRays: TestScene = { ...scene([room, ...crates], { samples: 1 }), settings: { ...scene([], { samples: 1 }).settings, width: 64, height: 36, pixelSamples: 4 } }; // prettier-ignore

describe('occlusion diagnosis', function () {
  this.timeout(60_000);
  const glass = { ...GLASS, geometry_thin_walled: true };
  const CASES: [name: string, scene: TestScene, causes: string[], words: RegExp][] = [
    ['a layer that reads', scene([room, ...crates]), [], /suits this region/],
    ['a closed room without a limit', scene([room, ...crates], { distance: 0 }), ['distance'], /Without a distance limit 100 % of the rays/], // prettier-ignore
    ['a distance across the room', scene([room, ...crates], { distance: 9 }), ['distance'], /reaches across what is seen/], // prettier-ignore
    [
      'a distance too short for what is there',
      scene([room, ...crates], { distance: 0.004 }),
      ['distance'],
      /next to empty/,
    ],
    ['a cover of glass over a crate', scene([ground, ...crates, { mesh: box([-1.2, -1.2, 0.002], [-0.2, -0.2, 0.9]), surface: glass, flags: { seenByCamera: false } }, { mesh: box([0.1, -1, 0.002], [0.9, -0.2, 0.7]), surface: glass, flags: { seenByCamera: false } }]), ['clear'], /Clear surfaces stop/], // prettier-ignore
    ['crates behind a pane', scene([ground, ...crates, { mesh: mesh([-3, -1.5, 0, 3, -1.5, 0, 3, -1.5, 3, -3, -1.5, 3], [0, 1, 2, 0, 2, 3]), surface: glass }]), ['clear'], /nothing of what stands behind it: o\d/], // prettier-ignore
    ['a card that the camera does not see', scene([ground, ...crates, over(box([-2, -0.5, 0.3], [2, 1.5, 0.31]))]), ['hidden-o4'], /hidden from the camera/], // prettier-ignore
    ['too few rays', fewRays, ['samples'], /rays a pixel leave/], // prettier-ignore
    ['a layer that is switched off', scene([room, ...crates], { samples: 0 }), ['on'], /not rendered/],
  ];
  for (const [name, of, causes, words] of CASES)
    it(`${name}: that is named, and nothing else`, async () => {
      const { result, tried } = await diagnosed(of);
      expect(result.causes.map(({ id }) => id)).to.deep.equal(causes);
      expect(result.summary).to.match(words);
      // a share is computed from the layer, or there is none
      const isKnown = !['samples', 'on'].includes(causes[0]) && !causes[0]?.startsWith('hidden');
      for (const { share } of result.causes) expect(share).to.equal(isKnown ? 1 : null);
      expect(failedChecks(result)).to.have.length(causes.length);
      for (const remedy of result.remedies) {
        const after = tried(remedy.patch);
        for (const measure of ['openness', 'layerNoise'] as const) {
          const effect = effectOf(remedy, measure);
          if (effect) expect(after[measure], `${remedy.title}: ${measure}`).to.be.within(effect.low, effect.high);
        }
      }
    });

  it('several at once are all named, the one that changes most first', async () => {
    const { result } = await diagnosed({ ...scene([room, ...crates], { distance: 0, samples: 1 }), settings: { ...scene([room], { distance: 0, samples: 1 }).settings, pixelSamples: 4 } }); // prettier-ignore
    expect(result.causes.map(({ id }) => id)).to.include('distance');
    expect(result.causes[0].id).to.equal('distance');
  });

  it('65 is said to be right in centimetres', async () => {
    const { result } = await diagnosed(scene([room, ...crates], { distance: 65 }));
    expect(result.summary).to.match(/65 would fit if it was meant in centimetres: that is 0\.65 m/);
    expect(result.remedies.map(({ id }) => id)).to.deep.equal(['distance', 'unit']);
  });

  it('the recommended distance goes with the scene: a hundred times as large, a hundred times as far', async () => {
    const grown = (k: number) => {
      const larger = ({ mesh: m, surface }: TestObject) => ({ surface, mesh: { ...m, positions: m.positions.map((v) => v * k) } }); // prettier-ignore
      const transform = camera.transform.map((v, i) => (i % 4 === 3 ? v * k : v));
      return diagnosed({ ...scene([room, ...crates].map(larger), { distance: 0 }), camera: { ...camera, transform } });
    };
    const [one, hundred] = [await grown(1), await grown(100)];
    expect(best(one.result)).to.be.within(0.3, 1.5);
    expect(best(hundred.result) / best(one.result)).to.be.closeTo(100, 1);
  });

  it('the dial holds the layer of its distances: in between it is as far off as is said', async () => {
    const { context, result } = await diagnosed(scene([room, ...crates], { distance: 0 }));
    const dial = result.evidence.find((e): e is DialEvidence => e.type === 'dial')!;
    expect(dial.sets.distance).to.equal('/final/occlusion/distance');
    const shares = fromBase64((dial.shares as { base64: string }).base64);
    expect(shares.length).to.equal(
      dial.cones.length * dial.values.length * 4 * Math.ceil((dial.width * dial.height) / 4),
    );
    expect(dial.cones).to.deep.equal([30, 45, 60, 90]);
    expect(dial.clear).to.deep.equal([true]);
    expect(dial.values.every((v, i) => i === 0 || v > dial.values[i - 1])).to.equal(true);
    // evenly spaced by what they do: no step darkens the layer by more than twice the mean step
    const sketch = await occlusionSketch(await context.scene!.compiled(), context.settings, context.region);
    const means = dial.values.map((distance) => readLayer(sketch, layerOf(sketch, { distance, falloff: 0, clearSurfaces: true })).mean); // prettier-ignore
    const steps = means.slice(1).map((mean, i) => means[i] - mean);
    expect(Math.max(...steps)).to.be.below((2 * (means[0] - means.at(-1)!)) / steps.length);
    // what is dragged against the rays themselves, in between the distances that are kept
    const off = (distance: number, falloff: number) => {
      const [real, shown] = [layerOf(sketch, { distance, falloff, clearSurfaces: true }), dialLayer(dial, shares, { distance, falloff, cone: 90, clear: true })]; // prettier-ignore
      return real.reduce((sum, v, i) => sum + Math.abs(v - shown[i]), 0) / real.length;
    };
    for (const distance of [dial.values[3], 0.37, 1.1, 2.3]) {
      for (const falloff of [0, 0.5, 1, 3]) expect(off(distance, falloff), `${distance} m, falloff ${falloff}`).to.be.below(0.015); // prettier-ignore
    }
    expect(chooseDistance(sketch, { falloff: 0, clearSurfaces: true })!.best).to.equal(best(result));
    expect(evidenceText(dial)[0]).to.contain('by distance');
    expect(evidenceCsv(dial)).to.equal(null);
  });

  it('the dial adds up its planes as whole numbers, and keeps to the sum by pixels within 0.002', () => {
    const [values, cones, pixels, each] = [[0.5, 1, 2], [45, 90], 15, 16];
    const shares = Uint8Array.from({ length: 6 * each }, (_, i) => (i * 89) % 256);
    const of = (plane: number, i: number) => shares[plane * each + i] / 255;
    const dial = { values, cones, clear: [true], width: 5, height: 3 };
    // halfway between two distances by the logarithm, and between two cones by sin^2
    const place = { distance: Math.SQRT2, falloff: 0, cone: 60, clear: true };
    const layer = dialLayer(dial, shares, place);
    expect(layer.length).to.equal(pixels);
    layer.forEach((v, i) => {
      const cone = (first: number) => (of(first + 1, i) + of(first + 2, i)) / 2;
      expect(v, `pixel ${i}`).to.be.closeTo(1 - (cone(0) + cone(3)) / 2, 0.002);
    });
    // planes that are all white or all black neither run over nor leak into their neighbors
    const full = Uint8Array.from({ length: 6 * each }, (_, i) => (i % 2 === 0 ? 255 : 0));
    for (const falloff of [0, 1]) {
      const shown = dialLayer(dial, full, { ...place, falloff });
      expect([...shown].filter((_, i) => i % 2 === 1)).to.deep.equal(Array(7).fill(1));
    }
    expect(dialLayer(dial, full, place)[14]).to.equal(0);
  });

  it('a narrower cone on the dial is that of a render with it; clear surfaces are looked through', async () => {
    const shot = scene([room, ...crates], { distance: 0.8 });
    const { result } = await diagnosed(shot);
    const dial = result.evidence.find((e): e is DialEvidence => e.type === 'dial')!;
    const mean = (of: Float32Array) => of.reduce((sum, v) => sum + v, 0) / of.length;
    for (const cone of [30, 60]) {
      const { document, blobs } = makeShot(scene([room, ...crates], { distance: 0.8, cone, samples: 32 }));
      const rendered = meanOpenness(renderShot(document, blobs).picture, frameOf(document.final))!;
      const shown = mean(
        dialLayer(dial, fromBase64((dial.shares as { base64: string }).base64), {
          distance: 0.8,
          falloff: 0,
          cone,
          clear: true,
        }),
      );
      expect(shown, `${cone} degrees`).to.be.closeTo(rendered, 0.01);
    }
  });

  it('a contact sheet shows distances that each darken the layer by about as much as the one before', async () => {
    const { context, result } = await diagnosed(scene([room, ...crates], { distance: 0 }));
    const sheet = result.evidence.find(({ id }) => id === 'sheet')!;
    if (sheet.type !== 'pictures') throw new Error('no pictures');
    const means = sheet.pictures.map(({ halves, height, width }) => { const values = new Uint16Array(Uint8Array.from(atob(halves), (c) => c.charCodeAt(0)).buffer); return values.reduce((sum, v) => sum + fromHalf(v), 0) / (3 * width * height); }); // prettier-ignore
    expect(means).to.have.lengthOf(6);
    const steps = means.slice(1).map((mean, i) => means[i] - mean);
    expect(Math.min(...steps)).to.be.above(0);
    expect(Math.max(...steps)).to.be.below(2 * Math.min(...steps));
    // the layer of each label, from the rays themselves
    const sketch = await occlusionSketch(await context.scene!.compiled(), context.settings, context.region);
    sheet.pictures.forEach(({ label }, i) => {
      const distance = parseFloat(label) * (label.endsWith('mm') ? 0.001 : 1);
      const layer = layerOf(sketch, { distance, falloff: 0, clearSurfaces: true });
      expect(layer.reduce((sum, v) => sum + v, 0) / layer.length, label).to.be.closeTo(means[i], 0.01);
    });
  });

  it('four times the rays leave what is said of them, and a clay look says that its picture changes with the layer', async () => {
    const { result, tried } = await diagnosed(fewRays);
    const [, now, later] = /4 rays a pixel leave ([\d.]+) L\* of noise in the layer; 16 would leave about ([\d.]+) L\*/.exec(result.summary)!.map(Number); // prettier-ignore
    const measured = tried([{ op: 'replace', path: '/final/occlusion/samples', value: 4 }]).layerNoise!;
    expect(measured / later).to.be.within(0.6, 1.5);
    expect(now).to.be.above(measured);
    const side = async (clay: boolean) => (await diagnosed({ ...scene([room, ...crates], { distance: 0 }), settings: { ...scene([], { distance: 0 }).settings, clay } })).result; // prettier-ignore
    const [plain, clay] = [await side(false), await side(true)];
    expect(plain.remedies[0].sideEffect).to.equal('Only the layer changes.');
    expect(clay.remedies[0].sideEffect).to.match(/and the picture wherever/);
    expect(clay.summary).to.contain('This is a clay look');
    expect(clay.evidence.map(({ id }) => id)).to.not.include('composite');
  });

  it('says so where nothing is seen, and where nothing is met', async () => {
    const nothing = await diagnosed({ ...scene([{ mesh: square(1, -50), surface: MATT }]), camera: { ...camera, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, -60] } }); // prettier-ignore
    expect(nothing.result.summary).to.match(/No pixel of this region shows a surface/);
    const plain = await diagnosed(scene([ground]));
    expect(plain.result.summary).to.match(/nothing here occludes/);
  });

  it('multiplied into a picture with traced indirect light it darkens corners twice: by what, as figures and pictures', async () => {
    const lamp = { kind: 'point' as const, strength: 5, transform: [1, 0, 0, 0, 0, 1, 0, -1, 0, 0, 1, 2.2] };
    const lit: TestScene = { ...scene([room, ...crates]), lights: [lamp] };
    const { result } = await diagnosed({ ...lit, settings: { ...lit.settings, depth: { diffuse: 4, specular: 1, transmission: 1, volume: 0, total: 6 } } }); // prettier-ignore
    const [, share] = /(\d+) % of the light here is indirect diffuse, .* darkens them twice/.exec(result.summary)!;
    expect(Number(share)).to.be.within(5, 80);
    const [, mean, dark] = /this layer takes ([\d.]+) L\* on average, and ([\d.]+) L\* of its darkest tenth/.exec(result.summary)!.map(Number); // prettier-ignore
    expect(dark).to.be.above(mean);
    const pictures = result.evidence.find(({ id }) => id === 'composite')!;
    if (pictures.type !== 'pictures') throw new Error('no pictures');
    const [asIs, half, full] = pictures.pictures.map(({ halves }) => new Uint16Array(Uint8Array.from(atob(halves), (c) => c.charCodeAt(0)).buffer).reduce((sum, v) => sum + fromHalf(v), 0)); // prettier-ignore
    expect(full).to.be.below(half).and.below(asIs);
    expect(half, 'half strength is half way').to.be.closeTo((asIs + full) / 2, 0.002 * asIs);
    const straight = await diagnosed({ ...lit, settings: { ...lit.settings, depth: { diffuse: 1, specular: 1, transmission: 1, volume: 0, total: 6 } } }); // prettier-ignore
    expect(straight.result.summary).to.not.contain('twice');
  });

  it('a frame without a scene tells what its layer shows; without a layer it is refused', async () => {
    const { context } = await diagnosed(scene([room, ...crates], { distance: 0 }));
    const frame = await explain(DIAGNOSES.occlusion!, { ...context, scene: null });
    expect(frame.summary).to.match(/of the pixels are black[^]*need the scene/);
    const bare = { ...context.picture, channels: context.picture.channels.filter(({ name }) => !name.startsWith('occlusion')) }; // prettier-ignore
    const refused = await explain(DIAGNOSES.occlusion!, { ...context, scene: null, picture: bare }).catch((e: Error) => e); // prettier-ignore
    expect((refused as Error).message).to.match(/no occlusion layer/);
  });
});
