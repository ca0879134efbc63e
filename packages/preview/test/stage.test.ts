// Own guarantees: the newest wish is what is seen, files are loaded once, and what cannot be followed is said.
import { expect } from 'chai';
import { compileScene, FILM, frameOf, renderHere } from '@dusting/core/render';
import { fromHalf } from '@dusting/core/formats';
import { ISOLATION_DEFAULTS, patchShot, type Patch } from '@dusting/core/scene';
import { plainBuffer } from '@dusting/core/trace';
import { JobTracer, PreviewStage, type PreviewReport, type PreviewWish } from '@dusting/preview';
import { makeShot, MATT, sphere, square } from '../../core/test/scenes.ts';

const { document, blobs } = makeShot({
  objects: [
    { mesh: square(4), surface: MATT },
    { mesh: sphere(0.3, 16), surface: MATT, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0.5] },
  ],
  lights: [{ kind: 'point', strength: 20, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 3] }],
  view: 2,
  settings: { width: 40, height: 40, pixelSamples: 2 },
});
const read = (id: string) => blobs.get(id)!;
const wish = (patch: Patch = [], change: Partial<PreviewWish> = {}): PreviewWish => ({ patch, use: 'final', isolation: ISOLATION_DEFAULTS, samples: 2, interest: null, denoised: false, ...change }); // prettier-ignore
const light = (strength: number): Patch => [{ op: 'replace', path: '/lights/l0/strength', value: strength }];

describe('the stage of a preview', () => {
  let stage: PreviewStage;
  let reports: PreviewReport[];
  let faults: [number, string][];
  let loaded: string[];
  let loads: number;
  beforeEach(() => {
    [reports, faults, loaded, loads] = [[], [], [], 0];
    const tracers = [0, 1].map(() => {
      const own = new JobTracer();
      return {
        load: (...scene: Parameters<JobTracer['load']>) => {
          loads++;
          own.load(...scene);
        },
        render: async (job: Parameters<JobTracer['render']>[0]) => {
          await new Promise((resolve) => setTimeout(resolve, 1));
          return own.render(job);
        },
      };
    });
    stage = new PreviewStage({
      tracers,
      makeBuffer: plainBuffer,
      loadBlob: async (id) => {
        loaded.push(id);
        return read(id);
      },
      report: (report) => reports.push(report),
      fault: (number, text) => faults.push([number, text]),
    });
    stage.open(document);
  });
  const until = async (what: () => boolean) => {
    for (let i = 0; i < 1000 && !what(); i++) await new Promise((resolve) => setTimeout(resolve, 5));
    expect(what()).to.equal(true);
  };
  const done = (number: number) => until(() => reports.some((r) => r.wish === number && r.done));

  it('ends with the samples of a render of the same document', async () => {
    stage.show(1, wish(light(8)));
    await done(1);
    const { picture, least, objectIds } = reports.at(-1)!;
    expect(least.frame).to.equal(2);
    expect(objectIds).to.deep.equal(['o0', 'o1']);
    const after = patchShot(document, light(8));
    const film = renderHere(compileScene(after, after.final, read), after.final, frameOf(after.final));
    for (let i = 0; i < 1600; i += 11)
      expect(fromHalf(picture.halves[i * 3])).to.be.closeTo(film.data[i * FILM.stride] / film.data[i * FILM.stride + FILM.samples], 2e-3); // prettier-ignore
  });

  it('of many wishes the newest is seen, and files are loaded once', async () => {
    for (let n = 1; n <= 6; n++) stage.show(n, wish(light(n)));
    await done(6);
    expect(
      reports.some((r) => r.wish > 1 && r.wish < 6),
      'those between are left out',
    ).to.equal(false);
    expect(loaded).to.have.length(2);
    expect(loads, 'two tracers, the first and the last wish at most').to.be.at.most(4);
  });

  it('a look without noise is another picture of the same render', async () => {
    stage.show(1, wish());
    await done(1);
    const before = [loads, reports.at(-1)!.picture.halves.slice()] as const;
    stage.show(2, wish([], { denoised: true }));
    await done(2);
    expect(loads).to.equal(before[0]);
    expect(reports.at(-1)!.picture.halves).to.not.deep.equal(before[1]);
    stage.show(3, wish());
    await done(3);
    expect(reports.at(-1)!.picture.halves).to.deep.equal(before[1]);
  });

  it('says what it cannot follow, and follows the next', async () => {
    stage.show(1, wish([{ op: 'replace', path: '/lights/gone/strength', value: 1 }]));
    await until(() => faults.length === 1);
    expect(faults[0][0]).to.equal(1);
    expect(faults[0][1]).to.contain('does not fit this shot');
    stage.show(2, wish());
    await done(2);
  });

  it('pauses and goes on; what is looked at comes first', async () => {
    stage.pause(true);
    stage.show(1, wish([], { samples: 8, interest: { x: 0, y: 0, width: 0.1, height: 0.1 } }));
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect(reports).to.have.length(0);
    stage.pause(false);
    await done(1);
    expect(reports.at(-1)!.least).to.deep.equal({ frame: 8, interest: 8 });
  });

  it('isolated objects are the only ones', async () => {
    stage.show(1, wish([], { isolation: { ...ISOLATION_DEFAULTS, objects: ['o1'] } }));
    await done(1);
    expect(reports.at(-1)!.objectIds).to.deep.equal(['o1']);
    stage.show(2, wish());
    await done(2);
    expect(reports.at(-1)!.objectIds).to.deep.equal(['o0', 'o1']);
  });
});
