// The live preview as the page sees it, computed by a server that is played by the test: what is asked for, what is shown and
// what is said.
import { expect } from 'chai';
import { nextTick } from 'vue';
import { createPinia, setActivePinia } from 'pinia';
import { toHalf } from '@dusting/core/formats';
import type { PreviewWish } from '@dusting/preview';
import { useBench } from '../src/stores/bench.ts';
import { usePreview } from '../src/stores/preview.ts';
import { useSlip } from '../src/stores/slip.ts';
import type { Shot } from '../src/api.ts';
import { makeShot, MATT, square } from '../../core/test/scenes.ts';

const real = globalThis.fetch;
const settle = async (until: () => boolean) => {
  for (let i = 0; i < 200 && !until(); i++) await new Promise((resolve) => setTimeout(resolve, 5));
  expect(until()).to.equal(true);
};

describe('the live preview', () => {
  let wishes: { number: number; revision: number; wish: PreviewWish }[];
  let calls: string[];
  let answers: ((wish: number) => Response)[];
  let ended: boolean;
  const picture = (wish: number, value: number) => {
    const bytes = new ArrayBuffer(2 * 14);
    new Uint32Array(bytes, 0, 2).set([1, 0]);
    new Uint32Array(bytes, 8, 2).set([1, 0]);
    new Uint16Array(bytes, 16, 6).fill(toHalf(value));
    const report = { serial: wish * 10, width: 2, height: 1, wish, objectIds: ['o0'], surfaceIds: ['s0'], settings: {}, least: { frame: 4, interest: 8 }, samples: 64, done: true }; // prettier-ignore
    return new Response(bytes, { headers: { 'x-preview': encodeURIComponent(JSON.stringify(report)) } });
  };
  beforeEach(async () => {
    setActivePinia(createPinia());
    [wishes, calls, answers, ended] = [[], [], [], false];
    Object.defineProperty(globalThis, 'navigator', { value: { deviceMemory: 4 }, configurable: true });
    globalThis.fetch = (async (url: string, { method, body }: { method: string; body?: string }) => {
      const path = String(url).replace('/api/shots/1/', '');
      calls.push(`${method} ${path}`);
      if (method === 'PUT' && path === 'preview') wishes.push(JSON.parse(body!));
      if (method === 'DELETE') ended = true;
      if (!path.startsWith('preview/picture')) return Response.json({ edits: 1 });
      const answer = answers.shift();
      if (answer) return answer(wishes.at(-1)!.number);
      await new Promise((resolve) => setTimeout(resolve, 20));
      return new Response(null, { status: 204 });
    }) as typeof fetch;
    const { document } = makeShot({ objects: [{ mesh: square(1), surface: MATT }], lights: [{ kind: 'point' }], settings: { width: 4, height: 2 } }); // prettier-ignore
    useBench().shot = { id: 1, revision: 3, slip: [], edits: 0, proofs: [], defects: [], mapping: null, document: JSON.parse(JSON.stringify(document)) } as unknown as Shot; // prettier-ignore
    usePreview().chosenWhere = 'server';
    await nextTick();
  });
  afterEach(() => usePreview().end());
  after(() => {
    globalThis.fetch = real;
  });

  it('shows the newest picture, with what is seen at a place', async () => {
    const preview = usePreview();
    answers = [(wish) => picture(wish, 0.25)];
    preview.start();
    await settle(() => preview.picture !== null);
    expect(wishes[0]).to.deep.include({ revision: 3 });
    expect(preview.pixelAt(0.1, 0.5)).to.deep.equal({ values: [0.25, 0.25, 0.25], object: 'o0', surface: 's0' });
    expect(preview.pixelAt(0.9, 0.5)).to.deep.include({ object: null, surface: null });
    expect(preview.firstAfter).to.be.a('number');
  });

  it('a scene that is too large for the page is computed by the server', () => {
    const preview = usePreview();
    preview.chosenWhere = null;
    expect(preview.where).to.equal('browser');
    const bench = useBench();
    const shot = JSON.parse(JSON.stringify(bench.shot)) as Shot;
    shot.document.meshes.m0.triangles = 100_000_000;
    bench.shot = shot;
    expect(preview.tooLarge, '300 bytes a triangle against a part of 4 GB').to.equal(true);
    expect(preview.where).to.equal('server');
    expect(preview.memory.scene).to.be.greaterThan(preview.memory.page);
  });

  it('an edit is a new wish, and pictures of the one before are not shown', async () => {
    const [preview, slip] = [usePreview(), useSlip()];
    preview.start();
    await settle(() => wishes.length === 1);
    await slip.set('/lights/l0/exposure', 2);
    await settle(() => wishes.length === 2);
    expect(wishes[1].wish.patch).to.deep.equal([{ op: 'replace', path: '/lights/l0/exposure', value: 2 }]);
    answers = [(wish) => picture(wish - 1, 0.5), (wish) => picture(wish, 0.75)];
    await settle(() => preview.picture !== null);
    expect(preview.pixelAt(0, 0)!.values[0]).to.equal(0.75);
  });

  it('isolating is a wish and no edit, and ends with one act', async () => {
    const [preview, slip] = [usePreview(), useSlip()];
    preview.isolate({ lights: ['l0'], grey: true });
    await settle(() => wishes.some((w) => w.wish.isolation.grey));
    expect(preview.isolating).to.equal(true);
    expect(slip.patch).to.deep.equal([]);
    preview.endIsolation();
    await settle(() => wishes.at(-1)!.wish.isolation.lights === null);
    expect(preview.isolating).to.equal(false);
  });

  it('says what it could not follow, until the next edit', async () => {
    const [preview, slip] = [usePreview(), useSlip()];
    answers = [(wish) => Response.json({ serial: 1, wish, fault: 'A file of the scene did not come.' })];
    preview.start();
    await settle(() => preview.fault !== '');
    expect(preview.fault).to.equal('A file of the scene did not come.');
    await slip.set('/lights/l0/exposure', 1);
    await nextTick();
    expect(preview.fault).to.equal('');
  });

  it('gets its samples where the region is, in shares of the frame', async () => {
    const [preview, bench] = [usePreview(), useBench()];
    preview.start();
    await settle(() => wishes.length === 1);
    bench.region = { x: 1, y: 0, width: 2, height: 1 };
    await settle(() => calls.includes('PUT preview/interest'));
  });

  it('rests while the proof is looked at, and is ended with the shot', async () => {
    const [preview, bench] = [usePreview(), useBench()];
    preview.start();
    await settle(() => wishes.length === 1);
    bench.proofId = 9; // a proof is chosen
    await nextTick();
    expect(preview.on).to.equal(false);
    await settle(() => calls.includes('PUT preview/pause'));
    bench.shot = null;
    await nextTick();
    await settle(() => ended);
  });

  it('a kept picture stays while what is seen changes', async () => {
    const preview = usePreview();
    answers = [(wish) => picture(wish, 0.25)];
    preview.start();
    await settle(() => preview.picture !== null);
    preview.freeze();
    const kept = preview.frozen;
    preview.samples = 16;
    await nextTick();
    answers = [(wish) => picture(wish, 0.5)];
    await settle(() => preview.pixelAt(0, 0)?.values[0] === 0.5);
    expect(preview.frozen).to.equal(kept);
    preview.freeze();
    expect(preview.frozen).to.equal(null);
  });
});
