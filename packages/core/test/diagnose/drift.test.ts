// What the other set of settings would show, where theory says how much: in a closed matt ball with a lamp in its middle each
// bounce brings the albedo times the light of the one before (a geometric series).
import { expect } from 'chai';
import { effectOf } from '@dusting/core/diagnose';
import { patchShot, type RenderSettings } from '@dusting/core/scene';
import { contextOf, explained, renderShot } from '../diagnosisBench.ts';
import { ALBEDO, closedBall, makeShot, threePanes, type TestScene } from '../scenes.ts';

const OPEN = { diffuse: 32, specular: 32, transmission: 32, volume: 32, total: 64 };
const room: TestScene = { ...closedBall, settings: { width: 12, height: 12, pixelSamples: 64, depth: OPEN } };
const panes: TestScene = { ...threePanes, settings: { width: 12, height: 12, pixelSamples: 64, depth: OPEN } };
type Change = Omit<Partial<RenderSettings>, 'depth'> & { depth?: Partial<RenderSettings['depth']> };

/** The final is that of the scene with a change, the preview that of the scene with another one. */
async function diagnosed(scene: TestScene, ofFinal: Change, ofPreview: Change = {}) {
  const { blobs, document } = makeShot(scene);
  const changed = (by: Change): RenderSettings => ({ ...document.final, ...by, depth: { ...document.final.depth, ...by.depth } }); // prettier-ignore
  const shot = { ...document, final: changed(ofFinal), preview: changed(ofPreview) };
  const found = await explained('drift', contextOf(shot, blobs));
  const luminanceAfter = (id: string) => renderShot(patchShot(shot, found.remedies.find((r) => r.id === id)!.patch), blobs).statistics.meanLuminance; // prettier-ignore
  return { found, ids: found.causes.map(({ id }) => id), luminanceAfter };
}

describe('drift between preview and final', () => {
  it('a limit that is lower in the final is the cause, and taking it over brings the light that it predicts', async () => {
    const { found, ids, luminanceAfter } = await diagnosed(room, { depth: { diffuse: 1 } });
    expect(ids).to.deep.equal(['depth/diffuse']);
    expect(found.causes[0].share).to.equal(1);
    expect(found.remedies.map(({ patch }) => patch)).to.deep.equal([[{ op: 'replace', path: '/final/depth/diffuse', value: 32 }]]); // prettier-ignore
    const { low, high, now, value } = effectOf(found.remedies[0], 'luminance')!;
    // its first term beside the whole series
    expect(value / now!).to.be.closeTo(1 / (1 - ALBEDO), 0.1);
    expect(luminanceAfter('depth/diffuse')).to.be.within(low, high);
    expect(found.summary).to.match(
      /^With the preview settings this region differs by \d+\.\d L\* on average; 100 % of its tiles/,
    );
    expect(found.summary).to.match(/100 % of it comes from the diffuse depth: 1 here, 32 in the preview/);
  });

  it('of two limits that hold each other back both count, and each says so', async () => {
    // 6 faces: either limit alone lets none of it through
    const { found, ids, luminanceAfter } = await diagnosed(panes, { depth: { transmission: 4, total: 4 } });
    expect(ids).to.have.members(['depth/transmission', 'depth/total']);
    for (const { share } of found.causes) expect(share).to.be.within(0.3, 0.7);
    expect(found.remedies[0].id).to.equal('all');
    for (const { sideEffect } of found.remedies.slice(1))
      expect(sideEffect).to.match(/Another difference holds it back/);
    const { low, high, now } = effectOf(found.remedies[0], 'luminance')!;
    expect(luminanceAfter('all')).to.be.within(low, high);
    expect(now).to.equal(0);
  });

  it('what changes nothing here is no cause beside what does', async () => {
    const { found, ids } = await diagnosed(room, { depth: { diffuse: 2, transmission: 2, volume: 1 }, pixelSamples: 16 }, { pixelSamples: 4 }); // prettier-ignore
    expect(ids).to.deep.equal(['depth/diffuse']);
    expect(found.measured.settings).to.equal(3);
    const rest = found.evidence.find(({ id }) => id === 'rest')!;
    expect(rest.type === 'table' && rest.rows.map((row) => row[0])).to.deep.equal([{ type: 'text', text: 'pixel samples' }]); // prettier-ignore
  });

  it('a small drift is said to lie within the limit, and samples alone are none of the light', async () => {
    const little = await diagnosed(room, { depth: { diffuse: 16 } });
    expect(little.ids).to.deep.equal([]);
    expect(little.found.summary).to.match(/That is within the noise limit of 1\.0 L\*/);
    const samples = await diagnosed(room, { pixelSamples: 4 });
    expect(samples.found.summary).to.equal('Nothing in which preview and final differ changes the light: one setting is about noise, time, size or a layer.'); // prettier-ignore
    const none = await diagnosed(room, {});
    expect(none.found.summary).to.equal('Preview and final have the same settings.');
  });
});
