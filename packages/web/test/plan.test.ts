// The plan of the open shot against a server that is played by the test: when it is asked for, and what a choice puts on
// the slip.
import { expect } from 'chai';
import { nextTick } from 'vue';
import { createPinia, setActivePinia } from 'pinia';
import { BOUNDS_DEFAULTS, type PlanOption, type SamplingPlan } from '@dusting/core/plan';
import { FINAL_DEFAULTS, PREVIEW_DEFAULTS, type Patch } from '@dusting/core/scene';
import { useBench } from '../src/stores/bench.ts';
import { usePlan } from '../src/stores/plan.ts';
import { useSlip } from '../src/stores/slip.ts';
import type { PlanWish, Proof, Shot } from '../src/api.ts';

const real = globalThis.fetch;
const settle = async () => {
  for (let i = 0; i < 20; i++) await new Promise((resolve) => setTimeout(resolve));
};
const pilot = (state: string) => ({ id: 5, kind: 'diagnostic', purpose: 'pilot', use: 'final', state, number: 1, settings: FINAL_DEFAULTS }) as unknown as Proof; // prettier-ignore

describe('the plan of a shot', () => {
  let wishes: PlanWish[];
  let slipOfServer: Patch;
  let answer: () => Response;
  beforeEach(() => {
    setActivePinia(createPinia());
    wishes = [];
    slipOfServer = [];
    answer = () => Response.json({ plan: { summary: `of ${JSON.stringify(slipOfServer)}` } as SamplingPlan, pilot: 5 });
    globalThis.fetch = (async (url: string, { body }: { body: string }) => {
      if (String(url).endsWith('/plan')) {
        wishes.push(JSON.parse(body));
        return answer();
      }
      if (String(url).endsWith('/slip')) {
        await new Promise((resolve) => setTimeout(resolve, 5));
        slipOfServer = JSON.parse(body).patch;
        return Response.json({ edits: 1 });
      }
      return Response.json({});
    }) as typeof fetch;
    const bench = useBench();
    bench.panel = 'plan';
    bench.use = 'final';
    bench.shot = { id: 1, revision: 1, slip: [], edits: 0, proofs: [pilot('done')], sweeps: [], defects: [], revisions: [], document: { final: structuredClone(FINAL_DEFAULTS), preview: PREVIEW_DEFAULTS, noise: { limit: 1, stops: 1 } } } as unknown as Shot; // prettier-ignore
  });
  after(() => {
    globalThis.fetch = real;
  });

  it('is asked for where a pilot is done, with the bounds and the region, and anew when these change', async () => {
    const [bench, plan] = [useBench(), usePlan()];
    await settle();
    expect(wishes).to.deep.equal([{ use: 'final', region: null, share: 0.95, bounds: BOUNDS_DEFAULTS }]);
    expect([plan.pilot, plan.fault, plan.computing]).to.deep.equal([5, '', false]);
    bench.region = { x: 1, y: 2, width: 3, height: 4 };
    await settle();
    plan.bounds = { ...plan.bounds, mostSplits: 4 };
    await settle();
    expect(wishes.map((w) => [w.region?.width ?? null, w.bounds.mostSplits])).to.deep.equal([[null, 64], [3, 64], [3, 4]]); // prettier-ignore
    bench.panel = 'settings';
    bench.region = null;
    await settle();
    expect(wishes, 'and not while nobody looks').to.have.length(3);
    plan.bounds = { ...BOUNDS_DEFAULTS };
  });

  it('is that of the slip as it is seen: the server has it before it is asked', async () => {
    const [slip, plan] = [useSlip(), usePlan()];
    await settle();
    void slip.set('/final/pixelSamples', 9);
    await new Promise((resolve) => setTimeout(resolve, 30));
    expect(plan.plan?.summary).to.contain('/final/pixelSamples');
  });

  it('is not asked for without a finished pilot of these settings; one under way is told', async () => {
    const [bench, plan] = [useBench(), usePlan()];
    bench.shot!.proofs = [pilot('rendering')];
    await settle();
    expect([plan.running?.id, plan.plan]).to.deep.equal([5, null]);
    bench.shot!.proofs = [{ ...pilot('done'), use: 'preview' }];
    await settle();
    expect(plan.running).to.equal(undefined);
    expect(plan.plan, 'of other settings').to.equal(null);
  });

  it('that there is no pilot of what the shot is now is no fault; others are said', async () => {
    const [bench, plan] = [useBench(), usePlan()];
    answer = () => Response.json({ detail: 'There is no pilot.' }, { status: 404 });
    await settle();
    expect([plan.plan, plan.fault]).to.deep.equal([null, '']);
    answer = () => Response.json({ detail: 'the region lies outside the picture' }, { status: 422 });
    bench.region = { x: 900, y: 0, width: 1, height: 1 };
    await settle();
    expect(plan.fault).to.equal('the region lies outside the picture');
  });

  it('a choice goes on the slip as one edit; what is as it was stands on no line', async () => {
    const [plan, slip] = [usePlan(), useSlip()];
    const counts = { pixelSamples: FINAL_DEFAULTS.pixelSamples, diffuseSamples: 8, specularSamples: 1, transmissionSamples: 1, volumeSamples: 1, lightSamples: 4 }; // prettier-ignore
    await plan.take({ counts, adaptive: { limit: 2, least: 16 } } as PlanOption);
    await nextTick();
    expect(slip.lines.map((l) => [l.key, l.new])).to.deep.equal([['final.diffuseSamples', 8], ['final.lightSamples', 4], ['final.adaptive.limit', 2]]); // prettier-ignore
    await plan.take({ counts: { ...counts, diffuseSamples: 1 }, adaptive: { limit: 0, least: 16 } } as PlanOption);
    expect(slip.lines.map((l) => l.key)).to.deep.equal(['final.lightSamples']);
  });
});
