// Two windows on one shot, and a server that goes away, against a server that is played by the test: it counts edits as the
// real one does. Own rule: no edit goes over another that it did not know, and none is lost.
import { expect } from 'chai';
import { createPinia, setActivePinia } from 'pinia';
import { FINAL_DEFAULTS, PREVIEW_DEFAULTS, type Patch } from '@dusting/core/scene';
import { useBench } from '../src/stores/bench.ts';
import { useSlip } from '../src/stores/slip.ts';
import { WINDOW, type Shot } from '../src/api.ts';

const real = globalThis.fetch;
const line = (path: string, value: unknown): Patch[number] => ({ op: 'replace', path, value });

describe('two windows on one shot', () => {
  let kept: { slip: Patch; edits: number; editedBy: string; revision: number };
  let away: boolean;
  /** The shot cannot be read. */
  let deaf: boolean;
  let sent: Patch[];
  /** Shots are read at once, and delivered after this. */
  let held: Promise<void> | undefined;
  beforeEach(async () => {
    setActivePinia(createPinia());
    away = deaf = false;
    sent = [];
    held = undefined;
    kept = { slip: [], edits: 0, editedBy: '', revision: 1 };
    globalThis.fetch = (async (
      url: string,
      options: { method: string; body?: string; headers: Record<string, string> },
    ) => {
      if (away) throw new TypeError('fetch failed');
      if (String(url).endsWith('/slip')) {
        const { patch, edits } = JSON.parse(options.body!);
        if (edits !== kept.edits) return Response.json({ detail: 'Another window has changed this shot meanwhile.' }, { status: 409 }); // prettier-ignore
        sent.push(patch);
        Object.assign(kept, { slip: patch, edits: edits + 1, editedBy: options.headers['x-window'] });
        return Response.json({ edits: kept.edits });
      }
      if (deaf) throw new TypeError('fetch failed');
      const shot = { id: 1, name: 'x', proofs: [], defects: [], revisions: [], unsupported: [], mapping: null, reference: null, document: { final: FINAL_DEFAULTS, preview: PREVIEW_DEFAULTS } }; // prettier-ignore
      const read = structuredClone({ ...shot, ...kept }) as unknown as Shot;
      await held;
      return Response.json(read);
    }) as typeof fetch;
    await useBench().refresh(1);
  });
  after(() => {
    globalThis.fetch = real;
  });
  /** Another window edits. */
  const elsewhere = (slip: Patch) => Object.assign(kept, { slip, edits: kept.edits + 1, editedBy: 'other' });

  it('a change of the other is shown and told, and can be taken', async () => {
    const [bench, slip] = [useBench(), useSlip()];
    await slip.set('/final/pixelSamples', 128);
    expect(bench.other, 'own edits are not told').to.equal(null);
    elsewhere([line('/final/seed', 7)]);
    await bench.refresh();
    expect(slip.lines.map((l) => [l.key, l.new])).to.deep.equal([['final.seed', 7]]);
    expect(bench.other).to.deep.include({ held: false, revision: null, mine: [line('/final/pixelSamples', 128)] });
    await bench.settle('theirs');
    expect(bench.other).to.equal(null);
    expect(kept.slip).to.deep.equal([line('/final/seed', 7)]);
  });

  it('or what was here is put back over it', async () => {
    const [bench, slip] = [useBench(), useSlip()];
    await slip.set('/final/pixelSamples', 128);
    elsewhere([]);
    await bench.refresh();
    await bench.settle('mine');
    expect(kept.slip).to.deep.equal([line('/final/pixelSamples', 128)]);
  });

  it('an edit that did not know of the other waits for a choice, and what is edited meanwhile with it', async () => {
    const [bench, slip] = [useBench(), useSlip()];
    elsewhere([line('/final/seed', 7)]);
    expect(await slip.set('/final/pixelSamples', 128), 'it is not refused').to.equal(true);
    expect(bench.other).to.deep.include({ held: true, theirs: [line('/final/seed', 7)] });
    expect(sent, 'and not sent over the other').to.deep.equal([]);
    await slip.set('/final/width', 320);
    await bench.refresh();
    expect(
      slip.lines.map((l) => l.key),
      'still here',
    ).to.deep.equal(['final.pixelSamples', 'final.width']);
    await bench.settle('mine');
    expect(kept.slip.map((o) => o.path)).to.deep.equal(['/final/pixelSamples', '/final/width']);
    await slip.set('/final/height', 200);
    expect(kept.slip, 'from then on as always').to.have.length(3);
  });

  it('or gives way to it', async () => {
    const [bench, slip] = [useBench(), useSlip()];
    elsewhere([line('/final/seed', 7)]);
    await slip.set('/final/pixelSamples', 128);
    await bench.settle('theirs');
    expect(slip.lines.map((l) => l.key)).to.deep.equal(['final.seed']);
    await slip.set('/final/height', 200);
    expect(kept.slip.map((o) => o.path)).to.deep.equal(['/final/seed', '/final/height']);
  });

  it('an answer that was asked for while an edit was on its way does not count', async () => {
    const [bench, slip] = [useBench(), useSlip()];
    let deliver = () => {};
    held = new Promise((resolve) => (deliver = resolve));
    const saving = slip.set('/final/pixelSamples', 128);
    const reading = bench.refresh(); // it says what was before the edit, and comes after it
    await saving;
    deliver();
    await reading;
    held = undefined;
    expect(slip.lines).to.have.length(1);
    await slip.set('/final/width', 320);
    expect(bench.other, 'no other window is blamed').to.equal(null);
    expect(kept.slip).to.have.length(2);
  });

  it('an edit after a revision of this window is no difference with another', async () => {
    const [bench, slip] = [useBench(), useSlip()];
    Object.assign(kept, { revision: 2, edits: kept.edits + 1, editedBy: WINDOW });
    expect(await slip.set('/final/pixelSamples', 128)).to.equal(true);
    expect(bench.other).to.equal(null);
    expect(kept.slip).to.have.length(1);
  });

  it('a revision that the other made is told', async () => {
    const bench = useBench();
    elsewhere([]);
    kept.revision = 2;
    await bench.refresh();
    expect(bench.other).to.deep.include({ revision: 2 });
  });

  it('who edits on after being told has taken what the other did: nothing old can come back', async () => {
    const [bench, slip] = [useBench(), useSlip()];
    elsewhere([line('/final/seed', 7)]);
    await bench.refresh();
    expect(bench.other?.held).to.equal(false);
    await slip.set('/final/pixelSamples', 128);
    expect(bench.other, 'no choice is left').to.equal(null);
    expect(kept.slip.map((o) => o.path)).to.deep.equal(['/final/seed', '/final/pixelSamples']);
  });

  it('an edit that was refused for another, which cannot be read, is sent again and meets it then', async () => {
    const [bench, slip] = [useBench(), useSlip()];
    elsewhere([line('/final/seed', 7)]);
    deaf = true;
    await slip.set('/final/pixelSamples', 128);
    expect([bench.unsent, bench.other]).to.deep.equal([true, null]);
    deaf = false;
    for (let i = 0; i < 100 && !bench.other; i++) await new Promise((resolve) => setTimeout(resolve, 50));
    expect(bench.other).to.deep.include({ held: true, theirs: [line('/final/seed', 7)] });
    expect(slip.lines.map((l) => l.key), 'nothing is lost').to.deep.equal(['final.pixelSamples']); // prettier-ignore
    expect(kept.slip, 'and nothing gone over').to.deep.equal([line('/final/seed', 7)]);
  });

  it('edits while the server is away are kept, and sent when it is back', async () => {
    const [bench, slip] = [useBench(), useSlip()];
    away = true;
    expect(await slip.set('/final/pixelSamples', 128)).to.equal(true);
    expect(await slip.set('/final/width', 320)).to.equal(true);
    expect(bench.unsent).to.equal(true);
    expect(slip.lines).to.have.length(2);
    away = false;
    for (let i = 0; i < 100 && bench.unsent; i++) await new Promise((resolve) => setTimeout(resolve, 50));
    expect(bench.unsent).to.equal(false);
    expect(kept.slip.map((o) => o.path)).to.deep.equal(['/final/pixelSamples', '/final/width']);
  });
});
