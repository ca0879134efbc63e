// Small scenes in which one cause of fireflies alone is at work, so that the answer is known by construction. The clamp, more
// samples and glass that lets shadow rays through are carried out, and held against what was predicted of them.
import { expect } from 'chai';
import { DIAGNOSES, effectOf, findFireflies, evidenceText, explain, measureEffects, type DiagnosisContext, type Measure } from '@dusting/core/diagnose'; // prettier-ignore
import type { Picture } from '@dusting/core/image';
import { frameOf, layerLuminance, PathTracer, type FoundLight, type PathVertex } from '@dusting/core/render';
import { NO_CLAMP, patchShot } from '@dusting/core/scene';
import { boilOf } from '../../src/diagnose/fireflies/boil.ts';
import { brightSamples } from '../../src/diagnose/fireflies/brightSamples.ts';
import { leftWith } from '../../src/diagnose/fireflies/clampCurve.ts';
import { depthCure } from '../../src/diagnose/fireflies/depthCure.ts';
import { guiltyPath } from '../../src/diagnose/fireflies/guiltyPath.ts';
import { mostTaken, takenByClamps } from '../../src/diagnose/fireflies/clampTakes.ts';
import type { Firefly } from '../../src/diagnose/fireflies/findFireflies.ts';
import { meanOf } from '../../src/diagnose/fireflies/regionMean.ts';
import { contextOf, renderShot } from '../diagnosisBench.ts';
import { GLASS, GLOW, makeShot, MATT, sphere, square, type TestScene } from '../scenes.ts';

const settings = { width: 48, height: 36, pixelSamples: 16 };
const dim = { color: [0.05, 0.05, 0.05] };
const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
/** Stands upright at x, facing +X. */
const upright = (x: number, z: number) => [0, 0, 1, x, 0, 1, 0, 0, -1, 0, 0, z];
const floor = { mesh: square(4), surface: { ...MATT, name: 'limewash' } };
const hidden = { seenByCamera: false };

/** A small glowing ball in a hollow ball of glass above a floor. */
const flame: TestScene = {
  objects: [
    floor,
    { mesh: sphere(0.06, 24), surface: { ...GLOW, emission_luminance: 60 }, transform: at(0, 0, 1), flags: hidden },
    { mesh: sphere(0.35, 32), surface: { ...GLASS, name: 'chimney glass' }, transform: at(0, 0, 1), flags: hidden },
    { mesh: sphere(0.3, 32), surface: { ...GLASS, name: 'chimney glass' }, transform: at(0, 0, 1), flags: { ...hidden, facesTurned: true } }, // prettier-ignore
  ],
  environment: dim,
  view: 1.2,
  settings,
};
/** A lamp that lights a mirror alone, which throws it on the floor. */
const mirror: TestScene = {
  objects: [
    floor,
    { mesh: square(1.5), surface: { ...MATT, base_metalness: 1, base_color: [0.9, 0.9, 0.9], specular_weight: 1, specular_roughness: 0 }, transform: upright(-0.8, 0.75) }, // prettier-ignore
  ],
  lights: [{ kind: 'sphere', radius: 0.04, strength: 300, transform: at(0.8, 0, 0.9), linked: ['o1'] }],
  environment: dim,
  view: 1.2,
  settings,
};
/** The same with brushed metal, which is asked for the light of the lamp. */
const brushed: TestScene = {
  ...mirror,
  objects: [floor, { ...mirror.objects[1], surface: { ...mirror.objects[1].surface, specular_roughness: 0.08 } }],
};
/** A small lamp a few millimetres before a wall beside the floor. */
const lampAtWall: TestScene = {
  objects: [floor, { mesh: square(4), surface: MATT, transform: upright(-1, 0) }],
  lights: [{ kind: 'point', strength: 0.02, transform: at(-0.995, 0, 0.5) }],
  environment: dim,
  view: 1.2,
  settings: { ...settings, width: 64, height: 48 },
};
/** A glowing ball that moves: points on it are not chosen, so that it is hit by chance. */
const moving: TestScene = {
  objects: [
    floor,
    { mesh: sphere(0.05, 24), surface: { ...GLOW, emission_luminance: 60 }, transform: at(0, 0, 1), flags: { ...hidden, laterTransforms: [at(0.02, 0, 1)] } }, // prettier-ignore
  ],
  environment: dim,
  view: 1.2,
  settings,
};
/** The same lamp in the middle of the room. */
const lampInRoom: TestScene = { ...lampAtWall, lights: [{ kind: 'sphere', radius: 0.2, transform: at(0, 0, 2) }] };
/** A glowing ball that the camera sees, no larger than a pixel: it belongs there. */
const star: TestScene = {
  objects: [floor, { mesh: sphere(0.012, 12), surface: { ...GLOW, emission_luminance: 30 }, transform: at(0.013, 0.013, 0.6) }], // prettier-ignore
  environment: { color: [0.3, 0.3, 0.3] },
  view: 1.2,
  settings,
};
/** The same in a mirror: small, bright, seen by a tenth of the samples of its pixel, and just as real. */
const glint: TestScene = {
  objects: [
    { mesh: square(4), surface: { ...MATT, base_metalness: 1, base_color: [0.9, 0.9, 0.9], specular_weight: 1, specular_roughness: 0 } }, // prettier-ignore
    ...[-0.3, 0, 0.3].map((x) => ({ mesh: sphere(0.005, 12), surface: { ...GLOW, emission_luminance: 200 }, transform: at(x, 0.11 + x / 7, 0.6), flags: { seenByCamera: false } })), // prettier-ignore
  ],
  environment: { color: [0.3, 0.3, 0.3] },
  view: 1.2,
  settings,
};

async function diagnosed(
  scene: TestScene,
  change: (context: DiagnosisContext) => Partial<DiagnosisContext> = () => ({}),
) {
  const { blobs, document } = makeShot(scene);
  const context = contextOf(document, blobs);
  const module = DIAGNOSES.fireflies!;
  const found = await explain(module, { ...context, ...change(context) });
  /** What a remedy was predicted to leave, and what it left with other samples. */
  const tried = (id: string, measure: Measure, seed = 7) => {
    const remedy = found.remedies.find((r) => r.id === id)!;
    const patch = [...remedy.patch, { op: 'replace' as const, path: '/final/seed', value: seed }];
    const { picture } = renderShot(patchShot(document, patch), blobs);
    const measured = measureEffects(module, picture, context.region, { seconds: 10, stops: 1 })[measure]!;
    return { effect: effectOf(remedy, measure)!, measured };
  };
  return { found, tried };
}

describe('firefly diagnosis', () => {
  describe('of a flame in a glass', () => {
    let answer: Awaited<ReturnType<typeof diagnosed>>;
    before(async () => (answer = await diagnosed(flame)));

    it('names the flame, the glass and the floor, and nothing else', () => {
      const { causes, summary } = answer.found;
      expect(causes.map(({ id, share }) => [id, share])).to.deep.equal([['behindGlass', 1]]);
      expect(summary).to.match(/^\d+ fireflies in this region, one pixel in \d+\.\n.*\n.*come from o1 through chimney glass onto o0\./); // prettier-ignore
    });

    it('replays the path: which step left it to chance, and Heckbert notation from the light to the eye', () => {
      const paths = answer.found.evidence.find((e) => e.id === 'paths')!;
      if (paths.type !== 'paths') throw new Error('no paths');
      for (const { marked, vertices } of paths.paths) {
        expect(vertices[marked!.vertex].lobe).to.equal('diffuse');
        // the density of a diffuse event is cos / pi
        expect(vertices[marked!.vertex].density).to.be.within(0, 1 / Math.PI);
        expect(vertices.at(-1)!.object).to.equal('o1');
      }
      const clusters = evidenceText(answer.found.evidence.find((e) => e.id === 'clusters')!);
      expect(clusters[1]).to.contain('LS+DE');
      expect(evidenceText(paths).join()).to.contain('chosen by chance, with a density of 0.');
    });

    it('glass that lets shadow rays through is predicted to cure it, and does; so it is with the clamp', () => {
      for (const id of ['clearShadows', 'clamp.indirect']) {
        const { effect, measured } = answer.tried(id, 'fireflies');
        expect(effect.now).to.be.above(50);
        expect(measured, id).to.be.within(effect.low, effect.high);
      }
    });

    it('stand-in lights cure it as well, and are as bright as the flame behind the same glass', () => {
      const [{ effect, measured }, glass] = [
        answer.tried('standIn', 'fireflies'),
        answer.tried('clearShadows', 'luminance'),
      ];
      expect(measured).to.be.within(effect.low, effect.high);
      const light = answer.tried('standIn', 'luminance');
      expect(light.measured / glass.measured).to.be.within(0.98, 1.02);
      expect(light.measured).to.be.within(0.97 * light.effect.low, 1.03 * light.effect.high);
    });

    it('a shorter reach leaves as many as it says, and takes the light that it says', () => {
      const light = answer.tried('emissionReach', 'luminance');
      expect(light.measured).to.be.within(0.97 * light.effect.low, 1.03 * light.effect.high);
      // few are left, and their range is that of four in five renders: of five, less than three would be off once in twenty
      const counts = [7, 8, 9, 10, 11].map((seed) => answer.tried('emissionReach', 'fireflies', seed));
      expect(counts.filter(({ effect, measured }) => measured >= effect.low && measured <= effect.high).length).to.be.at.least(3); // prettier-ignore
    });

    it('cures are compared on the same pixels: left, noise, light, and samples for equal noise', () => {
      const table = answer.found.evidence.find((e) => e.id === 'cures')!;
      if (table.type !== 'table') throw new Error('no table');
      const rows = table.rows.map((row) => row.map((cell) => (cell.type === 'number' ? cell.value : cell.type === 'text' ? cell.text : ''))); // prettier-ignore
      expect(rows.map(([title]) => title)).to.include.members(['As it is', ...answer.found.remedies.map(({ title }) => title)]); // prettier-ignore
      const at = (n: number, id: string) => rows.find(([title]) => title === answer.found.remedies.find((r) => r.id === id)!.title)![n] as number; // prettier-ignore
      // noise falls with the square root of the samples: held against a render with as many as are said to be enough
      const samples = at(7, 'clearShadows');
      expect(samples).to.be.below(16 / 4);
      const { document, blobs } = makeShot({ ...flame, settings: { ...settings, clearShadows: 'tinted', pixelSamples: Math.max(2, samples), seed: 9 } }); // prettier-ignore
      const { picture } = renderShot(document, blobs);
      const { noise } = measureEffects(DIAGNOSES.fireflies!, picture, frameOf(document.final), {
        seconds: 1,
        stops: 1,
      });
      expect(noise! / (rows[0][2] as number)).to.be.below(1.3);
    });

    it('leaving out outliers leaves as many, and takes the light, that it says', () => {
      for (const measure of ['fireflies', 'luminance'] as const) {
        const { effect, measured } = answer.tried('outlierGroups', measure);
        expect(measured, measure).to.be.within(0.97 * effect.low, 1.03 * effect.high);
      }
    });

    it('says whether it boils when it is denoised', () => {
      expect(answer.found.summary).to.contain('Denoised, ');
      expect(answer.found.evidence.map(({ id }) => id)).to.include('boil');
    });

    it('the clamp takes the light that it was said to take', () => {
      const { effect, measured } = answer.tried('clamp.indirect', 'luminance');
      expect(measured).to.be.below(effect.now!);
      expect(measured).to.be.within(0.97 * effect.low, 1.03 * effect.high);
    });

    it('more samples are said to bring more of them, and do', () => {
      expect(answer.found.remedies.map(({ id }) => id)).to.not.include('pixelSamples');
      const [, to, left] = /(\d+) instead of 16 are predicted to make (\d+) /.exec(answer.found.summary)!.map(Number); // prettier-ignore
      const { document, blobs } = makeShot({ ...flame, settings: { ...settings, pixelSamples: to } });
      const { picture } = renderShot(document, blobs);
      const { fireflies } = DIAGNOSES.fireflies!.measure(picture, frameOf(document.final), 0);
      expect(fireflies! / left).to.be.within(0.6, 1.2);
    });
  });

  it('what a clamp takes, by object: nine tenths of a lamp in a mirror that is ten times as bright as the clamp', () => {
    const lamp = { mesh: square(4), surface: { ...GLOW, emission_luminance: 100 }, transform: [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, -1, 2] }; // prettier-ignore
    const mirrorOf = (x: number, weight: number) => ({ mesh: square(0.5), surface: { ...MATT, base_metalness: 1, base_color: [weight, weight, weight], specular_weight: 1, specular_roughness: 0 }, transform: at(x, 0, 0) }); // prettier-ignore
    const scene = { objects: [{ ...lamp, flags: hidden }, mirrorOf(-0.4, 0.6), mirrorOf(0.4, 0.06)], view: 1.2 };
    const { blobs, document } = makeShot({ ...scene, settings: { ...settings, clamp: { ...NO_CLAMP, direct: 6 } } });
    const { compiled, picture } = renderShot(document, blobs);
    const taken = takenByClamps(picture, frameOf(document.final), []);
    expect([1, 2].map((object) => Number(taken.get(object)!.toFixed(3)))).to.deep.equal([0.9, 0]);
    expect(mostTaken(taken, compiled.objectIds, document)!.name).to.equal('o1');
    // where a firefly is, a clamp does what it is for
    const all = Array.from({ length: 48 * 36 }, (_, i) => ({ x: i % 48, y: Math.floor(i / 48) }) as Firefly);
    expect(takenByClamps(picture, frameOf(document.final), all).size).to.equal(0);
    const other = makeShot({ ...scene, settings: { ...settings, clamp: { ...NO_CLAMP, indirect: 6 } } });
    expect(takenByClamps(renderShot(other.document, other.blobs).picture, frameOf(document.final), []).get(1)).to.equal(0); // prettier-ignore
  });

  it('the account of light by events adds up to the picture with its clamp; that by brightness to the one without', () => {
    const account = (indirect: number) => {
      const { blobs, document } = makeShot({ ...flame, settings: { ...settings, clamp: { ...NO_CLAMP, indirect } } });
      const { picture, statistics } = renderShot(document, blobs, ['light']);
      const { clamps, depths, samples } = statistics.paths!;
      const total = (of: number[]) => of.reduce((sum, v) => sum + v, 0);
      const per = (light: number[][]) => total(light.map(total)) / total(samples);
      const seen = per(depths.filter(({ events }) => total(events) === 0).map(({ light }) => light));
      return { mean: meanOf(picture, frameOf(document.final)).value, events: per(depths.map(({ light }) => light)), brightness: per(clamps.map(({ light }) => light)) + seen }; // prettier-ignore
    };
    const [clamped, open] = [account(0.5), account(0)];
    expect(clamped.events / clamped.mean).to.be.closeTo(1, 1e-3);
    expect(open.events / open.mean).to.be.closeTo(1, 1e-3);
    expect(clamped.brightness / open.mean).to.be.closeTo(1, 1e-3);
    expect(clamped.mean).to.be.below(0.8 * open.mean);
  });

  it('the curve of clamps counts what a render with them and the same samples leaves', () => {
    const { blobs, document } = makeShot(flame);
    const { compiled, picture, settings: now } = renderShot(document, blobs);
    const tracer = new PathTracer(compiled, now);
    const guilty = findFireflies(picture, frameOf(now)).flatMap((firefly) => {
      const path = guiltyPath(tracer, firefly, now.clamp);
      const samples = brightSamples(tracer, firefly, now.clamp);
      expect(samples.length).to.be.above(0);
      return path ? [{ firefly, path: { ...path, samples } }] : [];
    });
    expect(guilty.length).to.be.above(80);
    // they come over matt surfaces: a clamp of glass leaves all
    const tried = [...[10, 2, 0.5, 0.2].map((indirect) => ({ indirect })), { diffuse: 0.5 }, { transmission: 0.01 }];
    for (const one of tried) {
      const clamp = { ...NO_CLAMP, ...one };
      const other = renderShot({ ...document, final: { ...document.final, clamp } }, blobs).picture;
      const light = layerLuminance(other, 'beauty')!;
      const left = guilty.filter(({ firefly: { limit, x, y } }) => light[y * now.width + x] > limit).length;
      expect(leftWith(guilty, now.clamp, clamp), JSON.stringify(one)).to.be.closeTo(left, 1);
    }
  });

  it('where a denoiser boils: 18 % grey is L* 49.5, and a tenth lighter 51.6 (CIE 15)', () => {
    const part = { x: 0, y: 0, width: 16, height: 8 };
    // without an error a pixel stays as it is
    const picture = (left: number): Picture => {
      const plane = (value: (x: number) => number) => Float32Array.from({ length: 128 }, (_, i) => value(i % 16));
      const channels = [...['R', 'G', 'B'].map((name) => ({ name, data: plane((x) => (x < 8 ? left : 0.18)) })), { name: 'error.Y', data: plane(() => 0) }]; // prettier-ignore
      return { ...part, dataWindow: part, displayWindow: part, metadata: {}, channels: channels.map((c) => ({ ...c, type: 'float' })) }; // prettier-ignore
    };
    const { map, share } = boilOf(picture(0.18), picture(0.198), part, { limit: 1, stops: 0 });
    expect(share).to.equal(0.5);
    expect(map.values.map((v) => Number(v.toFixed(1)))).to.deep.equal([2.1, 0]);
    expect(boilOf(picture(0.18), picture(0.198), part, { limit: 3, stops: 0 }).share).to.equal(0);
  });

  for (const [name, scene, cause, notation] of [
    ['a mirror that throws a lamp on the floor', mirror, 'caustic', 'LSDE'],
    ['a lamp at a wall', lampAtWall, 'nearLight', 'LDDE'],
    ['a glowing ball that moves', moving, 'byChance', 'LDE'],
  ] as const)
    it(`of ${name}: ${cause} alone`, async () => {
      const { found } = await diagnosed(scene);
      expect(found.causes.map(({ id }) => id)).to.deep.equal([cause]);
      expect(evidenceText(found.evidence.find((e) => e.id === 'clusters')!).join()).to.contain(notation);
    });

  it('a caustic is cured by a roughness floor, as far as it says', async () => {
    const { found, tried } = await diagnosed(brushed);
    expect(found.causes.map(({ id }) => id)).to.deep.equal(['caustic']);
    expect(found.remedies.map(({ id }) => id)).to.not.include('standIn');
    for (const measure of ['fireflies', 'luminance'] as const) {
      const { effect, measured } = tried('roughnessFloor.0.6', measure);
      expect(measured, measure).to.be.within(0.97 * effect.low, 1.03 * effect.high);
    }
  });

  it('a caustic ends at a specular depth of 0, which takes the light that it says', async () => {
    const { found, tried } = await diagnosed(brushed);
    expect(found.remedies.find(({ id }) => id === 'depth.specular')!.title).to.equal('Lower the specular depth from 100 to 0'); // prettier-ignore
    for (const measure of ['fireflies', 'luminance'] as const) {
      const { effect, measured } = tried('depth.specular', measure);
      expect(measured, measure).to.be.within(0.97 * effect.low, 1.03 * effect.high);
    }
  });

  it('of depth limits that end the paths of fireflies, the one that takes least of the light is taken', () => {
    const light = (group: number) => [group, ...new Array<number>(15).fill(0)];
    const row = (diffuse: number, specular: number, y: number) => ({ events: [diffuse, specular, 0, 0] as [number, number, number, number], rays: 1, light: light(y) }); // prettier-ignore
    const depths = [row(0, 0, 10), row(1, 0, 80), row(1, 1, 7), row(1, 2, 2), row(2, 1, 1)];
    const vertex = (lobe: string) => ({ lobe }) as PathVertex;
    const met = { asked: false, light: 'environment', lobe: null } as FoundLight;
    const limits = { diffuse: 4, specular: 4, transmission: 4, volume: 4, total: 8 };
    const path = (...lobes: string[]) => ({ vertices: lobes.map(vertex), light: met });
    const twoMirrors = path('diffuse', 'specular', 'specular');
    const cure = (paths: (typeof twoMirrors)[]) => depthCure(paths, depths, limits, 0.05)!;
    expect(cure([twoMirrors])).to.deep.include({ kind: 'specular', value: 1, left: 0 });
    expect(cure([twoMirrors]).lost).to.be.closeTo(0.02, 1e-12);
    // one of two has a single specular event: only the limit that ends both leaves few enough
    expect(cure([twoMirrors, path('diffuse', 'specular')])).to.deep.include({ kind: 'specular', value: 0 });
    expect(cure([path('diffuse')])).to.equal(null);
  });

  for (const [name, scene] of [
    ['a lamp in the middle of a room', lampInRoom],
    ['a star that the camera sees', star],
    ['glints in a mirror', glint],
  ] as const)
    it(`of ${name}: none`, async () => {
      const { found } = await diagnosed(scene);
      expect(found.summary).to.match(/^No fireflies in this region \(\d+ pixels\)\.$/);
      expect([found.causes, found.remedies]).to.deep.equal([[], []]);
    });

  it('without the scene it counts and predicts more samples; without statistics it says that it is less certain', async () => {
    const { found } = await diagnosed(flame, () => ({ scene: null }));
    expect(found.measured.fireflies).to.be.above(50);
    expect(found.causes).to.deep.equal([]);
    expect(found.summary).to.contain('diagnose the scene itself');
    const bare = await diagnosed(lampAtWall, ({ picture }) => ({ scene: null, picture: { ...picture, channels: picture.channels.filter(({ name }) => /^[RGB]$/.test(name)) } })); // prettier-ignore
    expect(bare.found.measured.fireflies).to.be.above(2);
    expect(bare.found.summary).to.contain('the file carries no sample statistics');
  });

  it('pixels that are not a number are counted, and a picture without a beauty layer is refused', async () => {
    const spoilt = ({ picture }: DiagnosisContext) => {
      for (const c of picture.channels) if (c.name === 'G') c.data.fill(NaN, 0, 5);
      return {};
    };
    expect((await diagnosed(lampInRoom, spoilt)).found.summary).to.contain('5 pixels are not a number');
    const nothing = ({ picture }: DiagnosisContext) => ({ picture: { ...picture, channels: [] } });
    const refused = await diagnosed(lampInRoom, nothing).catch((error: Error) => error.message);
    expect(refused).to.contain('no beauty layer');
  });
});
