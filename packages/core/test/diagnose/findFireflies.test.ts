// Synthetic pictures whose fireflies are known: samples are drawn for each pixel, and one of them is made bright in the pixels
// that count. Beside them stand highlights that belong there: stars, thin lines, texels, an edge and noise.
import { expect } from 'chai';
import { findFireflies } from '@dusting/core/diagnose';
import { shownBeside } from '../../src/diagnose/fireflies/shownBeside.ts';
import { hashPair, hashUnit } from '@dusting/core/math';
import type { Channel, Picture } from '@dusting/core/image';

const SIDE = 384;
const SAMPLES = 16;
const frame = { x: 0, y: 0, width: SIDE, height: SIDE };

/** True luminance without fireflies, and the share of its samples that sees it. */
function sceneAt(x: number, y: number): { object: number; low: number; high: number; covered: number } {
  const object = x < SIDE / 2 ? 1 : 2;
  const low = object === 1 ? 0.05 + 0.03 * Math.sin(x / 9) : 0.4;
  if (y % 64 === 20) return { object, low, high: 3, covered: 0.5 }; // a thin bright line
  if (hashUnit(hashPair(x, y) ^ 0x51) < 0.0015) return { object, low, high: 6, covered: 0.5 }; // a star
  if (y > 300 && (x >> 1) % 7 === 0 && (y >> 1) % 5 === 0) return { object, low, high: 2, covered: 1 }; // texels
  return { object, low, high: low, covered: 0 };
}

/** @param frameNumber of a sequence: the scene moves by a pixel to the right from each to the next, and samples are others */
function pictureWith(density: number, noise: number, frameNumber = 0): { picture: Picture; truth: Set<number> } {
  const plane = () => new Float32Array(SIDE * SIDE);
  const [beauty, spread, brightest, index, samples, object] = [plane(), plane(), plane(), plane(), plane(), plane()];
  const truth = new Set<number>();
  for (let i = 0; i < SIDE * SIDE; i++) {
    const random = (k: number) => hashUnit(hashPair(i + SIDE * SIDE * frameNumber, k + 1));
    const { covered, high, low, object: id } = sceneAt((i % SIDE) - frameNumber, Math.floor(i / SIDE));
    const bad = random(900) < density ? Math.floor(SAMPLES * random(901)) : -1;
    if (bad >= 0) truth.add(i);
    let [sum, squares] = [0, 0];
    for (let k = 0; k < SAMPLES; k++) {
      const seen = (k + random(902)) / SAMPLES < covered ? high : low;
      let v = seen * (1 + 2 * noise * (random(k) - 0.5));
      // from 2.5 to 300 times the surroundings in the mean
      if (k === bad) v = SAMPLES * (covered > 0 ? high : low) * 2.5 * 120 ** random(903);
      sum += v;
      squares += v * v;
      if (v > brightest[i]) [brightest[i], index[i]] = [v, k];
    }
    beauty[i] = sum / SAMPLES;
    spread[i] = Math.sqrt(Math.max(0, squares - (sum * sum) / SAMPLES) / (SAMPLES * (SAMPLES - 1)));
    samples[i] = SAMPLES;
    object[i] = id;
  }
  const names: [string, Float32Array][] = [['R', beauty], ['G', beauty], ['B', beauty], ['spread.Y', spread], ['brightest.Y', brightest], ['brightest.sample', index], ['samples.N', samples], ['object.id', object]]; // prettier-ignore
  const channels = names.map(([name, data]): Channel => ({ name, type: 'float', data }));
  return { picture: { width: SIDE, height: SIDE, dataWindow: frame, displayWindow: frame, channels, metadata: {} }, truth }; // prettier-ignore
}

function scores(picture: Picture, truth: Set<number>) {
  const found = findFireflies(picture, frame);
  const right = found.filter(({ x, y }) => truth.has(y * SIDE + x)).length;
  return { precision: right / found.length, recall: right / truth.size, found };
}

describe('fireflies are found', () => {
  for (const [density, name] of [
    [1 / 500, '1 pixel in 500'],
    [1 / 10_000, '1 pixel in 10 000'],
  ] as const)
    for (const noise of [0.1, 0.6])
      it(`at ${name} and noise of ${noise}: nineteen in twenty, and nineteen in twenty are some`, () => {
        const { picture, truth } = pictureWith(density, noise);
        const { precision, recall } = scores(picture, truth);
        expect(truth.size).to.be.above(density * SIDE * SIDE * 0.5);
        expect(precision).to.be.at.least(0.95);
        expect(recall).to.be.at.least(0.95);
      });

  it('with the sample that made them, the brightest over its surroundings first', () => {
    const { picture, truth } = pictureWith(1 / 500, 0.1);
    const { found } = scores(picture, truth);
    for (const { carriers, luminance, sample } of found.slice(0, 20)) {
      // one sample of 16 carries all of it
      expect(carriers).to.be.closeTo(1, 0.1);
      expect(sample!.luminance / SAMPLES / luminance).to.be.within(0.8, 1.001);
    }
    const excess = found.map(({ around, luminance }) => luminance - around);
    expect(excess).to.deep.equal(excess.toSorted((a, b) => b - a));
  });

  it('a picture alone leaves out what is bright with its neighbours, and keeps single pixels', () => {
    const { picture } = pictureWith(0, 0.1);
    const channels = picture.channels.filter(({ name }) => 'RGB'.includes(name));
    const alone = { ...picture, channels };
    const lines = findFireflies(alone, { x: 0, y: 10, width: SIDE, height: 20 }).filter(({ y }) => y === 20);
    expect(lines.length).to.equal(0);
    for (const { data } of channels) data[40 * SIDE + 300] = 9;
    const [first] = findFireflies(alone, { x: 290, y: 30, width: 30, height: 20 });
    expect(first).to.include({ x: 300, y: 40, carriers: null, sample: null });
  });

  it('a picture alone keeps single stars; beside the frames before and after, nineteen in twenty are fireflies', () => {
    const bare = (of: ReturnType<typeof pictureWith>) => ({ ...of.picture, channels: of.picture.channels.filter(({ name }) => 'RGB'.includes(name)) }); // prettier-ignore
    const [before, now, after] = [1, 2, 3].map((n) => pictureWith(1 / 500, 0.1, n));
    const found = findFireflies(bare(now), frame);
    const stay = new Set(shownBeside(found, [before, after].map(bare)));
    const left = found.filter((of) => !stay.has(of));
    const right = (of: typeof found) => of.filter(({ x, y }) => now.truth.has(y * SIDE + x)).length;
    expect(right(found) / found.length).to.be.below(0.75);
    expect(right(left) / left.length).to.be.at.least(0.95);
    expect(right(left) / right(found)).to.be.at.least(0.95);
  });
});
