// The bench against a server that is played by the test: what is shown when answers come late, fail, or change.
import { expect } from 'chai';
import { nextTick } from 'vue';
import { createPinia, setActivePinia } from 'pinia';
import { toHalf } from '@dusting/core/formats';
import { FINAL_DEFAULTS, PREVIEW_DEFAULTS } from '@dusting/core/scene';
import { useBench } from '../src/stores/bench.ts';
import { useEdits } from '../src/stores/edits.ts';
import type { Proof, Shot } from '../src/api.ts';

const real = globalThis.fetch;
const REGION = { x: 0, y: 0, width: 2, height: 1 };
const proof = (id: number, change: Partial<Proof> = {}): Proof =>
  ({ id, shot: 1, number: id, kind: 'proof', revision: 1, patch: [], before: null, use: 'final', settings: { ...FINAL_DEFAULTS, width: 2, height: 1 }, region: REGION, state: 'done', progress: 1, error: null, note: '', pinned: false, frame: null, noise: 1, seconds: 1, log: [], statistics: null, ...change }) as unknown as Proof; // prettier-ignore
const picture = (value: number) =>
  new Response(Uint16Array.of(...Array(6).fill(toHalf(value))), {
    headers: { 'x-picture': JSON.stringify({ width: 2, height: 1, channels: ['R', 'G', 'B'] }) },
  });
const settle = async () => {
  for (let i = 0; i < 20; i++) await new Promise((resolve) => setTimeout(resolve));
};

describe('the bench', () => {
  let shot: Shot;
  let asked: string[];
  /** Answers by a part of the address; others are what a healthy server says. */
  let answers: [part: string, answer: () => Response | Promise<Response>][];
  beforeEach(() => {
    setActivePinia(createPinia());
    asked = [];
    answers = [];
    shot = {
      id: 1, name: 'sill', revision: 1, slip: [], proofs: [proof(1), proof(2)], defects: [], revisions: [], unsupported: [],
      mapping: null, reference: null, document: { final: FINAL_DEFAULTS, preview: PREVIEW_DEFAULTS, noise: { limit: 1, stops: 1 } },
    } as unknown as Shot; // prettier-ignore
    globalThis.fetch = (async (url: string, options: { method: string }) => {
      const path = String(url).replace('/api', '');
      asked.push(`${options.method} ${path}`);
      const own = answers.find(([part]) => path.includes(part));
      if (own) return own[1]();
      if (path === '/shots/1') return Response.json(structuredClone(shot));
      if (path.endsWith('/layers')) return Response.json(['beauty', 'depth', 'transmission'].map((name) => ({ name, channels: ['R', 'G', 'B'] }))); // prettier-ignore
      const layer = /proofs\/(\d+)\/layers\/(\w+)/.exec(path);
      if (layer) return picture(Number(layer[1]) / 8);
      if (path.startsWith('/compare')) return Response.json({ region: REGION, before: {}, after: {}, changes: [], differences: null }); // prettier-ignore
      return Response.json({});
    }) as typeof fetch;
  });
  after(() => {
    globalThis.fetch = real;
  });
  const opened = async () => {
    const bench = useBench();
    bench.shot = structuredClone(shot);
    await bench.show(2);
    return bench;
  };
  const shownValue = () => useBench().picture?.halves[0];

  it('shows a proof with its layers; another layer is loaded alone, and only when it is looked at', async () => {
    const bench = await opened();
    expect(shownValue()).to.equal(toHalf(2 / 8));
    expect(bench.layers.map((l) => l.name)).to.deep.equal(['beauty', 'depth', 'transmission']);
    expect(asked.filter((a) => a.includes('/layers/'))).to.deep.equal(['GET /proofs/2/layers/beauty']);
    bench.layer = 'transmission';
    await settle();
    expect(asked.at(-1)).to.equal('GET /proofs/2/layers/transmission');
  });

  it('a picture that comes late does not take the place of the one that is shown now', async () => {
    const bench = await opened();
    let answer = () => {};
    answers.push(['/proofs/1/layers/beauty', () => new Promise((resolve) => (answer = () => resolve(picture(1))))]);
    const late = bench.show(1);
    await settle();
    await bench.show(2);
    answer();
    await late;
    expect(bench.proofId).to.equal(2);
    expect(shownValue()).to.equal(toHalf(2 / 8));
  });

  it('a layer that comes late does not take the place of the one asked for after it, here or beside', async () => {
    const bench = await opened();
    await bench.compareWith(1);
    const late: (() => void)[] = [];
    const slow = (value: number) => () => new Promise<Response>((resolve) => late.push(() => resolve(picture(value))));
    answers.push(['/proofs/2/layers/depth', slow(7)], ['/proofs/1/layers/depth', slow(7)]);
    bench.layer = 'depth';
    await settle();
    bench.layer = 'beauty';
    await settle();
    late.forEach((answer) => answer());
    await settle();
    expect(late.length).to.be.above(0);
    expect(shownValue()).to.equal(toHalf(2 / 8));
    expect(bench.besidePicture?.halves[0]).to.equal(toHalf(1 / 8));
  });

  it('trials of a sweep can be looked at, and keep the bench busy, without standing on the shelf', async () => {
    const trials = [
      proof(8, { kind: 'diagnostic', purpose: 'sweep' }),
      proof(9, { kind: 'diagnostic', purpose: 'sweep', state: 'rendering' }),
    ];
    shot.sweeps = [
      { id: 1, use: 'final', region: REGION, axes: [{ path: '/final/pixelSamples', values: [4, 8] }], trials },
    ];
    const bench = await opened();
    expect(bench.busy?.id).to.equal(9);
    await bench.show(8);
    expect(bench.proof?.purpose).to.equal('sweep');
    expect(shownValue()).to.equal(toHalf(1));
    expect(bench.done.map((p) => p.id)).to.deep.equal([1, 2]);
  });

  it('a layer that a proof does not have gives way to beauty', async () => {
    const bench = await opened();
    bench.layer = 'transmission';
    await settle();
    answers.push(['/proofs/1/layers', () => Response.json([{ name: 'beauty', channels: ['R', 'G', 'B'] }])]);
    answers.unshift(['/proofs/1/layers/', () => picture(1 / 8)]);
    await bench.show(1);
    expect(bench.layer).to.equal('beauty');
  });

  it('a trial is compared with the proof before it; the measures are of the layer on view', async () => {
    shot.proofs.push(proof(3, { kind: 'trial', before: 1 }));
    const bench = await opened();
    await bench.show(3);
    expect([bench.panel, bench.besideId]).to.deep.equal(['compare', 1]);
    expect(bench.besidePicture?.halves[0]).to.equal(toHalf(1 / 8));
    expect(asked.find((a) => a.includes('/compare'))).to.contain('before=1&after=3&layer=beauty');
    bench.layer = 'transmission';
    await settle();
    expect(asked.filter((a) => a.includes('/compare')).at(-1)).to.contain('layer=transmission');
    expect(asked.filter((a) => a.includes('/layers/transmission'))).to.have.length(2);
  });

  it('the other one may show another layer, until it is let go', async () => {
    const bench = await opened();
    await bench.compareWith(1);
    bench.besideLayer = 'depth';
    await settle();
    expect(asked.at(-1)).to.equal('GET /proofs/1/layers/depth');
    await bench.compareWith(null);
    expect([bench.besideLayer, bench.besidePicture, bench.comparison]).to.deep.equal([null, null, null]);
  });

  it('an older answer about the shot does not replace a newer one', async () => {
    const bench = await opened();
    const old = structuredClone(shot);
    let answer = () => {};
    answers.push(['/shots/1', () => new Promise((resolve) => (answer = () => resolve(Response.json(old))))]);
    const first = bench.refresh();
    await settle();
    answers.length = 0;
    shot.revision = 2;
    await bench.refresh();
    answer();
    await first;
    expect(bench.shot!.revision).to.equal(2);
  });

  it('the last proof is shown when the one on view is gone', async () => {
    const bench = await opened();
    shot.proofs.pop();
    await bench.refresh();
    expect(bench.proofId).to.equal(1);
  });

  it('what the server refuses is said in its words, and gone with the next act that succeeds', async () => {
    const bench = await opened();
    answers.push([
      '/defects',
      () => Response.json({ detail: 'The region lies outside the picture.' }, { status: 400 }),
    ]);
    bench.region = REGION;
    await useEdits().markDefect('noise');
    await bench.refresh();
    bench.layer = 'depth';
    await settle();
    expect(bench.error, 'what is looked at meanwhile does not hide it').to.equal(
      'The region lies outside the picture.',
    );
    await bench.cancel(1);
    expect(bench.error).to.equal('');
  });

  it('a server that is away is said to be asked again; what is shown stays', async () => {
    const bench = await opened();
    answers.push(['/layers/depth', () => Promise.reject(new TypeError('network'))]);
    bench.layer = 'depth';
    await settle();
    expect(bench.error).to.contain('nothing is lost');
    expect(shownValue()).to.equal(toHalf(2 / 8));
  });

  it('a proof under way shows what there is of it', async () => {
    shot.proofs.push(proof(3, { state: 'rendering', progress: 0.5 }));
    answers.push(['/proofs/3/picture', () => picture(0.75)]);
    const bench = await opened();
    await bench.show(3);
    expect(shownValue()).to.equal(toHalf(0.75));
    expect(asked.some((a) => a.includes('/proofs/3/layers'))).to.equal(false);
    expect(bench.lastProof!.id, 'predictions start from a finished one').to.equal(2);
  });

  it('frames: a shot without a scene; a mapping that is kept is read anew', async () => {
    shot.mapping = { '': 'beauty' };
    const bench = await opened();
    expect(bench.isFrames).to.equal(true);
    asked = [];
    expect(await useEdits().saveMapping({ '': 'beauty', comb: 'transmission' })).to.equal(true);
    expect(asked[0]).to.equal('PUT /shots/1/mapping');
    expect(asked).to.include.members(['GET /shots/1', 'GET /proofs/2/layers', 'GET /proofs/2/layers/beauty']);
    answers.push(['/mapping', () => Response.json({ detail: 'two layers cannot both be depth' }, { status: 422 })]);
    expect(await useEdits().saveMapping({})).to.equal(false);
    expect(bench.error).to.contain('both be depth');
  });

  it('a notice of a shot that waits for its turn does not bring that shot back once another is open', async () => {
    const sources: { notice: (shot: number) => void }[] = [];
    const before = globalThis.EventSource;
    globalThis.EventSource = class {
      private readonly heard = new Map<string, (event: { data: string }) => void>();
      constructor() {
        sources.push({
          notice: (id) => this.heard.get('proof')!({ data: JSON.stringify({ type: 'proof', shot: id }) }),
        });
      }
      addEventListener(type: string, hear: (event: { data: string }) => void) {
        this.heard.set(type, hear);
      }
      close() {}
    } as unknown as typeof EventSource;
    try {
      answers.push(['/shots/2', () => Response.json({ ...structuredClone(shot), id: 2, name: 'hive', proofs: [] })]);
      const bench = useBench();
      await bench.open(1);
      sources[0].notice(1);
      await bench.open(2);
      await settle();
      expect(bench.shot!.name).to.equal('hive');
      sources[0].notice(1);
      await settle();
      expect(bench.shot!.name).to.equal('hive');
      bench.close();
    } finally {
      globalThis.EventSource = before;
    }
  });

  it('closing forgets the shot and all that belongs to it', async () => {
    const bench = await opened();
    bench.region = REGION;
    await bench.compareWith(1);
    bench.close();
    await nextTick();
    expect([bench.shot, bench.proof, bench.picture, bench.region, bench.comparison, bench.besideId]).to.deep.equal(
      Array(6).fill(null),
    );
  });
});
