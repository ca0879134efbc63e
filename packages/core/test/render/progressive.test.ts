// Own guarantees: a preview at its end is the mean of the same samples that a render takes, and what is looked at is first.
import { expect } from 'chai';
import {
  coarseSettings,
  compileScene,
  FILM,
  frameOf,
  PathTracer,
  previewPart,
  ProgressiveRender,
  renderChunk,
  renderHere,
  type PreviewJob,
} from '@dusting/core/render';
import { fromHalf } from '@dusting/core/formats';
import { GLASS, makeShot, MATT, sphere, square } from '../scenes.ts';

const { document, blobs } = makeShot({
  objects: [
    { mesh: square(4), surface: MATT },
    { mesh: sphere(0.3, 24), surface: GLASS, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0.5] },
  ],
  lights: [{ kind: 'sphere', radius: 0.1, strength: 20, transform: [1, 0, 0, -1, 0, 1, 0, 0, 0, 0, 1, 2] }],
  view: 2,
  settings: { width: 80, height: 60, pixelSamples: 6 },
});
const settings = document.final;
const scene = compileScene(document, settings, (id) => blobs.get(id)!);
const tracers = { true: new PathTracer(scene, coarseSettings(settings)), false: new PathTracer(scene, settings) };
const trace = ({ coarse, chunk }: PreviewJob) => previewPart(renderChunk(tracers[`${coarse}`], chunk));

describe('a preview that gets better', () => {
  it('stands coarse at first, and ends with the samples of a render', () => {
    const preview = new ProgressiveRender(settings, 6);
    const small = coarseSettings(settings);
    expect(small.width * small.height).to.be.within(500, 2000);
    let jobs = 0;
    for (let job = preview.next(); job; job = preview.next()) {
      if (!preview.stands) expect(job.coarse, 'the coarse picture first').to.equal(true);
      preview.take(job, trace(job));
      if (preview.stands && jobs === 0) {
        jobs = 1;
        expect(preview.least.frame).to.equal(0);
        expect([...preview.picture().halves].filter((h) => h > 0).length, 'the whole frame is seen').to.be.greaterThan(
          80 * 60,
        );
      }
    }
    expect(preview.done).to.equal(true);
    expect(preview.least).to.deep.equal({ frame: 6, interest: 6 });
    const { data } = renderHere(scene, settings, frameOf(settings));
    const { halves, objects } = preview.picture();
    for (let i = 0; i < 80 * 60; i += 7)
      for (let k = 0; k < 3; k++) {
        const mean = data[i * FILM.stride + FILM.beauty + k] / data[i * FILM.stride + FILM.samples];
        expect(fromHalf(halves[i * 3 + k])).to.be.closeTo(mean, 1e-3 * Math.max(1e-3, mean));
      }
    expect(objects[30 * 80 + 40], 'the sphere in the middle').to.equal(2);
  });

  it('is seen without noise when every pixel has a sample: nearer to the truth, and what is rendered stays', () => {
    const preview = new ProgressiveRender(settings, 4);
    let job = preview.next();
    for (; job && !preview.stands; job = preview.next()) preview.take(job, trace(job));
    expect(preview.picture(true).halves, 'coarse').to.deep.equal(preview.picture().halves);
    for (; job; job = preview.next()) preview.take(job, trace(job));
    const before = preview.picture().halves.slice();
    const look = preview.picture(true).halves;
    expect(preview.picture().halves).to.deep.equal(before);
    const many = { ...settings, pixelSamples: 48, seed: 5 };
    const { data } = renderHere(scene, many, frameOf(many));
    const error = (halves: Uint16Array) => {
      let sum = 0;
      for (let i = 0; i < 80 * 60; i++) {
        const truth = data[i * FILM.stride + FILM.beauty] / data[i * FILM.stride + FILM.samples];
        // the edge of the lamp is the same in both
        if (truth < 2) sum += Math.abs(fromHalf(halves[i * 3]) - truth);
      }
      return sum;
    };
    expect(error(look)).to.be.below(0.7 * error(before));
  });

  it('what is looked at gets all of its samples before the rest gets a second', () => {
    const preview = new ProgressiveRender(settings, 6);
    preview.lookAt({ x: 0, y: 0, width: 10, height: 10 });
    for (let job = preview.next(); job; job = preview.next()) {
      preview.take(job, trace(job));
      if (preview.least.interest === 6) break;
    }
    expect(preview.least).to.deep.equal({ frame: 1, interest: 6 });
    preview.lookAt(null);
    for (let job = preview.next(); job; job = preview.next()) preview.take(job, trace(job));
    expect(preview.least.frame).to.equal(6);
  });
});
