// Seconds that are known by construction: each part of a made-up clock is what was put in.
import { expect } from 'chai';
import { costShares } from '../../src/plan/costShares.ts';
import { timesAt, unitTimes } from '../../src/plan/unitTimes.ts';
import { countsBut, countsOf, type SamplingModel } from '@dusting/core/plan';
import type { NoiseData } from '@dusting/core/predict';
import { SPLIT_KINDS } from '@dusting/core/render';
import { FINAL_DEFAULTS } from '@dusting/core/scene';

const PIXELS = 6;
const counts = { ...countsOf(FINAL_DEFAULTS), pixelSamples: 10, diffuseSamples: 2, specularSamples: 3, transmissionSamples: 1, volumeSamples: 1, lightSamples: 5 }; // prettier-ignore
/** Milliseconds of one camera sample of a pixel, and of one split of each kind. */
const CAMERA = 4;
const SPLIT = { diffuse: 3, specular: 2, transmission: 7, volume: 0, light: 1 };
const each = (value: number) => new Float32Array(PIXELS).fill(value);
const spent = SPLIT_KINDS.map((kind) => (SPLIT[kind] * counts[`${kind}Samples`] * counts.pixelSamples) / 1000);
const data = {
  kindSeconds: spent.map(each),
  seconds: each(spent.reduce((sum, part) => sum + part, (CAMERA * counts.pixelSamples) / 1000)),
} as unknown as NoiseData;

describe('what samples of a region take', () => {
  const times = unitTimes(data, counts);

  it('is that of one, by its kind, over all pixels', () => {
    expect(times.camera).to.be.closeTo((PIXELS * CAMERA) / 1000, 1e-6);
    SPLIT_KINDS.forEach((kind, k) => expect(times.splits[k], kind).to.be.closeTo((PIXELS * SPLIT[kind]) / 1000, 1e-6));
  });

  it('with the same counts adds up to what was clocked, and with others to what they are', () => {
    const sum = (parts: number[]) => parts.reduce((all, part) => all + part, 0);
    expect(sum(timesAt(times, counts))).to.be.closeTo(PIXELS * data.seconds[0], 1e-5);
    const more = timesAt(times, { ...counts, pixelSamples: 20, specularSamples: 6 });
    timesAt(times, counts).forEach((part, k) =>
      expect(more[k]).to.be.closeTo(part * (SPLIT_KINDS[k - 1] === 'specular' ? 4 : 2), 1e-5),
    );
  });

  it('is shared out whole, at the pace of each part', () => {
    const paces = [1, ...SPLIT_KINDS.map((kind) => (kind === 'light' ? 3 : 1))];
    const shares = costShares({ times, paces } as SamplingModel, counts);
    expect(shares.reduce((all, { share }) => all + share, 0)).to.be.closeTo(1, 1e-9);
    const of = (name: string) => shares.find(({ kind }) => kind === name)!.share;
    expect(of('light') / of('camera')).to.be.closeTo((3 * SPLIT.light * counts.lightSamples) / CAMERA, 1e-5);
    expect(of('volume')).to.equal(0);
    const nothing = { times: { camera: 0, splits: SPLIT_KINDS.map(() => 0) }, paces } as SamplingModel;
    expect(costShares(nothing, counts)).to.deep.equal([]);
  });

  it('counts of what is not shown are those of now', () => {
    expect(countsBut(counts, ['diffuse', 'light', 'specular'])).to.deep.equal({ transmissionSamples: 1, volumeSamples: 1 }); // prettier-ignore
  });
});
