// Light that limits cut off, where theory says how much: in a closed matt ball with a lamp in its middle each bounce brings the
// albedo times the light of the one before (a geometric series), and a ray through n clear panes needs 2 n events.
import { expect } from 'chai';
import {
  DIAGNOSES,
  effectOf,
  evidenceCsv,
  evidenceText,
  explain,
  isTrialOf,
  measureEffects,
  type Explanation,
} from '@dusting/core/diagnose';
import { NO_CLAMP, patchShot } from '@dusting/core/scene';
import { contextOf, renderShot } from '../diagnosisBench.ts';
import { ALBEDO, closedBall, makeShot, threePanes, type TestScene } from '../scenes.ts';

const OPEN = { diffuse: 32, specular: 32, transmission: 32, volume: 32, total: 32 };
const room: TestScene = {
  ...closedBall,
  settings: { width: 12, height: 12, pixelSamples: 64, depth: { ...OPEN, diffuse: 3 } },
};
const panes: TestScene = { ...threePanes, settings: { width: 12, height: 12, pixelSamples: 64, depth: OPEN } };

/** The whole way: a proof, its diagnosis with what it asks to be rendered, and a trial of each remedy. */
async function diagnosed(scene: TestScene, change: object = {}) {
  const shot = makeShot(scene);
  const document = { ...shot.document, final: { ...shot.document.final, ...change } };
  const context = contextOf(document, shot.blobs);
  const { region } = context;
  let renders = 0;
  const { render } = context.scene!;
  context.scene!.render = (wish) => {
    renders++;
    return render(wish);
  };
  const module = DIAGNOSES.other!;
  const found = await explain(module, context);
  const trials = found.remedies.map((remedy) => {
    const { picture } = renderShot(patchShot(document, remedy.patch), shot.blobs);
    return { remedy, measured: measureEffects(module, picture, region, { seconds: 10, stops: 1 }) };
  });
  return { context, found, renders, trials };
}
const curveOf = (found: Explanation, label: string) => {
  const curves = found.evidence.find((e) => e.id === 'depths')!;
  return curves.type === 'curves' ? curves.curves.find((c) => c.label === label)?.points : undefined;
};

describe('what is cut off here', () => {
  it('in a closed glowing room: the diffuse depth alone, by the powers of the albedo', async () => {
    const { found, renders, trials } = await diagnosed(room);
    expect(renders, 'one render with open limits').to.equal(1);
    expect(found.causes.map((c) => c.id)).to.deep.equal(['diffuse']);
    // depth d leaves d bounces: what is lost is a^d of all light
    const curve = curveOf(found, 'diffuse depth')!;
    for (const d of [0, 1, 3, 6, 9]) expect(curve[d][1], `depth ${d}`).to.be.closeTo(ALBEDO ** d, 0.02);
    expect(found.measured.cutOff, 'probes').to.be.closeTo(ALBEDO ** 3, 0.03);
    expect(found.measured.lost, 'open limits').to.be.closeTo(ALBEDO ** 3, 0.02);
    // 0.7^6 = 0.118, 0.7^7 = 0.082, 0.7^8 = 0.058; 0.7^13 = 0.0097; depths are raised in steps: 6, 8, 10, 12, 16
    const depths = found.remedies.map(({ patch }) => patch);
    expect(depths[0]).to.deep.equal([{ op: 'replace', path: '/final/depth/diffuse', value: 8 }]);
    expect(depths[1]).to.deep.equal([{ op: 'replace', path: '/final/depth/diffuse', value: 16 }]);
    for (const { measured, remedy } of trials) {
      for (const measure of ['luminance', 'lightCutOff'] as const) {
        const { high, low } = effectOf(remedy, measure)!;
        // the trial has noise of its own, and its probes too
        expect(measured[measure], `${remedy.id} ${measure}`).to.be.within(low * 0.97 - 0.02, high * 1.03 + 0.02);
      }
    }
  });

  it('panes before a glow: the transmission depth, and none of the others; 2 n events for n panes', async () => {
    const { found, trials } = await diagnosed(panes, { depth: { ...OPEN, transmission: 4 } });
    expect(found.causes[0]).to.include({ id: 'transmission' });
    expect(found.causes.filter((c) => c.share! > 0.05)).to.have.length(1);
    const curve = curveOf(found, 'transmission depth')!;
    expect(curve[5][1], 'five events do not pass three panes').to.be.above(0.9);
    expect(curve[6][1], 'six do').to.be.below(0.1);
    const [first] = trials;
    expect(first.remedy.patch).to.deep.equal([{ op: 'replace', path: '/final/depth/transmission', value: 6 }]);
    const { high, low } = effectOf(first.remedy, 'luminance')!;
    expect(first.measured.luminance).to.be.within(0.95 * low, 1.05 * high);
  });

  it('where two limits hold the same path, both are raised, and one alone is said to be of no use', async () => {
    const { found, trials } = await diagnosed(panes, { depth: { ...OPEN, transmission: 4, total: 4 } });
    expect(found.causes[0].id, 'the total depth is blamed where both are met').to.equal('total');
    const paths = found.remedies[0].patch.map(({ path }) => path);
    expect(paths).to.have.members(['/final/depth/transmission', '/final/depth/total']);
    expect(found.summary).to.contain(
      'Raising the transmission depth of 4 alone changes nothing while the total depth is 4.',
    );
    expect(trials[0].measured.lightCutOff).to.be.below(0.15);
    // rays decide the time here: a tenth more or less is what few pixels tell
    const time = effectOf(trials[0].remedy, 'regionTime')!;
    expect(time.value).to.be.above(time.now!);
  });

  it('a clamp is told apart from depths, and its remedy brings the light back', async () => {
    for (const kind of ['indirect', 'transmission']) {
      const { found, trials } = await diagnosed(panes, { depth: OPEN, clamp: { ...NO_CLAMP, [kind]: 0.4 } });
      expect(found.causes.map((c) => c.id)).to.deep.equal(['clamp']);
      expect(found.causes[0].title).to.contain(`clamp (${kind} 0.4)`);
      expect(found.remedies.map((r) => r.id)).to.deep.equal([`clamp.${kind}`]);
      const { high, low } = effectOf(trials[0].remedy, 'luminance')!;
      expect(trials[0].measured.luminance).to.be.within(0.95 * low, 1.05 * high);
      expect(trials[0].measured.lightCutOff).to.be.below(0.02);
    }
  });

  it('where nothing is cut off it says so, and offers nothing', async () => {
    const { found } = await diagnosed(panes);
    expect(found.summary).to.match(/^No limit takes visible light away here/);
    expect([found.causes, found.remedies]).to.deep.equal([[], []]);
  });

  it('every piece of evidence has words, and numbers to copy but for pictures', async () => {
    const { found } = await diagnosed(room);
    expect(new Set(found.evidence.map((e) => e.id)).size).to.equal(found.evidence.length);
    for (const evidence of found.evidence) {
      expect(evidence.source, evidence.id).to.match(/measured|computed|rendered|replayed/);
      expect(evidenceText(evidence).join(''), evidence.id).to.not.match(/undefined|NaN|\[object/);
      if (evidence.type !== 'pictures') expect(evidenceCsv(evidence), evidence.id).to.match(/^[^\r\n]+\r\n/);
    }
    const paths = found.evidence.find((e) => e.type === 'paths')!;
    expect(paths.paths[0].vertices.some((v) => v.lights.some((l) => l.cutBy === 'diffuse'))).to.equal(true);
    for (const cause of found.causes)
      for (const id of cause.evidence) expect(found.evidence.map((e) => e.id)).to.include(id);
  });

  it('without the scene it says what is missing from the layers alone; a picture without them is refused', async () => {
    const { context } = await diagnosed(room);
    const alone = await explain(DIAGNOSES.other!, { ...context, scene: null });
    expect(alone.remedies).to.deep.equal([]);
    expect(alone.causes.map((c) => c.id)).to.deep.equal(['diffuse']);
    const bare = { ...context.picture, channels: context.picture.channels.filter((c) => !c.name.startsWith('cut.')) };
    const refused = await explain(DIAGNOSES.other!, { ...context, picture: bare }).catch((error: Error) => error);
    expect((refused as Error).message).to.contain('does not say what its limits cut off');
  });

  it('noise mentions the light that is cut off in its region; cancelling ends a diagnosis', async () => {
    const { context } = await diagnosed(room);
    const noise = await explain(DIAGNOSES.noise!, context);
    expect(noise.others.map(({ id, kind }) => [id, kind])).to.deep.equal([['cut-diffuse', 'other']]);
    const control = new AbortController();
    control.abort(new Error('enough'));
    const ended = await explain(DIAGNOSES.noise!, { ...context, signal: control.signal }).catch(
      (e: Error) => e.message,
    );
    expect(ended).to.equal('enough');
  });

  it('a trial is of a remedy where it changes the same and nothing else', async () => {
    const remedy = { id: 'a', title: '', patch: [{ op: 'replace' as const, path: '/final/depth/total', value: 8 }], effects: [], sideEffect: '' }; // prettier-ignore
    expect(isTrialOf([{ op: 'replace', path: '/final/depth/total', value: 8 }], remedy)).to.equal(true);
    expect(isTrialOf([{ op: 'replace', path: '/final/depth/total', value: 9 }], remedy)).to.equal(false);
    expect(isTrialOf([...remedy.patch, { op: 'replace', path: '/final/seed', value: 2 }], remedy)).to.equal(false);
  });
});
