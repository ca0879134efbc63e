// The change slip against a server that is played by the test: what is sent, and what undo brings back.
import { expect } from 'chai';
import { nextTick, toRaw } from 'vue';
import { createPinia, setActivePinia } from 'pinia';
import { FINAL_DEFAULTS, PREVIEW_DEFAULTS, type Patch } from '@dusting/core/scene';
import { useBench } from '../src/stores/bench.ts';
import { useSlip } from '../src/stores/slip.ts';
import { useUndo } from '../src/stores/undo.ts';
import type { Proof, Shot } from '../src/api.ts';

const real = globalThis.fetch;

describe('change slip', () => {
  let sent: Patch[];
  let refuse: boolean;
  /** Answers to edits wait for this. */
  let held: Promise<void> | undefined;
  let shotOfServer: Shot | undefined;
  beforeEach(() => {
    setActivePinia(createPinia());
    sent = [];
    refuse = false;
    held = shotOfServer = undefined;
    globalThis.fetch = (async (_url: string, options: { method: string; body: string }) => {
      if (options.method === 'GET') return Response.json(shotOfServer);
      if (refuse) return Response.json({ detail: 'final.depth.total is -1; it must be at least 0' }, { status: 422 });
      sent.push(JSON.parse(options.body).patch);
      await held;
      return Response.json({});
    }) as typeof fetch;
    const final = structuredClone({ ...FINAL_DEFAULTS, depth: { diffuse: 3, specular: 4, transmission: 8, total: 8 } });
    const preview = structuredClone(PREVIEW_DEFAULTS);
    useBench().shot = {
      id: 1,
      name: 'x',
      revision: 1,
      slip: [],
      proofs: [],
      defects: [],
      revisions: [],
      unsupported: [],
      document: { final, preview },
    } as unknown as Shot;
  });
  after(() => {
    globalThis.fetch = real;
  });

  it('a trial that is asked for before its prediction has come waits for it, and is sent once', async () => {
    const [slip, bench] = [useSlip(), useBench()];
    bench.shot!.proofs = [{ id: 7, kind: 'proof', use: bench.use, state: 'done', revision: 1 } as Proof];
    const asked: Record<string, unknown>[] = [];
    let answer!: () => void;
    const waits = new Promise<void>((resolve) => (answer = resolve));
    const before = globalThis.fetch;
    globalThis.fetch = (async (url: string, options: { method: string; body: string }) => {
      if (url.endsWith('/prediction')) {
        await waits;
        return Response.json({ regionSeconds: { value: 3 }, noise: { value: 1.5 } });
      }
      if (url.endsWith('/proofs') && options.method === 'POST') {
        asked.push(JSON.parse(options.body));
        return Response.json({ detail: 'enough' }, { status: 400 });
      }
      return before(url, options as never);
    }) as typeof fetch;
    await slip.set('/final/pixelSamples', 128);
    await nextTick();
    expect(slip.isPredicting).to.equal(true);
    const tried = Promise.all([slip.tryOut(), slip.tryOut()]);
    await nextTick();
    expect(asked).to.deep.equal([]);
    answer();
    await tried;
    expect(asked.map(({ kind, predicted }) => ({ kind, predicted }))).to.deep.equal([{ kind: 'trial', predicted: { seconds: 3, noise: 1.5 } }]); // prettier-ignore
  });

  it('collects changes with old and new value, one line for each setting', async () => {
    const slip = useSlip();
    await slip.set('/final/depth/transmission', 16);
    await slip.set('/final/depth/transmission', 32);
    await slip.set('/final/pixelSamples', 128);
    expect(slip.lines.map((l) => [l.key, l.old, l.new])).to.deep.equal([
      ['final.depth.transmission', 8, 32],
      ['final.pixelSamples', 64, 128],
    ]);
    expect(slip.settings('final')).to.deep.include({ pixelSamples: 128 });
    expect(slip.settings('final').depth.transmission).to.equal(32);
    expect(slip.settings('preview')).to.deep.equal(PREVIEW_DEFAULTS);
    expect(sent.at(-1)).to.have.length(2);
  });

  it('says which limit bites while it does', async () => {
    const slip = useSlip();
    await slip.set('/final/depth/transmission', 32);
    expect(slip.notes.join()).to.contain('total depth of 8 bites before the transmission depth of 32');
    await slip.set('/final/depth/total', 48);
    expect(slip.notes).to.deep.equal([]);
  });

  it('a value that is the present one takes its line off', async () => {
    const slip = useSlip();
    await slip.set('/final/pixelSamples', 128);
    await slip.set('/final/pixelSamples', 64);
    expect(slip.lines).to.deep.equal([]);
    expect(sent.at(-1)).to.deep.equal([]);
  });

  it('undo and redo go through every change, and the server hears of each', async () => {
    const slip = useSlip();
    await slip.set('/final/pixelSamples', 128);
    await slip.add([
      { op: 'replace', path: '/final/pixelSamples', value: 256 },
      { op: 'replace', path: '/final/seed', value: 7 },
    ]);
    expect(slip.lines.map((l) => l.new)).to.deep.equal([256, 7]);
    await useUndo().undo();
    expect(slip.lines.map((l) => l.new)).to.deep.equal([128]);
    await useUndo().undo();
    await useUndo().undo(); // nothing left to undo
    expect(slip.lines).to.deep.equal([]);
    await useUndo().redo();
    await useUndo().redo();
    expect(slip.lines.map((l) => l.new)).to.deep.equal([256, 7]);
    expect(sent).to.have.length(6);
    await slip.change([]);
    expect(useUndo().future, 'a new change ends what could be redone').to.have.length(0);
  });

  it('an undo before the server has answered takes back the last edit, in order', async () => {
    const slip = useSlip();
    await slip.set('/final/pixelSamples', 128);
    let answer = () => {};
    held = new Promise((resolve) => (answer = resolve));
    const edit = slip.set('/final/seed', 7);
    const undone = useUndo().undo();
    expect(slip.lines.map((l) => l.new)).to.deep.equal([128]);
    expect(sent, 'the undo waits for the edit').to.have.length(1);
    answer();
    await Promise.all([edit, undone]);
    expect(sent.map((patch) => patch.length)).to.deep.equal([1, 2, 1]);
    await useUndo().redo();
    expect(slip.lines.map((l) => l.new)).to.deep.equal([128, 7]);
  });

  it('what the server says while an edit is on its way does not take the edit back', async () => {
    const slip = useSlip();
    const old = structuredClone(toRaw(useBench().shot!));
    let answer = () => {};
    held = new Promise((resolve) => (answer = resolve));
    const edit = slip.set('/final/seed', 7);
    shotOfServer = old;
    await useBench().refresh();
    expect(slip.lines.map((l) => l.new)).to.deep.equal([7]);
    answer();
    await edit;
    await useBench().refresh();
    expect(slip.lines, 'once settled, the server is right').to.deep.equal([]);
  });

  it('edits refused one after the other leave what the server has', async () => {
    const slip = useSlip();
    await slip.set('/final/pixelSamples', 128);
    refuse = true;
    await Promise.all([slip.set('/final/depth/total', -1), slip.set('/final/seed', 7)]);
    expect(slip.lines.map((l) => l.key)).to.deep.equal(['final.pixelSamples']);
    expect(useUndo().past).to.have.length(1);
  });

  it('what is undone belongs to one revision of one shot', async () => {
    const slip = useSlip();
    await slip.set('/final/pixelSamples', 128);
    useBench().shot!.revision = 2;
    await nextTick();
    await useUndo().undo();
    expect(sent).to.have.length(1);
  });

  it('a refused change is taken back and said', async () => {
    const slip = useSlip();
    await slip.set('/final/pixelSamples', 128);
    await slip.set('/final/seed', 7);
    await useUndo().undo();
    refuse = true;
    await slip.set('/final/depth/total', -1);
    expect(slip.lines.map((l) => l.key)).to.deep.equal(['final.pixelSamples']);
    expect(useBench().error).to.contain('at least 0');
    expect(useUndo().future, 'what was undone before can still be made again').to.have.length(1);
    expect(useUndo().past).to.have.length(1);
  });
});
