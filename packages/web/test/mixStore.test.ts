// A mix of the light, with the worker played by the test in the same thread.
import { expect } from 'chai';
import { nextTick } from 'vue';
import { createPinia, setActivePinia } from 'pinia';
import { ENVIRONMENT_DEFAULTS, FINAL_DEFAULTS, LIGHT_DEFAULTS, PREVIEW_DEFAULTS } from '@dusting/core/scene';
import { useBench } from '../src/stores/bench.ts';
import { useMix } from '../src/stores/mix.ts';
import { useSlip } from '../src/stores/slip.ts';
import { useUndo } from '../src/stores/undo.ts';
import type { Proof, Shot } from '../src/api.ts';

const real = globalThis.fetch;
const light = (group: string, strength: number) => ({ ...LIGHT_DEFAULTS, name: group, kind: 'point', strength, group });

describe('a mix of the light', () => {
  let refuse: boolean;
  beforeEach(() => {
    setActivePinia(createPinia());
    refuse = false;
    globalThis.fetch = (async () =>
      refuse
        ? Response.json({ detail: 'the change does not fit' }, { status: 422 })
        : Response.json({})) as typeof fetch;
    const bench = useBench();
    bench.shot = {
      id: 1, name: 'sill', revision: 3, slip: [], defects: [], revisions: [], unsupported: [], mapping: null, reference: null,
      document: {
        format: 'dusting-shot', version: 1, name: 'sill', cameras: {}, camera: 'none', meshes: {}, objects: {}, surfaces: {}, textures: {},
        lights: { window: light('window', 2), shelf: light('shelf', 4) }, environment: structuredClone(ENVIRONMENT_DEFAULTS),
        noise: { limit: 1, stops: 1 }, preview: PREVIEW_DEFAULTS, final: FINAL_DEFAULTS,
      },
      proofs: [
        { id: 1, state: 'done', kind: 'proof', number: 1, revision: 3, patch: [] },
        { id: 2, state: 'done', kind: 'trial', number: 1, revision: 3, patch: [{ op: 'replace', path: '/lights/window/strength', value: 8 }] },
        { id: 3, state: 'done', kind: 'proof', number: 2, revision: 2, patch: [] },
      ] as unknown as Proof[],
    } as unknown as Shot; // prettier-ignore
    bench.proofId = 1;
    bench.layers = ['beauty', 'transmission', 'directDiffuse', 'group.window', 'group.shelf', 'depth'].map((name) => ({ name, channels: [] })); // prettier-ignore
  });
  after(() => {
    globalThis.fetch = real;
  });

  it('has the components in their order, or the light groups', async () => {
    const mix = useMix();
    expect(mix.names).to.deep.equal(['directDiffuse', 'transmission']);
    expect(mix.hasGroups).to.equal(true);
    mix.kind = 'groups';
    expect(mix.names).to.have.members(['group.window', 'group.shelf']);
  });

  it('multiplies the occlusion layer in where there is one, and takes it back step by step', () => {
    const [mix, bench, undo] = [useMix(), useBench(), useUndo()];
    mix.multiply({});
    expect([mix.hasOcclusion, mix.active], 'without a layer').to.deep.equal([false, false]);
    bench.layers = [...bench.layers, { name: 'occlusion', channels: ['Y'] }];
    expect([mix.active, mix.occlusion]).to.deep.equal([true, { strength: 1, contrast: 1, color: [0, 0, 0] }]);
    mix.multiply({ strength: 0.5 });
    mix.multiply({ strength: 0.4 });
    expect(mix.occlusion!.strength).to.equal(0.4);
    void undo.undo();
    expect(mix.occlusion!.strength, 'a drag is one step').to.equal(1);
    mix.reset();
    expect([mix.occlusion, mix.isChanged]).to.deep.equal([null, false]);
  });

  it('is active while something is changed, in the beauty picture alone', async () => {
    const [mix, bench] = [useMix(), useBench()];
    expect(mix.active).to.equal(false);
    mix.set('transmission', { stops: 1 });
    expect([mix.active, mix.changed]).to.deep.equal([true, ['transmission']]);
    bench.layer = 'depth';
    expect(mix.active).to.equal(false);
    bench.layer = 'beauty';
    mix.set('transmission', { stops: 0 });
    expect(mix.active).to.equal(false);
  });

  it('one part alone, and all of them again', () => {
    const mix = useMix();
    mix.solo('transmission');
    expect(mix.names.map((n) => mix.part(n).on)).to.deep.equal([false, true]);
    mix.solo('transmission');
    expect(mix.names.map((n) => mix.part(n).on)).to.deep.equal([true, true]);
  });

  it('turning from components to groups begins anew', async () => {
    const mix = useMix();
    mix.set('transmission', { on: false });
    mix.kind = 'groups';
    await nextTick();
    expect(mix.part('transmission').on).to.equal(true);
    expect(mix.canSlip).to.equal(true);
  });

  const slipped = async (proof: number) => {
    const [mix, bench, slip] = [useMix(), useBench(), useSlip()];
    bench.proofId = proof;
    mix.kind = 'groups';
    await nextTick();
    mix.set('group.window', { stops: 1 });
    await mix.toSlip();
    return slip.lines.map(({ path, new: value }) => [path, value]);
  };

  it('goes on the slip as a change of the lights: a stop is twice the strength', async () => {
    expect(await slipped(1)).to.deep.equal([['/lights/window/strength', 4]]);
    expect(useMix().changed, 'the mix is on the slip now').to.deep.equal([]);
  });

  it('of a trial it starts from the lights that the trial was rendered with', async () => {
    expect(await slipped(2)).to.deep.equal([['/lights/window/strength', 16]]);
  });

  it('of a proof of another revision it cannot, and stays', async () => {
    expect(await slipped(3)).to.deep.equal([]);
    expect(useMix().canSlip).to.equal(false);
    expect(useMix().changed).to.deep.equal(['group.window']);
  });

  it('what the server refuses stays in the mix', async () => {
    refuse = true;
    expect(await slipped(1)).to.deep.equal([]);
    expect(useMix().changed).to.deep.equal(['group.window']);
    expect(useBench().error).to.contain('does not fit');
  });

  it('a tint is a factor of each colour', async () => {
    const [mix, slip] = [useMix(), useSlip()];
    mix.kind = 'groups';
    await nextTick();
    mix.set('group.shelf', { tint: [1, 0.5, 0.25] });
    await mix.toSlip();
    expect(slip.lines.map((l) => [l.path, l.new])).to.deep.equal([['/lights/shelf/color', [1, 0.5, 0.25]]]);
  });
});
