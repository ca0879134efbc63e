// Satopaa et al. 2011: the knee of 1 / x over its range; here against the closed form of the chord's farthest point.
import { expect } from 'chai';
import { InputError } from '@dusting/core/formats';
import { canSweep, kneeOf, MOST_TRIALS, referenceTrial, sequenceCost, sweepCurve, sweepPatches, sweptValue, valuesAbout } from '@dusting/core/plan'; // prettier-ignore
import { frameShot, parameterAt, SURFACE_DEFAULTS } from '@dusting/core/scene';

const keysOf = (path: string) => path.slice(1).split('/');
const proposed = (path: string, now: number) => valuesAbout(now, parameterAt(keysOf(path))!);
const axis = (path: string, ...values: (number | boolean)[]) => ({ path, values });

describe('sweeps', () => {
  it('take every combination, the last parameter running fastest', () => {
    const rows = sweepPatches([axis('/final/pixelSamples', 4, 8), axis('/surfaces/honey/specular_ior', 1, 2, 3)], 'final'); // prettier-ignore
    expect(rows.map((row) => row.map((o) => ('value' in o ? o.value : null)))).to.deep.equal([[4, 1], [4, 2], [4, 3], [8, 1], [8, 2], [8, 3]]); // prettier-ignore
    expect(rows[0].map((o) => o.path)).to.deep.equal(['/final/pixelSamples', '/surfaces/honey/specular_ior']);
  });

  it('of nothing, of too much, of one parameter twice, and of what has no single value are refused', () => {
    const seeds = (count: number) => axis('/final/seed', ...Array.from({ length: count }, (_, i) => i + 1));
    for (const axes of [
      [],
      [seeds(1)],
      [seeds(7), axis('/final/pixelSamples', 1, 2, 3, 4, 5, 6)],
      [seeds(2), seeds(2)],
      [axis('/preview/seed', 1, 2)],
      [axis('/noise/limit', 1, 2)],
      [axis('/surfaces/honey/base_color', 1, 2)],
    ])
      expect(() => sweepPatches(axes, 'final'), JSON.stringify(axes)).to.throw(InputError);
    expect(sweepPatches([seeds(MOST_TRIALS)], 'final')).to.have.length(MOST_TRIALS);
    expect(canSweep(['lights', 'window', 'castsShadows'], 'final')).to.equal(true);
  });

  it('propose values about the present one, within what it may be', () => {
    expect(proposed('/final/pixelSamples', 16)).to.deep.equal([4, 8, 16, 32, 64]);
    expect(proposed('/final/pixelSamples', 1)).to.deep.equal([1, 2, 4]);
    expect(proposed('/final/depth/total', 0)).to.deep.equal([0, 1, 2, 4, 8]);
    expect(proposed('/lights/window/width', 2)).to.deep.equal([0.5, 1, 2, 4, 8]);
    expect(proposed('/lights/window/exposure', -1)).to.deep.equal([-3, -2, -1, 0, 1]);
    expect(proposed('/surfaces/honey/specular_roughness', 0)).to.deep.equal([0, 0.25, 0.5, 0.75, 1]);
    expect(proposed('/surfaces/honey/specular_ior', 1.5)).to.deep.equal([1.125, 1.25, 1.5, 2, 3]);
    const odd = 0.123456789;
    expect(proposed('/surfaces/honey/specular_roughness', odd), 'itself, not rounded').to.include(odd);
  });

  it('are judged by noise or difference, against rays or what the scene is now', () => {
    const [count, depth, rough] = [axis('/final/pixelSamples', 1, 2), axis('/final/depth/total', 1, 2), axis('/surfaces/grey/specular_roughness', 0.2, 0.5)]; // prettier-ignore
    expect(sweepCurve([count, axis('/final/lightSamples', 1, 2)])).to.equal('noise against rays');
    expect(sweepCurve([count, depth])).to.equal('difference against rays');
    expect(sweepCurve([rough, count])).to.equal('noise against difference');

    const shot = { ...frameShot('sill', { width: 8, height: 8 }), surfaces: { grey: SURFACE_DEFAULTS } };
    const trials = sweepPatches([rough, count], 'final').map((patch, i) => ({ patch, rays: [1, 9, 2, 4][i] }));
    expect(trials.map(({ patch }) => sweptValue(patch, rough.path))).to.deep.equal([0.2, 0.2, 0.5, 0.5]);
    expect(referenceTrial(trials, [rough, count], shot), 'the most expensive of what is as it is now').to.equal(
      trials[3],
    );
    expect(referenceTrial(trials, [count], shot), 'the most expensive of all').to.equal(trials[1]);
    expect(referenceTrial(trials.slice(0, 2), [rough, count], shot), 'none is as now').to.equal(null);
  });

  it('have their knee where 1 / x is farthest below its chord, at the root of its ends; a line has none', () => {
    const at = (x: number) => ({ cost: x, gain: 1 / x });
    const xs = [1, 2, 3, 4, 6, 9, 16];
    expect(xs[kneeOf(xs.map(at))]).to.equal(4); // sqrt(1 x 16)
    expect(kneeOf([16, 1, 4].map(at)), 'in any order').to.equal(2);
    expect(kneeOf([1, 2, 3].map((x) => ({ cost: x, gain: -x })))).to.equal(-1);
    expect(kneeOf([at(1), at(2)])).to.equal(-1);
    expect(kneeOf([1, 2, 3].map((x) => ({ cost: x, gain: x }))), 'what rises').to.equal(-1);
    expect(kneeOf(xs.map((x) => ({ cost: x, gain: 40 + 1 / x }))), 'what hardly falls').to.equal(-1);
  });

  it('a sequence: whole frames go to machines', () => {
    const cost = sequenceCost({ value: 360, low: 180, high: 720 }, { frames: 10, machines: 4 });
    expect(cost.machineHours).to.deep.equal({ value: 1, low: 0.5, high: 2 });
    expect(cost.hours.value).to.be.closeTo(0.3, 1e-12); // three rounds
  });
});
