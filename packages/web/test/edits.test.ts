// Edits of a shot, taken back and made again, against a server that is played by the test and keeps what it is told.
import { expect } from 'chai';
import { nextTick } from 'vue';
import { createPinia, setActivePinia } from 'pinia';
import { FINAL_DEFAULTS, PREVIEW_DEFAULTS } from '@dusting/core/scene';
import { useBench } from '../src/stores/bench.ts';
import { useEdits } from '../src/stores/edits.ts';
import { useMix } from '../src/stores/mix.ts';
import { useSlip } from '../src/stores/slip.ts';
import { useUndo } from '../src/stores/undo.ts';
import type { Defect, Proof, Shot } from '../src/api.ts';

const real = globalThis.fetch;
const REGION = { x: 0, y: 0, width: 2, height: 1 };
type Kept = Shot & { defects: (Defect & { removed?: boolean })[] };

describe('edits, taken back and made again', () => {
  let kept: Kept;
  let refusing: boolean;
  let asked: string[];
  beforeEach(async () => {
    setActivePinia(createPinia());
    refusing = false;
    asked = [];
    const proof = { id: 7, number: 1, kind: 'proof', state: 'queued', revision: 1, region: REGION, note: 'first', pinned: false }; // prettier-ignore
    kept = {
      id: 1, revision: 1, slip: [], proofs: [proof as Proof], defects: [], revisions: [], harmless: [], mapping: { comb: 'data' }, reference: null,
      document: { final: FINAL_DEFAULTS, preview: PREVIEW_DEFAULTS },
    } as unknown as Kept; // prettier-ignore
    globalThis.fetch = (async (url: string, options: { method: string; body?: string }) => {
      const path = String(url).replace('/api', '');
      const body = options.body ? JSON.parse(options.body) : {};
      if (options.method === 'GET' && path === '/shots/1')
        return Response.json({ ...kept, defects: kept.defects.filter((d) => !d.removed) });
      if (options.method === 'GET') return new Response(null, { status: 404 });
      asked.push(`${options.method} ${path}`);
      if (refusing) return Response.json({ detail: 'No.' }, { status: 422 });
      if (path.endsWith('/slip')) kept.slip = body.patch;
      if (path.endsWith('/harmless')) {
        kept.harmless.push({ id: 40 + kept.harmless.length, ...body, shot: body.house ? null : 1 });
        return Response.json({ id: 39 + kept.harmless.length });
      }
      if (options.method === 'DELETE' && path.includes('/harmless/'))
        kept.harmless = kept.harmless.filter((h) => !path.endsWith(`/${h.id}`));
      if (path.startsWith('/proofs')) Object.assign(kept.proofs[0], body);
      if (path.endsWith('/reference')) kept.reference = body.proof;
      if (path.endsWith('/mapping')) kept.mapping = body.mapping;
      if (path.startsWith('/defects'))
        Object.assign(
          kept.defects.find((d) => path.endsWith(`/${d.id}`))!,
          body,
        );
      if (path.endsWith('/revert') || path.endsWith('/decision')) kept.revision++;
      if (!path.endsWith('/defects')) return Response.json({});
      const added = { id: 20 + kept.defects.length, number: kept.defects.length + 1, state: 'open', ...body };
      kept.defects.push(added);
      return Response.json(added);
    }) as typeof fetch;
    const bench = useBench();
    await bench.refresh(1);
    await nextTick();
    bench.proofId = 7;
    bench.region = REGION;
  });
  after(() => {
    globalThis.fetch = real;
  });

  it('of every kind, in the order in which they were made', async () => {
    const [edits, slip, undo] = [useEdits(), useSlip(), useUndo()];
    const state = () =>
      JSON.stringify([kept.proofs[0].note, kept.proofs[0].pinned, kept.reference, kept.slip, kept.mapping, kept.defects.filter((d) => !d.removed).map((d) => d.state)]); // prettier-ignore
    const states = [state()];
    for (const make of [
      () => edits.changeProof(useBench().proof!, { note: 'too dark' }),
      () => edits.changeProof(useBench().proof!, { pinned: true }),
      () => slip.set('/final/seed', 7),
      () => edits.setReference(7),
      () => edits.markDefect('noise'),
      () => edits.setDefectState(useBench().shot!.defects[0], 'accepted'),
      () => edits.removeDefect(useBench().shot!.defects[0]),
      () => edits.saveMapping({ comb: 'depth' }),
    ]) {
      await make();
      states.push(state());
    }
    expect(
      states.slice(1).filter((s, i) => s === states[i]),
      'each edit has changed something',
    ).to.deep.equal([]);
    for (let i = 7; i >= 0; i--) {
      await undo.undo();
      expect(state(), `${i}`).to.equal(states[i]);
    }
    expect(undo.last).to.equal(null);
    expect(useBench().shot!.defects).to.deep.equal([]);
    for (let i = 1; i <= 8; i++) {
      await undo.redo();
      expect(state(), `again ${i}`).to.equal(states[i]);
    }
    expect(undo.next).to.equal(null);
  });

  it('a harmless message counts again, and is harmless again', async () => {
    const [bench, edits, undo] = [useBench(), useEdits(), useUndo()];
    await edits.markHarmless('warning wide', 'seen from afar', true);
    expect(bench.shot!.harmless).to.deep.include({ id: 40, key: 'warning wide', reason: 'seen from afar', house: true, shot: null }); // prettier-ignore
    await undo.undo();
    expect(bench.shot!.harmless).to.deep.equal([]);
    await undo.redo();
    expect(bench.shot!.harmless).to.have.length(1);
    await edits.unmarkHarmless(bench.shot!.harmless[0]);
    expect(bench.shot!.harmless).to.deep.equal([]);
    await undo.undo();
    expect(bench.shot!.harmless[0].reason).to.equal('seen from afar');
  });

  it('one that was refused is not among them; what was undone is gone with a new one', async () => {
    const [edits, undo] = [useEdits(), useUndo()];
    await edits.setReference(7);
    refusing = true;
    expect(await edits.setReference(null)).to.equal(false);
    expect(useBench().error).to.equal('No.');
    expect(undo.past).to.have.length(1);
    await undo.undo();
    expect([undo.last?.name, undo.next], 'an undo that is refused').to.deep.equal(['choice of the reference', null]);
    refusing = false;
    await undo.undo();
    expect(undo.next!.name).to.equal('choice of the reference');
    await edits.changeProof(useBench().proof!, { note: 'x' });
    expect([undo.next, undo.last!.name]).to.deep.equal([null, 'note of P1']);
  });

  it('a defect that is removed while it is looked at is let go, and comes back with its number and state', async () => {
    const [bench, edits, undo] = [useBench(), useEdits(), useUndo()];
    await edits.markDefect('noise');
    expect(bench.defect!.number).to.equal(1);
    await edits.setDefectState(bench.defect!, 'fixed');
    await edits.removeDefect(bench.defect!);
    expect([bench.defect, bench.shot!.defects.length]).to.deep.equal([null, 0]);
    await undo.undo();
    expect(bench.shot!.defects.map((d) => [d.number, d.state])).to.deep.equal([[1, 'fixed']]);
  });

  it('the places of a slider are one step; another part begins a new one', async () => {
    const [mix, undo] = [useMix(), useUndo()];
    for (const stops of [0.1, 0.5, 1]) mix.set('transmission', { stops });
    mix.set('specular', { stops: -1 });
    expect(undo.past).to.have.length(2);
    await undo.undo();
    expect([mix.part('specular').stops, mix.part('transmission').stops]).to.deep.equal([0, 1]);
    await undo.undo();
    expect(mix.part('transmission').stops).to.equal(0);
    await undo.redo();
    expect(mix.part('transmission').stops, 'to the last place').to.equal(1);
    mix.set('transmission', { stops: 2 });
    await undo.undo();
    expect(mix.part('transmission').stops, 'what followed an undo is a step of its own').to.equal(1);
  });

  it('what was decided of a trial is taken back: the decision, the revision that it made, and the changes are on the slip', async () => {
    const [edits, undo] = [useEdits(), useUndo()];
    const patch = [{ op: 'replace' as const, path: '/final/seed', value: 7 }];
    const trial = { ...kept.proofs[0], id: 9, kind: 'trial', patch } as Proof;
    await edits.decide(trial, true, 'calmer');
    await undo.undo();
    expect(asked).to.deep.equal(['POST /proofs/9/decision', 'DELETE /proofs/9/decision', 'POST /shots/1/revert', 'PUT /shots/1/slip']); // prettier-ignore
    expect(useBench().shot!.slip).to.deep.equal(patch);
    await edits.decide(trial, false, '');
    await undo.undo();
    expect(asked.slice(4), 'nothing else was changed').to.deep.equal(['POST /proofs/9/decision', 'DELETE /proofs/9/decision']); // prettier-ignore
  });

  it('a new revision leaves the other edits, and takes away those of the slip', async () => {
    const [edits, slip, undo] = [useEdits(), useSlip(), useUndo()];
    await slip.set('/final/seed', 7);
    await edits.revert(1);
    await nextTick();
    expect(undo.past.map((s) => s.name)).to.deep.equal(['return to revision 1']);
    await undo.undo();
    expect(kept.revision, 'a return makes a revision, and so does the way back').to.equal(3);
  });
});
