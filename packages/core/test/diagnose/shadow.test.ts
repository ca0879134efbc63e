// Shadows with one thing at a time that keeps them away: that is named and nothing else, and its remedy is rendered. Beside
// them the depth of a shadow between two suns against its closed form (Lambert: a place of albedo a shows a / pi times what
// arrives), and the soft edge of a sun, 2 d tan(angle / 2).
import { expect } from 'chai';
import { lightness } from '@dusting/core/color';
import { effectOf, evidenceText, lightChain, type RaysEvidence, type TableEvidence } from '@dusting/core/diagnose';
import type { MeshData } from '@dusting/core/formats';
import { pixelNoise } from '@dusting/core/image';
import { frameOf, layerLuminance } from '@dusting/core/render';
import { patchShot, penumbra, SURFACE_DEFAULTS, type Light, type Patch } from '@dusting/core/scene';
import { arrival } from '../../src/diagnose/shadow/arrival.ts';
import { lightCosts, lightCostTable } from '../../src/diagnose/shadow/lightCosts.ts';
import { towardLight } from '../../src/diagnose/shadow/lightPoints.ts';
import { turnedAround } from '../../src/diagnose/shadow/rightedLight.ts';
import { shadowDepth } from '../../src/diagnose/shadow/shadowDepth.ts';
import { edgeNoise, softEdges } from '../../src/diagnose/shadow/softEdges.ts';
import { shadowFalls } from '../../src/diagnose/shadow/shadowFalls.ts';
import { contextOf, explained, failedChecks, renderShot } from '../diagnosisBench.ts';
import { compileTest, GLASS, makeShot, MATT, renderTest, slab, sphere, square, type TestObject, type TestScene } from '../scenes.ts'; // prettier-ignore

const moved = (mesh: MeshData, x: number): MeshData => ({ ...mesh, positions: mesh.positions.map((v, i) => (i % 3 === 0 ? v + x : v)) }); // prettier-ignore
const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
/** Z of a scene becomes Y, which is up. */
const LYING = [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0];
const lying = ([...m]: number[]) => [m.slice(0, 4), m.slice(8, 12), m.slice(4, 8).map((v) => -v)].flat();
const floor: TestObject = { mesh: square(20), surface: MATT };
/** Stands beside the view at a height of 1 m: a sun at 45 degrees throws its shadow into the middle. */
const caster: TestObject = { mesh: moved(slab(0.5, 1, 1.05), 1), surface: MATT, flags: { seenByCamera: false } };
const C = Math.SQRT1_2;
const SLANTED = [C, 0, C, 0, 0, 1, 0, 0, -C, 0, C, 0];
const sun: Partial<Light> = { name: 'sun', kind: 'sun', strength: 2, angle: 0, transform: SLANTED };
const turnedBy = (degrees: number) => {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return [c, 0, s, 0, 0, 1, 0, 0, -s, 0, c, 0];
};
const coarseBall: MeshData = sphere(0.5, 8);
const DARK = { environment: { color: [0.02, 0.02, 0.02] } };
const scene = (objects: TestObject[], lights: Partial<Light>[] = [sun], more: Partial<TestScene> = {}): TestScene => ({ objects: [floor, ...objects], lights, view: 1, ...DARK, ...more, settings: { width: 24, height: 24, pixelSamples: 16, depth: { diffuse: 1, specular: 1, transmission: 4, total: 8 }, ...more.settings } }); // prettier-ignore

async function diagnosed(of: TestScene) {
  const { blobs, document } = makeShot(of);
  const result = await explained('shadow', contextOf(document, blobs));
  const tried = (patch: Patch) => renderShot(patchShot(document, patch), blobs).statistics.meanLuminance;
  const contrast = (patch: Patch) => shadowDepth(renderShot(patchShot(document, patch), blobs).picture, frameOf(document.final), 1); // prettier-ignore
  return { result, tried, contrast };
}

describe('shadow diagnosis', function () {
  this.timeout(60_000);
  const lamp: Partial<Light> = { name: 'lamp', kind: 'sphere', strength: 8000, radius: 0.02, transform: [1, 0, 0, 2, 0, 1, 0, 0, 0, 0, 1, 2] }; // prettier-ignore
  const faults: [name: string, of: TestScene, cause: string, words: RegExp][] = [
    ['a caster with its flag off', scene([{ ...caster, flags: { seenByCamera: false, castsShadows: false } }]), 'flag:o1', /stands between sun and \d+ % of this region, and is set to cast no shadows/],
    ['a clear caster', scene([{ ...caster, surface: { ...GLASS, geometry_thin_walled: true } }], [sun], { settings: { clearShadows: 'plain' } }), 'clear:o1', /shadow rays pass it, because it is clear/],
    ['a single-sided caster from behind', scene([{ mesh: moved(square(0.5, 1), 1), surface: MATT, flags: { seenByCamera: false, doubleSided: false } }]), 'back:o1', /with its back to it, and its back is not there/],
    ['a light without shadows', scene([caster], [{ ...sun, castsShadows: false }]), 'lightWithout:l0', /sun is set to cast no shadows/],
    ['a floor that receives none', { ...scene([caster]), objects: [{ ...floor, flags: { receivesShadows: false } }, caster] }, 'placeWithout:o0', /is set to receive no shadows/],
    ['a sun that a mirror turns around', scene([caster], [{ ...sun, transform: turnedAround(sun.transform!) }]), 'mirrored:l0', /transform of sun mirrors it, and so turns it around: without the mirror it would shine on 100 % of this region/],
    ['a shadow color', scene([caster], [{ ...sun, shadowColor: [0.9, 0.9, 0.9] }]), 'tinted:l0', /shadow color of sun is 0\.9, 0\.9, 0\.9/],
    ['a floor that glows', { ...scene([caster]), objects: [{ ...floor, surface: { ...MATT, emission_luminance: 0.05 } }, caster] }, 'glow:s0', /glows: 8\d % of the light of the darkest tenth of this region is its own emission, a floor of 26\.7 L\*/],
    ['a light that is linked elsewhere', scene([caster], [{ ...sun, linked: ['o1'] }]), 'notLinked:l0', /sun is not linked to/],
    ['a light that does not reach', scene([caster], [{ ...lamp, reach: 1.5 }]), 'beyondReach:l0', /lamp reaches 1\.5 m, and this region lies up to/],
    ['a caster beyond the range of shadows', scene([caster], [{ ...sun, shadowTo: 0.7 }]), 'range:l0', /stands 1\.4\d? m from \d+ % of this region, and sun throws the shadows of what stands nearer than 0\.7 m alone/],
    ['a caster nearer than the range of shadows', scene([caster], [{ ...sun, shadowFrom: 3 }]), 'range:l0', /sun throws the shadows of what stands farther than 3 m alone/],
    ['two suns in one place', scene([], [sun, { ...sun, name: 'other sun' }]), 'doubled:l1', /other sun stands where sun stands and shines the same way/],
    ['a floor behind the far distance', { ...scene([caster]), camera: { transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 10], verticalAngle: 6, far: 9 } }, 'clipped:far', /shows nothing beyond 9 m: 100 % of this region would show .*, up to 10 m away/],
    ['a ball before the near distance', { ...scene([{ mesh: moved(sphere(0.2, 24), 0), surface: MATT, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 1] }]), camera: { transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 10], verticalAngle: 6, near: 9.5 } }, 'clipped:near', /shows nothing within 9\.5 m: \d+ % of this region would show .*, from 8\.8\d? m away/],
    ['a coarse ball with smooth normals', scene([{ mesh: coarseBall, surface: MATT }], [{ ...sun, transform: turnedBy(75) }]), 'coarse:o1', /smooth normals face sun while its flat faces turn away/],
    ['a wall whose normals are bent by an exporter', { ...scene([]), objects: [{ mesh: { ...square(20), normals: new Float32Array([-0.94, 0, 0.34, -0.94, 0, 0.34, -0.94, 0, 0.34, -0.94, 0, 0.34]) }, surface: MATT }] }, 'normals:o0', /normals of .* turn away from sun on 100 % of this region where its faces look at it/],
    ['a lamp inside of a closed ball', scene([{ mesh: sphere(0.3, 24), surface: MATT, transform: at(0, 0, 2), flags: { seenByCamera: false } }], [{ ...lamp, transform: at(0, 0, 2) }]), 'enclosed:l0', /lamp stands inside of .*: nothing of its light gets out/],
    ['a slab that hangs above the ground', { ...scene([]), objects: [{ ...floor, transform: LYING }, { mesh: slab(0.1, 0.04, 0.6), surface: MATT, transform: lying([1, 0, 0, 0, 0, 6, 0, 0, 0, 0, 1, 0]) }], lights: [{ ...sun, transform: lying(turnedBy(80)) }], camera: { transform: lying(at(0, 0, 10)), verticalAngle: 6 } }, 'floats:o1', /hangs 40\.00 mm above .*: light gets in under it/],
    ['a light too large', scene([{ mesh: moved(slab(0.25, 1, 1.02), 1), surface: MATT, flags: { seenByCamera: false } }], [{ ...lamp, radius: 0.9, strength: 1 }]), 'soft:l0', /no core of the shadow is left/],
    ['a shadow that the sky fills', scene([caster], [{ ...sun, strength: 0.15 }], { environment: { color: [1, 1, 1] } }), 'filled:l0', /The shadow of sun is only [\d.]+ L\* deep here, filled by .*/],
  ]; // prettier-ignore
  for (const [name, of, cause, words] of faults)
    it(`${name}: that is named, and nothing else`, async () => {
      const { contrast, result, tried } = await diagnosed(of);
      expect(result.summary).to.match(words);
      expect(result.causes.map(({ id }) => id)).to.deep.equal([cause]);
      // what fills a shadow is measured, and no fault of a setting
      expect(failedChecks(result)).to.have.length(cause.startsWith('filled') ? 0 : 1);
      const [remedy] = result.remedies;
      const { high, low } = effectOf(remedy, 'luminance')!;
      expect(tried(remedy.patch), remedy.title).to.be.within(low - 0.01, high + 0.01);
      const deeper = effectOf(remedy, 'contrast')!;
      expect(contrast(remedy.patch) ?? 0, remedy.title).to.be.within(deeper.low, deeper.high);
    });

  it('how deep a filled shadow becomes is predicted from the layers of the light groups: by its fill, and by its light', async () => {
    // the shadow of the strong sun lies beside the view
    const strong: Partial<Light> = { name: 'high sun', kind: 'sun', strength: 1.5, angle: 0, group: 'high' };
    const { contrast, result } = await diagnosed(scene([caster], [{ ...sun, strength: 0.15, group: 'low' }, strong], { environment: { color: [0, 0, 0] } })); // prettier-ignore
    expect(result.remedies.map(({ id }) => id)).to.deep.equal(['filled:l0', 'raise:l0']);
    for (const remedy of result.remedies) {
      const { high, low, now, value } = effectOf(remedy, 'contrast')!;
      expect(now).to.be.closeTo(contrast([])!, 1e-3);
      expect(value).to.be.above(1.5 * now!);
      expect(contrast(remedy.patch), remedy.title).to.be.within(low, high);
    }
  });

  it('what stands off a wall is meant to: the same slab is not put against it', async () => {
    const { result } = await diagnosed(scene([{ mesh: slab(0.1, 0.04, 0.6), surface: MATT, transform: [1, 0, 0, 0, 0, 6, 0, 0, 0, 0, 1, 0] }], [{ ...sun, transform: turnedBy(80) }])); // prettier-ignore
    expect(result.summary).to.contain('throws a shadow of sun');
    expect(result.causes.map(({ id }) => id)).to.not.include('floats:o1');
  });

  it('a lamp in a room that throws shadows of its own is not inside of an object more than the place is', async () => {
    const [shell, board] = [sphere(3, 48), moved(slab(2, -1.1, -1), 0)];
    const room: MeshData = { positions: new Float32Array([...shell.positions, ...board.positions]), normals: null, uvs: null, indices: new Uint32Array([...shell.indices, ...board.indices.map((v) => v + shell.positions.length / 3)]) }; // prettier-ignore
    const { result } = await diagnosed({ ...scene([]), objects: [{ mesh: room, surface: MATT }], lights: [{ ...lamp, transform: at(0, 0, 2) }], camera: { transform: at(0, 0, -1.5), verticalAngle: 30 } }); // prettier-ignore
    expect(result.summary).to.match(/throws a shadow of lamp on 100 % of this region/);
    expect(result.causes.map(({ id }) => id)).to.not.include('enclosed:l0');
  });

  it('a lamp under the floor is named, and cannot be helped by a setting', async () => {
    const { result } = await diagnosed(scene([], [{ ...lamp, transform: at(0.3, 0, -0.4) }]));
    expect(result.summary).to.match(/lamp stands under .*, 0\.4 m below its surface/);
    expect(failedChecks(result)).to.have.length(1);
    expect(result.remedies).to.deep.equal([]);
  });

  it('soft edges over the size of the light, and their noise: the binomial law, held against renders of one ray', () => {
    const wide = {
      light: makeShot(scene([], [{ ...sun, angle: 5 }])).document.lights.l0,
      toBlocker: 2,
      toLight: Infinity,
    };
    const width = 4 * Math.tan((2.5 * Math.PI) / 180);
    expect(softEdges(wide, 0.01).map((edge) => edge.width)).to.deep.equal([width, width / 2, width / 4, 0]);
    expect(softEdges(wide, 0.01)[1].pixels).to.be.closeTo(50 * width, 1e-9);
    // half of a large lamp hidden from the whole view by a wall that ends in the line to its middle
    const halved = (seed: number) => makeShot({ ...scene([{ mesh: moved(slab(20, 0.5, 0.52), 10), surface: MATT, flags: { seenByCamera: false } }], [{ kind: 'sphere', radius: 0.3, strength: 1, transform: at(0, 0, 1), seenByCamera: false }], { view: 0.002, environment: { color: [0, 0, 0] }, settings: { width: 8, height: 8, pixelSamples: 1, seed } }) }); // prettier-ignore
    const picture = ({ blobs, document }: ReturnType<typeof makeShot>) => renderShot(document, blobs).picture;
    const values = Array.from({ length: 40 }, (_, seed) => layerLuminance(picture(halved(seed + 1)), 'beauty')!).flatMap((plane) => [...plane]); // prettier-ignore
    const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
    const deviation = Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length);
    const left = Math.min(...values);
    const kept = 2 * (mean - left);
    expect(edgeNoise(kept, left, 1, 0) / pixelNoise(mean, deviation, 0)).to.be.closeTo(1, 0.1);
    expect(edgeNoise(kept, left, 100, 0)).to.be.closeTo(
      edgeNoise(kept, left, 25, 0) / 2,
      0.1 * edgeNoise(kept, left, 100, 0),
    );
  });

  it('rays that end inside of a room find the sky there: named, with the distance that the room needs', async () => {
    const walls: TestObject = { mesh: slab(6, -0.01, 5), surface: MATT, flags: { seenByCamera: false } };
    const of = (rayDistance: number) => ({ ...scene([walls], [{ ...lamp, radius: 0.2, strength: 20, transform: [1, 0, 0, 1, 0, 1, 0, 0, 0, 0, 1, 3] }]), environment: { color: [1, 1, 1] }, settings: { ...scene([]).settings, rayDistance, depth: { diffuse: 3, specular: 1, transmission: 1, total: 4 } } }); // prettier-ignore
    const { result, tried } = await diagnosed(of(1.5));
    const [cause] = result.causes;
    expect(cause.id).to.equal('rayEnds');
    expect(result.summary).to.match(/Rays end after 1\.5 m and return the sky: \d+ % of the rays from this region would hit something farther away, up to [56]/); // prettier-ignore
    const remedy = result.remedies.find(({ id }) => id === 'rayEnds')!;
    const { high, low } = effectOf(remedy, 'luminance')!;
    expect(tried(remedy.patch)).to.be.within(low - 0.01, high + 0.01);
    const far = await diagnosed(of(20));
    expect(far.result.causes.map(({ id }) => id)).to.not.include('rayEnds');
  });

  it('a range of shadows is marked on the middle ray to its light, from and to', async () => {
    const { result } = await diagnosed(scene([caster], [{ ...sun, shadowFrom: 0.2, shadowTo: 0.7 }]));
    const rays = result.evidence.find((e): e is RaysEvidence => e.type === 'rays')!;
    const [{ lines, text }] = rays.rays;
    const from = lines[0].points[0];
    const away = (p: number[]) => Math.hypot(...p.map((v, k) => v - from[k]));
    expect(away(lines[0].range![0])).to.be.closeTo(0.2, 1e-9);
    expect(away(lines[0].range![1])).to.be.closeTo(0.7, 1e-9);
    expect(text).to.contain('casts only shadows of what stands 0.2 m to 0.7 m away');
    const without = await diagnosed(scene([caster]));
    expect(JSON.stringify(without.result.evidence)).to.not.contain('"range"');
  });

  it('a cloth that lies in the plane of the floor: both fight, and lifted by as much as is said they do not', async () => {
    const [c, t] = [Math.cos(0.35), Math.sin(0.35)];
    const tilted = (k: number) => [k, 0, 0, 0, 0, k * c, -k * t, 0, 0, k * t, k * c, 0];
    const cloth = (scale: number): TestObject => ({ mesh: square(0.6 / scale), surface: { ...MATT, base_color: [0.1, 0.1, 0.1] }, transform: tilted(scale) }); // prettier-ignore
    const { result, tried } = await diagnosed({
      ...scene([]),
      objects: [{ ...floor, transform: tilted(1) }, cloth(0.1)],
    });
    expect(result.causes.map(({ id }) => id)).to.deep.equal(['coplanar:o1']);
    expect(failedChecks(result)).to.have.length(1);
    expect(result.summary).to.match(/Faces of o1 and o0 are coplanar on \d+ % of this region/);
    const [remedy] = result.remedies;
    const { high, low } = effectOf(remedy, 'luminance')!;
    expect(tried(remedy.patch)).to.be.within(low - 0.01, high + 0.01);
    const { blobs, document } = makeShot({ ...scene([]), objects: [{ ...floor, transform: tilted(1) }, cloth(0.1)] });
    const lifted = await explained('shadow', contextOf(patchShot(document, remedy.patch), blobs));
    expect(lifted.causes).to.deep.equal([]);
    // a cube on a floor shares a plane with it that nobody sees
    const cube = await diagnosed(scene([{ mesh: slab(0.4, 0, 0.4), surface: MATT }]));
    expect(failedChecks(cube.result)).to.deep.equal([]);
  });

  it('a shadow in a white room is filled by what comes from its walls', async () => {
    const white = { ...MATT, base_color: [0.93, 0.93, 0.93] };
    const room: TestObject[] = [
      { mesh: slab(2, -0.01, 2.4), surface: white, flags: { seenByCamera: false } },
      { mesh: moved(slab(0.3, 0.8, 0.85), 0.4), surface: white, flags: { seenByCamera: false } },
    ];
    const globe: Partial<Light> = {
      ...lamp,
      radius: 0.05,
      strength: 100,
      transform: [1, 0, 0, 0.8, 0, 1, 0, 0, 0, 0, 1, 2],
    };
    const of = scene(room, [globe], {
      environment: {},
      settings: { depth: { diffuse: 12, specular: 1, transmission: 0, volume: 0, total: 14 } },
    });
    const { result, tried } = await diagnosed({ ...of, objects: [{ ...floor, surface: white }, ...room] });
    expect(result.summary).to.match(
      /The shadow of lamp is only [\d.]+ L\* deep here, filled by indirect diffuse \(\d+ % of the light here\)/,
    );
    expect(result.causes.map(({ id }) => id)).to.deep.equal(['filled:l0']);
    const [{ patch, ...remedy }] = result.remedies;
    expect(patch).to.deep.equal([{ op: 'replace', path: '/final/depth/diffuse', value: 1 }]);
    const { high, low } = effectOf({ patch, ...remedy }, 'luminance')!;
    expect(tried(patch)).to.be.within(low - 0.01, high + 0.01);
  });

  it('bounces in an evenly glowing ball add up as the geometric series of its albedo (integrating sphere), and the rest of them is one', async () => {
    const inside = sphere(5, 48);
    const glowing = { ...MATT, base_color: [0.5, 0.5, 0.5], emission_luminance: 0.1 };
    const of: TestScene = { objects: [{ mesh: inside, surface: glowing }], lights: [{ ...sun, strength: 1e-6 }], camera: { transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0], verticalAngle: 60 }, environment: {}, settings: { width: 16, height: 16, pixelSamples: 64, depth: { diffuse: 5, specular: 1, transmission: 1, volume: 0, total: 8 } } }; // prettier-ignore
    const { result } = await diagnosed(of);
    // what glows is seen with light that came straight from what glows: 1 + 1/2
    const series = (bounces: number) => 2 - 0.5 ** (bounces + 1);
    const curve = result.evidence.find(({ id }) => id === 'bounces')!;
    if (curve.type !== 'curves') throw new Error('no curve');
    const [{ points }] = curve.curves;
    expect(points.map(([x]) => x)).to.deep.equal([0, 1, 2, 4]);
    for (const [x, y] of points) expect(y).to.be.closeTo(series(x) / series(4), 0.01);
    const bars = result.evidence.find(({ id }) => id === 'lift')!;
    if (bars.type !== 'bars') throw new Error('no bars');
    expect(bars.bars.map(({ label }) => label)).to.deep.equal(['bounce 1', 'bounce 2', 'bounces 3 to 4']);
    expect(bars.bars[0].value).to.be.closeTo(lightness(0.1 * series(1)) - lightness(0.1 * series(0)), 0.3);
    expect(result.summary).to.match(
      /The darkest tenth of this region lies at [\d.]+ L\*; it is lifted by [\d.]+ L\* by bounce 1, /,
    );
  });

  it('where the shadow of a caster falls instead: h / tan(elevation) beside it', async () => {
    // at a height of 1 m, under a sun at 45 degrees and at 30
    for (const [degrees, x] of [
      [45, 0.6],
      [60, 1.4],
    ]) {
      const tall = scene([{ ...caster, mesh: moved(slab(0.05, 0.975, 1.025), x) }], [{ ...sun, transform: turnedBy(degrees) }], { view: 2, settings: { width: 200, height: 200 } }); // prettier-ignore
      const { compiled, settings } = compileTest(tall);
      const { document } = makeShot(tall);
      const region = { x: 0, y: 0, width: 20, height: 20 };
      const { answers } = await lightChain(compiled, document, settings, region);
      const [fall] = shadowFalls(compiled, document, settings, region, answers[0]);
      const tan = Math.tan((degrees * Math.PI) / 180);
      expect(compiled.objectIds[fall.object]).to.equal('o1');
      expect(fall.length).to.be.closeTo(Math.hypot(1, tan), 1e-3);
      // 2 m over 200 pixels, the middle of the picture at 0
      expect(fall.x).to.be.closeTo(100 + (x - tan) * 100, 1);
    }
  });

  it('of 200 lights the ten that matter are listed, and what the others bring together', async () => {
    const place = (x: number, z: number) => [1, 0, 0, x, 0, 1, 0, 0.1, 0, 0, 1, z];
    const small = Array.from({ length: 200 }, (_, i): Partial<Light> => ({ ...lamp, name: `lamp ${i}`, kind: 'point', strength: i < 9 ? 5 : 0.01, transform: place(i / 40 - 2, 2) })); // prettier-ignore
    const { result } = await diagnosed(scene([caster], [...small, sun], { settings: { width: 12, height: 12 } }));
    const table = result.evidence.find(({ id }) => id === 'lights') as TableEvidence;
    const names = table.rows.map(([cell]) => (cell.type === 'number' ? '' : 'text' in cell ? cell.text : ''));
    expect(new Set(names.slice(0, -1))).to.have.property('size', 10);
    expect(names).to.include('sun');
    expect(names.at(-1)).to.equal('191 more');
    const shares = table.rows.flatMap(([, cell]) => (cell.type === 'number' ? [cell.value] : []));
    expect(shares.reduce((sum, v) => sum + v, 0)).to.be.closeTo(1, 1e-9);
    expect(shares.at(-1)).to.be.within(0.001, 0.1);
  });

  it('lights that do next to nothing in the whole frame are listed, with what becomes of them', async () => {
    const named = (name: string, more: Partial<Light>): Partial<Light> => ({ ...sun, name, ...more });
    const hood: TestObject = { mesh: slab(0.4, 1.6, 2.4), surface: MATT, flags: { seenByCamera: false } };
    const lights = [
      sun,
      named('off', { strength: 0 }),
      named('below', { transform: turnedBy(180) }),
      named('elsewhere', { linked: [] }),
      named('faint', { strength: 2 * 0.0009 }),
      named('just enough', { strength: 2 * 0.0012 }),
      // inside of a box: all of it is stopped
      { ...lamp, name: 'boxed', transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 2] },
    ];
    const { result } = await diagnosed(scene([hood], lights));
    const table = result.evidence.find(({ id }) => id === 'idle') as TableEvidence;
    const found = Object.fromEntries(table.rows.map(([light, , end]) => [light, end].map((cell) => ('text' in cell ? cell.text : '')))); // prettier-ignore
    expect(found).to.deep.equal({ off: 'off', below: 'faces away', elsewhere: 'not linked', faint: 'lit, nothing between', boxed: 'shadow' }); // prettier-ignore
    const all = await diagnosed(scene([caster]));
    expect(all.result.evidence.some(({ id }) => id === 'idle')).to.equal(false);
  });

  it('light groups are held against each other by what they bring and cost: the most time for the least light is first', () => {
    // 1, 3 and 0 of a matt floor, in proportion to their strengths (no occluder, no bounces)
    const named = (name: string, strength: number): Partial<Light> => ({ ...sun, name, group: name, strength });
    const { blobs, document } = makeShot(scene([], [named('one', 1), named('three', 3), named('none', 0)], { environment: {} })); // prettier-ignore
    const { picture, settings } = renderShot(document, blobs);
    const costs = lightCosts({ lightSeconds: [2, 1, 1], picture, region: frameOf(settings) }, document);
    expect(costs.map(({ group }) => group)).to.deep.equal(['none', 'one', 'three']);
    [
      [0.25, 0],
      [0.5, 0.25],
      [0.25, 0.75],
    ].forEach(([time, brings], i) => {
      expect(costs[i].time).to.equal(time);
      expect(costs[i].brings).to.be.closeTo(brings, 1e-3);
    });
    expect(lightCostTable(costs)!.rows.map((row) => row.length)).to.deep.equal([3, 3, 3]);
    const alone = makeShot(scene([])).document;
    expect(lightCosts({ lightSeconds: [1], picture, region: frameOf(settings) }, alone)).to.deep.equal([]);
  });

  it('what a light would bring is what it brings where nothing stands between', () => {
    const bare = {
      width: 8,
      height: 8,
      pixelSamples: 64,
      depth: { diffuse: 1, specular: 0, transmission: 0, volume: 0, total: 4 },
    };
    const high = [1, 0, 0, 0.3, 0, 1, 0, 0, 0, 0, 1, 4];
    const kinds: Partial<Light>[] = [sun, { kind: 'point', strength: 8, transform: high }, { kind: 'spot', strength: 8, innerCone: 0, outerCone: 30, transform: high }, { kind: 'rectangle', width: 0.2, height: 0.1, strength: 300, transform: high }, { kind: 'disc', radius: 0.1, strength: 300, transform: high }, { kind: 'sphere', radius: 0.1, strength: 300, transform: high }]; // prettier-ignore
    for (const light of kinds) {
      const of: TestScene = { objects: [floor], lights: [light], view: 0.01, settings: bare };
      const { mean } = renderTest(of);
      const [full] = Object.values(makeShot(of).document.lights);
      const toward = towardLight(full, [0, 0, 0], 0);
      const expected = (SURFACE_DEFAULTS.base_color[0] / Math.PI) * arrival(full, toward, toward.direction[2]);
      expect(mean, light.kind).to.be.closeTo(expected, 0.01 * expected);
    }
  });

  it('several at once are all named', async () => {
    const { result } = await diagnosed(scene([{ ...caster, flags: { seenByCamera: false, castsShadows: false } }, { ...caster, mesh: moved(slab(0.5, 0.6, 0.65), 0.9) }], [{ ...sun, shadowColor: [0.8, 0.8, 0.8] }])); // prettier-ignore
    expect(result.causes.map(({ id }) => id)).to.include('tinted:l0');
    expect(failedChecks(result).map(({ text }) => text).join(' ')).to.match(/shadow color/); // prettier-ignore
  });

  it('one caster between two lights is one cause, and so is one setting that lets light through two of them', async () => {
    const other = { ...sun, name: 'other sun', transform: turnedBy(47) };
    const flag = await diagnosed(scene([{ ...caster, flags: { seenByCamera: false, castsShadows: false } }], [sun, other])); // prettier-ignore
    expect(flag.result.causes.map(({ id }) => id)).to.deep.equal(['flag:o1']);
    expect(flag.result.remedies).to.have.length(1);
    const pane = (x: number): TestObject => ({ ...caster, mesh: moved(slab(0.25, 1, 1.05), x), surface: { ...GLASS, geometry_thin_walled: true } }); // prettier-ignore
    const clear = await diagnosed(scene([pane(0.85), pane(1.15)], [sun], { settings: { clearShadows: 'plain' } }));
    expect(clear.result.remedies.map(({ patch }) => patch[0].path)).to.deep.equal(['/final/clearShadows']);
  });

  it('a caster that is cut out by its opacity is named without a remedy', async () => {
    const { result } = await diagnosed(scene([{ ...caster, surface: { ...MATT, geometry_opacity: 0.3 } }]));
    expect(result.summary).to.match(/cut out there by its opacity/);
    expect(result.remedies).to.deep.equal([]);
  });

  it('a shadow that is there is measured: between two suns as deep as the closed form', async () => {
    const above: Partial<Light> = { name: 'high sun', kind: 'sun', strength: 1, angle: 0 };
    const { result, tried } = await diagnosed(scene([{ ...caster, mesh: moved(slab(0.5, 1, 1.05), 1) }], [sun, above], { environment: { color: [0, 0, 0] } })); // prettier-ignore
    expect(result.causes).to.deep.equal([]);
    // where it should not be, what throws it can be let to throw none
    expect(result.remedies.map(({ id }) => id)).to.deep.equal(['remove:o1']);
    expect(tried(result.remedies[0].patch)).to.be.within(effectOf(result.remedies[0], 'luminance')!.low - 0.01, effectOf(result.remedies[0], 'luminance')!.high + 0.01); // prettier-ignore
    expect(result.summary).to.match(/throws a shadow of sun on \d+ % of this region, [\d.]+ L\* deep/);
    const albedo = SURFACE_DEFAULTS.base_color[0];
    // one stop brighter, at the shadow check, where it shows more
    const [lit, dark] = [2 * C + 1, 1].map((light) => lightness((2 * albedo * light) / Math.PI));
    // tiles at the edge of the shadow are half in it
    expect(result.measured['depth.l0']).to.be.closeTo(lit - dark, 0.06 * (lit - dark));
  });

  it('a soft edge is as wide as the angle of the sun makes it', async () => {
    const wide = { ...sun, angle: 5 };
    const { compiled, settings } = compileTest(scene([caster], [wide]));
    const { document } = makeShot(scene([caster], [wide]));
    const { answers } = await lightChain(compiled, document, settings, frameOf(settings));
    const [{ light, toBlocker, toLight }] = answers;
    // along 45 degrees from a height of 1 m
    expect(toBlocker).to.be.closeTo(Math.SQRT2, 0.1);
    expect(penumbra(light, toLight, toBlocker)).to.be.closeTo(2 * Math.SQRT2 * Math.tan((2.5 * Math.PI) / 180), 0.01);
  });

  it('says where the shadow is not: it falls elsewhere, or the place faces away', async () => {
    const beside = await diagnosed(scene([{ ...caster, mesh: moved(slab(0.5, 1, 1.05), 5) }]));
    expect(beside.result.summary).to.match(/Nothing stands between this region and sun: its shadows fall elsewhere/);
    const below = await diagnosed(scene([], [{ ...sun, transform: [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, -1, 0] }]));
    expect(below.result.summary).to.match(/faces away from sun/);
    const none = await diagnosed(scene([caster], []));
    expect(none.result.summary).to.match(/has no lights/);
    expect(evidenceText(beside.result.evidence[0]).join(' ')).to.contain('lit, nothing between');
  });
});
