// Scenes in which the answer is known by construction: frosted glass (all noise within the samples of glass and light), bars finer
// than a pixel (all of it between camera samples). What is foretold is rendered and measured: within 15 %.
import { expect } from 'chai';
import { foretell, onlyCountsDiffer, pilotSettings, samplingPlan, type PlanInput, type Rendered } from '@dusting/core/plan'; // prettier-ignore
import { filmStatistics, frameOf, proofPicture, renderHere, type RenderStatistics } from '@dusting/core/render';
import { FINAL_DEFAULTS, type RenderSettings } from '@dusting/core/scene';
import { compileTest, GLASS, GLOW, makeShot, MATT, square, timeByRays, type TestScene } from '../scenes.ts';

const SIZE = { width: 64, height: 48 };
const frosted: TestScene = {
  objects: [
    { mesh: square(8), surface: { ...GLASS, specular_roughness: 0.7, specular_weight: 0, geometry_thin_walled: true } },
    { mesh: square(1.2, -1.5), surface: { ...GLOW, emission_luminance: 2 } },
    { mesh: square(60, -4), surface: { ...MATT, base_color: [0, 0, 0] } },
  ],
  view: 1,
  settings: { ...SIZE, pixelSamples: 32 },
};
const bars: TestScene = {
  objects: Array.from({ length: 60 }, (_, i) => ({
    mesh: square(1),
    surface: { ...GLOW, emission_luminance: 0.5 },
    transform: [0.004, 0, 0, (i - 30) * 0.0137, 0, 1, 0, 0, 0, 0, 1, 0],
  })),
  environment: { color: [0.02, 0.02, 0.02] },
  view: 0.5,
  settings: { ...SIZE, pixelSamples: 32 },
};

/** A matt board on the left, frosted glass on the right. */
const halves: TestScene = {
  objects: [
    { mesh: square(2), surface: MATT, transform: [1, 0, 0, -1, 0, 1, 0, 0, 0, 0, 1, 0] },
    { mesh: square(2), surface: frosted.objects[0].surface, transform: [1, 0, 0, 1, 0, 1, 0, 0, 0, 0, 1, 0] },
    ...frosted.objects.slice(1),
  ],
  lights: [{ kind: 'sphere', radius: 0.4, strength: 5, seenByCamera: false, transform: [1, 0, 0, -0.7, 0, 1, 0, 0, 0, 0, 1, 1.4] }], // prettier-ignore
  view: 1,
  settings: { ...SIZE, pixelSamples: 16, transmissionSamples: 4, diffuseSamples: 2 },
};

function rendering(scene: TestScene) {
  const { compiled, settings } = compileTest(scene);
  return (change: Partial<RenderSettings>): Rendered & { noise: number; statistics: RenderStatistics } => {
    const now = { ...settings, ...change };
    const film = renderHere(compiled, now, frameOf(now));
    const statistics = filmStatistics(film, 1);
    const picture = proofPicture(film, now, { groups: [], objects: [], surfaces: [] });
    return { picture, settings: now, seconds: timeByRays(picture), noise: statistics.noise, statistics };
  };
}

function planFor(scene: TestScene, part: number) {
  const render = rendering(scene);
  const now = render({});
  const pilot = render(pilotSettings({ ...now.settings, pixelSamples: 256 }));
  const input: PlanInput = { pilot, measured: now, timed: [now], present: now.settings, use: 'final', region: frameOf(now.settings), limit: now.noise * part, stops: 1 }; // prettier-ignore
  return { render, now, pilot, input, plan: samplingPlan(input) };
}
const optionOf = (plan: ReturnType<typeof samplingPlan>, id: string) => plan.options.find((o) => o.id === id)!;

describe('sampling plan', () => {
  describe('of frosted glass', () => {
    const { render, now, pilot, input, plan } = planFor(frosted, 0.5);

    // the lamp behind the pane is asked for, and met by what goes through it: either can take the noise away
    it('finds the noise within the samples of the glass and the light', () => {
      const inside = plan.within.filter(({ kind }) => kind === 'transmission' || kind === 'light');
      expect(inside.reduce((sum, { share }) => sum + share, 0)).to.be.above(0.85);
      expect(plan.between + plan.within.reduce((sum, w) => sum + w.share, 0)).to.be.closeTo(1, 1e-6);
    });

    it('reaches the limit by them, and the noise is what was foretold', () => {
      const planned = optionOf(plan, 'plan');
      expect(planned.counts.transmissionSamples * planned.counts.lightSamples).to.be.above(1);
      const after = render({ ...planned.counts });
      expect(after.noise / planned.noise.value).to.be.within(0.85, 1.15);
      expect(after.noise).to.be.within(0.8 * input.limit, 1.15 * input.limit);
      expect(plan.summary).to.match(/^As it is set now: .* L\* in .* a frame\. The limit of .* is met in the least time with \d+ pixel samples/); // prettier-ignore
      expect(planned.patch.every((o) => o.path.startsWith('/final/'))).to.equal(true);
    });

    it('foretells what a change of the slip would give', () => {
      const changed = { ...now.settings, transmissionSamples: 4, pixelSamples: 16 };
      // few tiles: what one render measures of them is off by a tenth
      const ratios = [1, 2].map((seed) => {
        const [first, held, after] = [{ ...pilot.settings, seed }, { seed: seed + 10 }, { ...changed, seed: seed + 20 }].map(render); // prettier-ignore
        return after.noise / foretell(first, held, [held], changed, input.region, 1).noise.value;
      });
      expect(ratios.reduce((sum, r) => sum + r, 0) / 2).to.be.within(0.85, 1.15);
      const { noise } = foretell(pilot, now, [now], changed, input.region, 1);
      expect(noise.low).to.be.at.most(noise.value);
      expect(noise.high).to.be.at.least(noise.value);
    });

    it('offers the least noise of the same time, the same noise in the least, and half the time', () => {
      const [held, same, noise, half] = ['present', 'sameTime', 'sameNoise', 'halfTime'].map((id) =>
        optionOf(plan, id),
      );
      expect(same.seconds.value).to.be.at.most(held.seconds.value * 1.001);
      expect(same.noise.value).to.be.at.most(held.noise.value);
      expect(noise.noise.value).to.be.at.most(held.noise.value * 1.001);
      expect(noise.seconds.value).to.be.below(held.seconds.value);
      expect(half.seconds.value).to.be.at.most(held.seconds.value / 2);
      expect(held.patch).to.deep.equal([]);
      for (let i = 1; i < plan.curve.length; i++) {
        expect(plan.curve[i].seconds).to.be.above(plan.curve[i - 1].seconds);
        expect(plan.curve[i].noise).to.be.below(plan.curve[i - 1].noise);
      }
    });

    it('of a region alone tells the time of the frame at its pace', () => {
      const frame = { x: 0, y: 0, width: 2 * SIZE.width, height: 2 * SIZE.height };
      const part = { ...pilot, picture: { ...pilot.picture, displayWindow: frame } };
      const seconds = (from: Rendered) => optionOf(samplingPlan({ ...input, pilot: from, measured: null, timed: [] }), 'plan').seconds.value; // prettier-ignore
      expect(seconds(part) / seconds(pilot)).to.be.closeTo(4, 1e-6);
    });

    it('offers nothing that the bounds keep from its word', () => {
      const bounds = { leastPixelSamples: 4096, mostPixelSamples: 65536, mostSplits: 64 };
      expect(samplingPlan({ ...input, bounds }).options.map((o) => o.id)).to.deep.equal(['present', 'plan']);
    });

    it('foretells what adaptive sampling gives, and how many samples it takes', () => {
      const { adaptive, counts, noise, seconds } = optionOf(samplingPlan({ ...input, limit: now.noise / 3, bounds: { leastPixelSamples: 9, mostPixelSamples: 4096, mostSplits: 2 } }), 'adaptive'); // prettier-ignore
      const after = render({ ...counts, adaptive });
      expect(after.noise / noise.value).to.be.within(0.75, 1.2);
      expect(after.seconds / seconds.value).to.be.within(0.75, 1.25);
      expect(after.statistics.samples).to.be.below(counts.pixelSamples * SIZE.width * SIZE.height);
    });

    it('says where it leaves the usual values (common practice, no source)', () => {
      const few = samplingPlan({ ...input, limit: 30, bounds: { leastPixelSamples: 2, mostPixelSamples: 4, mostSplits: 64 }, moves: true }); // prettier-ignore
      expect(few.notes.join(' '))
        .to.contain('fewer than the usual 9')
        .and.to.contain('16 to 32 pixel samples are usual');
      const extreme = samplingPlan({ ...input, limit: 0.02 });
      expect(extreme.notes.join(' ')).to.contain('more than the 512');
    });
  });

  it('of bars finer than a pixel needs pixel samples alone', () => {
    const { render, plan } = planFor(bars, 0.6);
    expect(plan.between).to.be.above(0.95);
    const planned = optionOf(plan, 'plan');
    expect(planned.counts).to.include({ diffuseSamples: 1, specularSamples: 1, transmissionSamples: 1 });
    // noise of edges along the rows of pixels falls with the samples themselves, faster than halves of few samples show
    expect(render({ ...planned.counts }).noise / planned.noise.value).to.be.within(0.7, 1.1);
  });

  it('of a region leaves alone what the region does not show, and tells the time of the frame with it', () => {
    const { input, now, render } = planFor(halves, 0.5);
    const plan = samplingPlan({ ...input, region: { x: 0, y: 0, width: SIZE.width / 2, height: SIZE.height } });
    const { counts, patch, seconds } = optionOf(plan, 'plan');
    expect(plan.within.map(({ kind }) => kind)).not.to.include('transmission');
    expect(counts.transmissionSamples).to.equal(now.settings.transmissionSamples);
    expect(patch.map(({ path }) => path)).not.to.include('/final/transmissionSamples');
    expect(plan.costs.find(({ kind }) => kind === 'transmission')!.share).to.be.above(0.2);
    expect(render(counts).seconds / seconds.value).to.be.within(0.9, 1.1);
  });

  it('a pilot splits everything and is cheap; shots that differ in counts alone show the same', () => {
    const pilot = pilotSettings({ ...FINAL_DEFAULTS, adaptive: { limit: 2, least: 16 } });
    expect(pilot).to.include({ diffuseSamples: 8, lightSamples: 8, pixelSamples: 4 });
    expect(pilot.adaptive.limit).to.equal(0);
    const { document } = makeShot(frosted);
    const counts = { ...document, final: { ...document.final, pixelSamples: 7, seed: 3, diffuseSamples: 2 } };
    expect(onlyCountsDiffer(document, counts, 'final')).to.equal(true);
    const deeper = { ...document, final: { ...document.final, depth: { ...document.final.depth, total: 3 } } };
    expect(onlyCountsDiffer(document, deeper, 'final')).to.equal(false);
    expect(onlyCountsDiffer(document, deeper, 'preview')).to.equal(true);
    expect(onlyCountsDiffer(document, { ...document, lights: {}, surfaces: {} }, 'final')).to.equal(false);
  });
});
