// Cochran, Sampling Techniques, 1977: variance of a two-stage mean is (between + within / m) / n (10.3); the best number of
// sub-samples is sqrt((c1 / c2) (within / between)) (10.6). Pictures with known parts, made by hand.
import { expect } from 'chai';
import type { Picture } from '@dusting/core/image';
import { bestCounts, noiseAt, samplingModel, secondsAt, variancesAt, type Counts } from '@dusting/core/plan';
import { COMPONENTS, RAY_TYPES } from '@dusting/core/render';
import { FINAL_DEFAULTS } from '@dusting/core/scene';

const SIDE = 32;
const N = 16;
const SPLITS = 8;
const frame = { x: 0, y: 0, width: SIDE, height: SIDE };
const OPTIONS = { stops: 1, share: 0.95 };

interface Part {
  /** Variance within one sample of the kind. */
  within: number;
  /** Rays of one split. */
  rays: number;
}
/** A pilot: grey, `between` camera samples, and parts within them; independent splits, or spread evenly with `power` 2. */
function pilot(between: number, parts: { transmission?: Part; diffuse?: Part }, power = 1) {
  const channel = (name: string, value: number) => ({ name, type: 'float' as const, data: new Float32Array(SIDE * SIDE).fill(value) }); // prettier-ignore
  const each = Object.entries(parts);
  const at = ({ within }: Part, count: number) => within / count ** power;
  const variance = between + each.reduce((sum, [, part]) => sum + at(part, SPLITS), 0);
  const rays = each.reduce((sum, [, part]) => sum + part.rays * SPLITS * N, N);
  const picture: Picture = {
    width: SIDE,
    height: SIDE,
    dataWindow: frame,
    displayWindow: frame,
    metadata: {},
    channels: [
      ...['R', 'G', 'B'].map((c) => channel(c, 0.2)),
      channel('error.Y', Math.sqrt(variance / N)),
      ...COMPONENTS.map((c) => channel(`error.${c}.Y`, 0)),
      ...each.map(([kind, part]) => channel(`splits.${kind}`, Math.sqrt(at(part, SPLITS) / N))),
      // twice as many take 1 / 2^power away
      channel('halves.Y', Math.sqrt(((2 ** power - 1) * variance) / N)),
      ...each.map(([kind, part]) => channel(`branchRays.${kind}`, part.rays * SPLITS * N)),
      ...RAY_TYPES.map((type) => channel(`rays.${type}`, type === 'camera' ? N : type === 'diffuse' ? rays - N : 0)),
      channel('time.ms', rays / 1000),
    ],
  };
  return samplingModel(picture, { ...FINAL_DEFAULTS, pixelSamples: N, diffuseSamples: SPLITS, transmissionSamples: SPLITS }, frame, OPTIONS); // prettier-ignore
}
const counts = (pixelSamples: number, transmissionSamples = 1, diffuseSamples = 1): Counts => ({ pixelSamples, diffuseSamples, specularSamples: 1, transmissionSamples, volumeSamples: 1, lightSamples: 1 }); // prettier-ignore

describe('sampling model', () => {
  it('tells the variance of two stages, with fewer and with more splits than the pilot had', () => {
    const [B, W] = [1e-5, 6e-4];
    const model = pilot(B, { transmission: { within: W, rays: 3 } });
    for (const m of [1, 2, 4, 8, 16, 64])
      for (const n of [4, 100]) {
        const [variance] = variancesAt(model, counts(n, m));
        expect(variance / ((B + W / m) / n), `${n} x ${m}`).to.be.closeTo(1, 2e-3);
      }
  });

  it('sees that evenly spread splits take away more, and goes on from there', () => {
    const [B, W] = [1e-5, 6e-4];
    const model = pilot(B, { transmission: { within: W, rays: 3 } }, 2);
    for (const m of [1, 4, 8, 32])
      for (const n of [N, 4 * N])
        expect(variancesAt(model, counts(n, m))[0] / ((B + W / m ** 2) * (N / n ** 2)), `${n} x ${m}`).to.be.closeTo(1, 2e-3); // prettier-ignore
  });

  it('time is that of the rays', () => {
    const model = pilot(1e-5, { transmission: { within: 1e-3, rays: 3 }, diffuse: { within: 1e-3, rays: 5 } });
    const seconds = (SIDE * SIDE * 20 * (1 + 3 * 2 + 5 * 4)) / 1e6;
    expect(secondsAt(model, counts(20, 2, 4))).to.be.closeTo(seconds, 0.01 * seconds);
  });

  it('the best splits cost no more than the closed form by what powers of two and whole counts take', () => {
    for (const [between, within, rays] of [
      [1e-5, 2e-4, 1],
      [1e-4, 1e-4, 4],
      [1e-6, 8e-4, 2],
      [1e-4, 4e-3, 10],
    ]) {
      const model = pilot(between, { transmission: { within, rays } });
      const limit = noiseAt(model, counts(3000));
      const best = bestCounts(model, { noise: limit });
      const m = best.transmissionSamples;
      const cost = (splits: number) => (1 + rays * splits) * (between + within / splits);
      const least = cost(Math.max(1, Math.sqrt(within / between / rays)));
      expect(cost(m) / least, `${m} splits`).to.be.within(0.999, 1.06);
      expect(noiseAt(model, best)).to.be.at.most(limit * 1.001);
    }
  });

  it('no other counts that hold the limit are quicker by a tenth; none of the same time less noisy', () => {
    const model = pilot(4e-5, { transmission: { within: 3e-3, rays: 6 }, diffuse: { within: 5e-4, rays: 2 } });
    const limit = noiseAt(model, counts(300));
    const best = bestCounts(model, { noise: limit });
    const spent = secondsAt(model, best);
    const timed = bestCounts(model, { seconds: spent });
    const least = noiseAt1(model, timed);
    const powers = [1, 2, 4, 8, 16, 32, 64];
    let tried = 0;
    const better: unknown[] = [];
    for (const t of powers)
      for (const d of powers)
        for (let n = 9; n <= 300; n += 3, tried++) {
          const other = counts(n, t, d);
          const noise = noiseAt1(model, other);
          const seconds = secondsAt(model, other);
          if ((noise <= limit && seconds <= spent / 1.1) || (seconds <= spent && noise <= least / 1.03)) better.push(other); // prettier-ignore
        }
    expect(tried).to.equal(49 * 98);
    expect(better).to.deep.equal([]);
  });

  it('bounds hold, and what cannot be reached within them comes as near as may be', () => {
    const model = pilot(1e-3, { transmission: { within: 1e-2, rays: 2 } });
    const bounds = { leastPixelSamples: 9, mostPixelSamples: 32, mostSplits: 4 };
    const best = bestCounts(model, { noise: noiseAt(model, counts(4000, 8)) }, bounds);
    expect(best).to.include({ pixelSamples: 32, transmissionSamples: 4 });
    const easy = bestCounts(model, { noise: 40 }, bounds);
    expect(easy).to.include({ pixelSamples: 9, transmissionSamples: 1 });
  });
});

/** All pixels of these pictures are the same, so one tells the noise: a quicker way to the same number. */
const known = new Map<string, number>();
function noiseAt1(model: ReturnType<typeof pilot>, c: Counts): number {
  const key = `${c.transmissionSamples}/${c.diffuseSamples}`;
  if (!known.has(key)) known.set(key, variancesAt(model, { ...c, pixelSamples: 1 })[0]);
  const [reference] = variancesAt(model, counts(300));
  // noise goes with the root of the variance where it is small
  return noiseAt(model, counts(300)) * Math.sqrt(known.get(key)! / c.pixelSamples / reference);
}
