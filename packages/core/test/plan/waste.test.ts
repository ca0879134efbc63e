// Counts whose effect is known by construction: what does not vary is not made quieter by more samples, and costs.
import { expect } from 'chai';
import { depthWaste, rayBudget, samplingPlan, type PlanInput } from '@dusting/core/plan';
import { readNoiseData } from '@dusting/core/predict';
import { filmStatistics, frameOf, proofPicture, renderHere } from '@dusting/core/render';
import { compileTest, MATT, square, timeByRays, type TestScene } from '../scenes.ts';

/** A board under a wide lamp, half hidden, and a point: light by chance is asked for; what is met by chance is dark. */
const board: TestScene = {
  objects: [
    { mesh: square(4), surface: MATT },
    { mesh: square(0.5, 0.4), surface: { ...MATT, base_color: [0, 0, 0] } },
  ],
  lights: [{ kind: 'sphere', radius: 0.4, strength: 5, seenByCamera: false, transform: [1, 0, 0, 0.7, 0, 1, 0, 0, 0, 0, 1, 1.4] }], // prettier-ignore
  view: 1.6,
  settings: { width: 32, height: 32, pixelSamples: 16, depth: { diffuse: 2, total: 4 } },
};
const { compiled, settings: base } = compileTest(board);
const render = (change: object) => {
  const settings = { ...base, ...change };
  const picture = proofPicture(renderHere(compiled, settings, frameOf(settings)), settings, { groups: [], objects: [], surfaces: [] }); // prettier-ignore
  return { picture, settings, seconds: timeByRays(picture) };
};

describe('wasted render cost', () => {
  const present = { ...base, diffuseSamples: 16 };
  const measured = render(present);
  const pilot = render({ diffuseSamples: 8, lightSamples: 8, pixelSamples: 16 });
  const input: PlanInput = {
    pilot,
    measured,
    timed: [measured],
    present,
    use: 'final',
    region: frameOf(present),
    limit: 1,
    stops: 1,
  };
  const { costs, waste } = samplingPlan(input);

  it('is found: samples of the surface where the lamp alone varies, with what they cost', () => {
    expect(waste.map((w) => w.id)).to.deep.equal(['diffuse']);
    const [{ effect, patch, saves }] = waste;
    expect(patch[0]).to.deep.include({ op: 'replace', path: '/final/diffuseSamples' });
    const fewer = render({ ...present, diffuseSamples: (patch[0] as { value: number }).value });
    expect((saves as { seconds: number }).seconds / (measured.seconds - fewer.seconds)).to.be.closeTo(1, 0.1);
    expect(effect).to.match(/^the noise stays at (9\d|10[0-3]) % of now$/);
  });

  it('the time of now is shared out whole, most of it to them', () => {
    expect(costs.reduce((sum, { share }) => sum + share, 0)).to.be.closeTo(1, 1e-9);
    expect(costs.find((c) => c.kind === 'diffuse')!.share).to.be.above(0.8);
  });

  it('where every count works nothing is called waste', () => {
    const plain = render({});
    expect(samplingPlan({ ...input, present: base, measured: plain, timed: [plain] }).waste).to.deep.equal([]);
  });
});

describe('depths that bring nothing', () => {
  /** Two boards that face each other, seen in the lamp's light: dark ones give back little of it, bright ones much. */
  const counted = (grey: number) => {
    const facing = [{ mesh: square(4), surface: { ...MATT, base_color: [grey, grey, grey] } }, { mesh: square(3), surface: { ...MATT, base_color: [grey, grey, grey] }, transform: [1, 0, 0, 2, 0, 1, 0, 0, 0, 0, 1, 1] }]; // prettier-ignore
    const { compiled: scene, settings: own } = compileTest({ ...board, objects: facing, settings: { ...board.settings, depth: { diffuse: 4, total: 4 } } }); // prettier-ignore
    const rendered = (depth: object) => {
      const now = { ...own, depth: { ...own.depth, ...depth } };
      return filmStatistics(renderHere(scene, now, frameOf(now)), 1);
    };
    return { rendered, now: rendered({}), own };
  };
  const sum = (rays: Record<string, number>) => Object.values(rays).reduce((all, n) => all + n, 0);

  it('are told with the rays that half of them saves', () => {
    const { now, own, rendered } = counted(0.2);
    const waste = depthWaste(now, own, 'final', 100);
    expect(waste.map((w) => w.id)).to.deep.equal(['depth-diffuse', 'depth-total']);
    const [{ patch, saves }] = waste;
    expect(patch).to.deep.equal([{ op: 'replace', path: '/final/depth/diffuse', value: 2 }]);
    const half = rendered({ diffuse: 2 });
    const { seconds } = saves as { seconds: number };
    expect(seconds / 100).to.be.closeTo(1 - sum(half.rays) / sum(now.rays), 0.01);
    expect(half.meanLuminance / now.meanLuminance).to.be.above(0.99);
  });

  it('are not where light still comes from there', () => {
    const { now, own, rendered } = counted(0.95);
    expect(rendered({ diffuse: 2 }).meanLuminance / now.meanLuminance).to.be.below(0.995);
    expect(depthWaste(now, own, 'final', 100)).to.deep.equal([]);
  });
});

describe('ray budget', () => {
  const proof = render({ diffuseSamples: 2, lightSamples: 3 });
  const frame = readNoiseData(proof.picture, frameOf(proof.settings), 1);
  const rowsFor = (change: object) => rayBudget(frame, proof.settings, { ...proof.settings, ...change }, 1);
  const whole = (rows: ReturnType<typeof rayBudget>, of: 'least' | 'expected' | 'most') => rows.reduce((sum, row) => sum + row[of], 0); // prettier-ignore
  const perPixel = frame.rays.reduce((sum, n) => sum + n, 0) / frame.rays.length;

  it('with the settings that were counted is what was counted, between least and most', () => {
    const rows = rowsFor({});
    expect(whole(rows, 'expected')).to.be.closeTo(perPixel, 1e-3 * perPixel);
    for (const row of rows) expect(row.expected, row.kind).to.be.within(row.least, row.most);
  });

  it('of other counts is what a render with them counts', () => {
    const change = { pixelSamples: 8, diffuseSamples: 4, lightSamples: 1 };
    const after = render(change);
    expect((whole(rowsFor(change), 'expected') * 32 * 32) / 1e6 / after.seconds).to.be.closeTo(1, 0.02);
  });
});
