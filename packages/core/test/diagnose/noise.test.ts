// Scenes in which the answer is known by construction; Cochran, Sampling Techniques, 1977, for the two stages.
import { expect } from 'chai';
import {
  cleanAt,
  limitNotes,
  diagnoseNoise,
  noiseByLight,
  noiseByMatte,
  effectOf,
  meetsTarget,
  type Cell,
} from '@dusting/core/diagnose';
import { readNoiseData } from '@dusting/core/predict';
import { InputError } from '@dusting/core/formats';
import { predictChange } from '@dusting/core/plan';
import {
  compileScene,
  filmNames,
  filmStatistics,
  frameOf,
  lensRecord,
  proofPicture,
  renderHere,
} from '@dusting/core/render';
import type { RenderSettings } from '@dusting/core/scene';
import { compileTest, GLASS, GLOW, makeShot, MATT, square, timeByRays, type TestScene } from '../scenes.ts';

/** A panel of rough glass over a small lamp: all noise is transmission, and arises within the samples of glass and light. */
const frosted: TestScene = {
  objects: [
    { mesh: square(8), surface: { ...GLASS, specular_roughness: 0.7, specular_weight: 0, geometry_thin_walled: true } },
    { mesh: square(1.2, -1.5), surface: { ...GLOW, emission_luminance: 2 } },
    { mesh: square(60, -4), surface: { ...MATT, base_color: [0, 0, 0] } },
  ],
  view: 1,
  settings: { width: 48, height: 48, pixelSamples: 16, transmissionSamples: 4, lightSamples: 4 },
};
function proofOf(scene: TestScene, change: Partial<RenderSettings> = {}) {
  const { compiled, settings: base } = compileTest(scene);
  const settings = { ...base, ...change };
  const film = renderHere(compiled, settings, frameOf(settings));
  const { noise, rays } = filmStatistics(film, 1);
  const picture = proofPicture(film, settings, { groups: [], objects: [], surfaces: [] });
  timeByRays(picture);
  const sum = Object.values(rays).reduce((s, n) => s + n, 0);
  return {
    picture,
    settings,
    region: frameOf(settings),
    use: 'final' as const,
    noise: { limit: 0.3, stops: 1 },
    seconds: 10,
    seen: noise,
    rays: sum,
  };
}

describe('noise diagnosis', () => {
  const proof = proofOf(frosted);
  const diagnosis = diagnoseNoise(proof);

  it('names the only noisy component, and shares add up to one', () => {
    expect(diagnosis.causes[0].id).to.equal('transmission');
    expect(diagnosis.causes[0].share).to.be.above(0.99);
    expect(diagnosis.causes.reduce((s, c) => s + c.share!, 0)).to.be.closeTo(1, 1e-6);
    expect(diagnosis.summary).to.match(/^\d+ % of the visible noise in this region is transmission\./);
    expect(diagnosis.measured.noise).to.be.closeTo(proof.seen, 0.02 * proof.seen);
  });

  it('finds whose samples take it away: those of the glass and of the lamp behind it', () => {
    const table = diagnosis.evidence.find((e) => e.type === 'table')!;
    const textOf = (cell: Cell) => (cell.type === 'text' ? cell.text : '');
    const row = (kind: string) => 100 * (table.rows.find((r) => textOf(r[0]) === kind)![2] as { value: number }).value;
    const shares = ['transmission', 'light', 'pixel'].map(row);
    expect(shares[0] + shares[1]).to.be.above(60);
    expect(shares.reduce((sum, share) => sum + share, 0)).to.be.closeTo(100, 2);
  });

  it('its remedies are carried out and keep their word on noise and rays', () => {
    // what one render measures of so few tiles is off by a tenth
    const seen = (change: Partial<RenderSettings>) => [1, 2].map((seed) => proofOf(frosted, { ...change, seed }));
    const noiseOf = (proofs: { seen: number }[]) => proofs.reduce((sum, p) => sum + p.seen, 0) / proofs.length;
    const now = noiseOf(seen({})) / proof.seen;
    expect(diagnosis.remedies.map(({ id }) => id)).to.have.members(['lightSamples', 'pixelSamples']);
    for (const remedy of diagnosis.remedies) {
      const { id } = remedy;
      const [noise, time] = [effectOf(remedy, 'noise')!, effectOf(remedy, 'time')!];
      expect(meetsTarget(noise)).to.equal(true);
      const { path, value } = remedy.patch[0] as { path: string; value: number };
      expect(path).to.equal(`/final/${id}`);
      const after = seen({ [id]: value });
      expect(noiseOf(after) / now, id).to.be.within(0.9 * noise.low, 1.1 * noise.high);
      expect(after[0].rays / proof.rays, id).to.be.closeTo(time.value / 10, 0.03 * (time.value / 10));
    }
  });

  it('one sample of each pixel says nothing of noise, and is not called clean', () => {
    const one = diagnoseNoise(proofOf(frosted, { pixelSamples: 1 }));
    expect(one.summary).to.match(/^One sample of each pixel shows no noise: .* Render at least 4 pixel samples/);
    expect([one.evidence, one.causes, one.remedies]).to.deep.equal([[], [], []]);
    expect(one.measured).to.not.have.property('noise');
  });

  it('noise of a lens is named: how far it spreads a point, by the circle of confusion, and what cures it', () => {
    // bars that glow, 4 m away; the lens of 0.1 m is focused at 2 m
    const objects = Array.from({ length: 40 }, (_, i) => ({
      mesh: square(1),
      surface: { ...GLOW, emission_luminance: 0.4 },
      transform: [0.02, 0, 0, (i - 20) * 0.05, 0, 4, 0, 0, 0, 0, 1, -4],
    }));
    const camera = { transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0], verticalAngle: 20 };
    const explain = (lens: object) => {
      const { document, blobs } = makeShot({ objects, camera, environment: { color: [0.1, 0.1, 0.1], seenByCamera: false }, settings: { width: 48, height: 48 } }); // prettier-ignore
      Object.assign(document.cameras.camera, lens);
      const settings = document.final;
      const film = renderHere(
        compileScene(document, settings, (id) => blobs.get(id)!),
        settings,
        frameOf(settings),
      );
      const record = { lens: lensRecord(document.cameras.camera, settings) };
      const picture = proofPicture(film, settings, { groups: [], objects: [], surfaces: [] }, record);
      return diagnoseNoise({ picture, settings, region: frameOf(settings), use: 'final', noise: { limit: 0.3, stops: 1 }, seconds: 1 }); // prettier-ignore
    };
    const blurred = explain({ apertureRadius: 0.1, focusDistance: 2 });
    const pixel = (2 * Math.tan((10 * Math.PI) / 180)) / 48;
    // distances along the rays are a little longer than along the axis
    expect(blurred.measured.lensBlur).to.be.closeTo((0.1 * 2) / 2 / 4 / pixel, 0.05 * (0.025 / pixel));
    expect(blurred.summary).to.match(/the lens spreads a point here over \d+ px .* pixel samples/);
    const sharp = explain({});
    expect([sharp.measured.lensBlur, /lens/.test(sharp.summary)]).to.deep.equal([0, false]);
  });

  it('the map covers the region tile by tile', () => {
    const map = diagnosis.evidence.find((e) => e.type === 'map')!;
    expect([map.columns, map.rows, map.values.length]).to.deep.equal([6, 6, 36]);
    expect(map.leading!.every((c) => map.categories![c].colour === 'transmission')).to.equal(true);
    const tiles = diagnosis.evidence.find((e) => e.type === 'histogram')!;
    expect(tiles.counts.reduce((sum, n) => sum + n, 0)).to.equal(36);
  });

  it('a clean region needs nothing, and a picture without statistics is refused', () => {
    const clean = diagnoseNoise({ ...proof, noise: { limit: 40, stops: 1 } });
    expect(clean.remedies).to.deep.equal([]);
    expect(clean.summary).to.contain('within the limit');
    const bare = { ...proof.picture, channels: proof.picture.channels.filter((c) => !c.name.startsWith('error')) };
    expect(() => diagnoseNoise({ ...proof, picture: bare })).to.throw(InputError, 'no statistics');
    expect(() => diagnoseNoise({ ...proof, region: { x: 90, y: 0, width: 5, height: 5 } })).to.throw(
      InputError,
      'outside',
    );
  });
});

describe('whose noise it is', () => {
  /** A matt board under a wide lamp (noisy) and a point (each sample gives the same), beside one that glows by itself. */
  const { compiled, settings, names } = (() => {
    const scene: TestScene = {
      objects: [
        { mesh: square(1), surface: { ...MATT, name: 'board' }, transform: [1, 0, 0, -0.5, 0, 1, 0, 0, 0, 0, 1, 0] },
        { mesh: square(1), surface: { ...GLOW, name: 'lantern pane', emission_luminance: 0.1 }, transform: [1, 0, 0, 0.5, 0, 1, 0, 0, 0, 0, 1, 0] }, // prettier-ignore
      ],
      lights: [
        { kind: 'sphere', seenByCamera: false, radius: 0.8, strength: 0.2, group: 'wide', transform: [1, 0, 0, -0.5, 0, 1, 0, 0, 0, 0, 1, 1.5] } as object, // prettier-ignore
        { kind: 'point', strength: 0.2, group: 'small', transform: [1, 0, 0, -0.5, 0, 1, 0, 0, 0, 0, 1, 1] },
      ],
      view: 0.9,
      settings: { width: 48, height: 24, pixelSamples: 16 },
    };
    return { ...compileTest(scene), names: filmNames(makeShot(scene).document) };
  })();
  const film = renderHere(compiled, settings, frameOf(settings));
  const picture = proofPicture(film, settings, names);
  const data = readNoiseData(picture, frameOf(settings), 1);

  it('lies on the surface whose light comes by chance, and is of the light that has extent', () => {
    const [surface] = noiseByMatte(picture, data, 'surfaces');
    expect(surface.name).to.equal('board');
    expect(surface.share).to.be.above(0.95);
    expect(noiseByLight(picture, data)[0]).to.deep.include({ name: 'wide' });
    expect(noiseByLight(picture, data)[0].share).to.be.above(0.95);
    const { evidence, summary } = diagnoseNoise({ picture, settings, region: frameOf(settings), use: 'final', noise: { limit: 0.01, stops: 1 }, seconds: 1 }); // prettier-ignore
    expect(summary).to.contain('Most of it lies on board and comes from wide.');
    expect(evidence.filter((e) => e.type === 'table').map((e) => e.title)).to.include('Noise by object');
  });

  it('says up to which lift it is clean; a lift brightens the noise of the shadows', () => {
    const [plain, one, two] = cleanAt(data, 1).map((l) => l.noise);
    expect(plain).to.be.below(one);
    expect(one).to.be.below(two);
    const between = diagnoseNoise({ picture, settings, region: frameOf(settings), use: 'final', noise: { limit: (one + two) / 2, stops: 1 }, seconds: 1 }); // prettier-ignore
    expect(between.summary).to.contain('Clean at +1 stop, not at +2 stops');
  });
});

describe('prediction of a change', () => {
  it('a raised limit costs the rays that its probes found, within a fifth', () => {
    const deep: TestScene = {
      ...frosted,
      objects: Array.from({ length: 6 }, (_, i) => ({
        mesh: square(8, -i * 0.2),
        surface: { ...GLASS, specular_roughness: 0, specular_weight: 1, geometry_thin_walled: true },
      })),
      environment: { color: [1, 1, 1] },
    };
    const before = proofOf({
      ...deep,
      settings: { ...deep.settings, transmissionSamples: 1, depth: { transmission: 2 } },
    });
    const open = { ...before.settings, depth: { ...before.settings.depth, transmission: 100 } };
    const after = proofOf(deep, { ...open });
    const predicted = predictChange(
      before.picture,
      before.settings,
      open,
      [{ settings: before.settings, seconds: 10 }],
      before.region,
      1,
    );
    expect(predicted.noise, 'the picture changes, so noise is not predicted').to.equal(null);
    expect(predicted.seconds.value / 10).to.be.closeTo(after.rays / before.rays, 0.2 * (after.rays / before.rays));
  });
  it('says which limit bites first', () => {
    const { settings } = compileTest(frosted);
    const notes = limitNotes({
      ...settings,
      depth: { diffuse: 3, specular: 4, transmission: 32, volume: 4, total: 8 },
    });
    expect(notes).to.have.length(1);
    expect(notes[0]).to.contain('total depth of 8 bites before the transmission depth of 32');
  });
});
