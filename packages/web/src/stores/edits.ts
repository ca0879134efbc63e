// What the user changes about a shot besides its slip. Each edit can be taken back and made again.
import { defineStore } from 'pinia';
import type { DefectKind } from '@dusting/core/diagnose';
import { intersectRegions } from '@dusting/core/image';
import type { LayerMapping, LogPattern } from '@dusting/core/frames';
import { api, type Defect, type Proof, type Shot } from '../api.ts';
import { DEFECT_STATES, proofName } from '../words.ts';
import { useBench } from './bench.ts';
import { useUndo } from './undo.ts';

export const useEdits = defineStore('edits', () => {
  const bench = useBench();
  const undo = useUndo();

  /** Makes an edit and remembers it. False where the server refused it: then nothing is remembered. */
  async function edit(name: string, forth: () => Promise<unknown>, back: () => Promise<unknown>): Promise<boolean> {
    const made = (way: () => Promise<unknown>) => async () => {
      const done = await bench.act(() => way().then(() => true));
      await bench.load(() => bench.refresh());
      return done === true;
    };
    const step = { name, forth: made(forth), back: made(back) };
    if (!(await step.forth())) return false;
    undo.did(step);
    return true;
  }

  function changeProof(proof: Proof, change: Partial<Pick<Proof, 'note' | 'pinned'>>) {
    const { note, pinned } = proof;
    const old: { note?: string; pinned?: boolean } = change.note === undefined ? { pinned } : { note };
    const what = change.note === undefined ? (change.pinned ? 'pinning' : 'unpinning') : 'note';
    return edit(
      `${what} of ${proofName(proof)}`,
      () => api.changeProof(proof.id, { ...change, was: old.note }),
      () => api.changeProof(proof.id, { ...old, was: change.note }),
    );
  }

  function setReference(proof: number | null) {
    const { id, reference } = bench.shot!;
    return edit(
      'choice of the reference',
      () => api.setReference(id, proof),
      () => api.setReference(id, reference),
    );
  }

  async function markDefect(kind: DefectKind) {
    const { shot, region } = bench;
    // a trial shows a part of the frame: what lies beside it is marked on the newest proof that shows it
    const shows = (proof: Proof) => region && intersectRegions(proof.region, region);
    const proof =
      bench.proof && shows(bench.proof) ? bench.proof : shot?.proofs.findLast((p) => p.state === 'done' && shows(p));
    if (!region || !proof) return;
    let added: Defect | null = null;
    const marked = await edit(
      'marking of a defect',
      async () => {
        if (added) await api.changeDefect(added.id, { removed: false });
        else added = await api.addDefect(shot!.id, kind, region, proof.id);
      },
      () => remove(added!.id),
    );
    if (!marked) return;
    if (proof.id !== bench.proofId) await bench.show(proof.id);
    bench.selectDefect(added!.id);
  }

  function remove(id: number) {
    if (bench.defectId === id) bench.selectDefect(null);
    return api.changeDefect(id, { removed: true });
  }

  function removeDefect({ id, number }: Defect) {
    return edit(
      `removal of D${number}`,
      () => remove(id),
      () => api.changeDefect(id, { removed: false }),
    );
  }

  function setDefectState({ id, number, state: old }: Defect, state: Defect['state']) {
    return edit(
      `D${number} ${DEFECT_STATES[state].name}`,
      () => api.changeDefect(id, { state }),
      () => api.changeDefect(id, { state: old }),
    );
  }

  /** Names the object that is expected to be at work. @param object its id; null takes the name back */
  function expectObject({ id, number, expected: old }: Defect, object: string | null) {
    return edit(
      `the object of D${number}`,
      () => api.changeDefect(id, { expected: object }),
      () => api.changeDefect(id, { expected: old }),
    );
  }

  /** Says what the layers of the frames are. */
  function saveMapping(mapping: LayerMapping) {
    const { id, mapping: old } = bench.shot!;
    const save = async (next: LayerMapping) => {
      await api.saveMapping(id, next, bench.shot!.mapping!);
      if (bench.proofId !== null) await bench.show(bench.proofId);
    };
    return edit('what the layers are', () => save(mapping), () => save(old!)); // prettier-ignore
  }

  /** Keeps the change of a trial as a revision, or drops it. */
  function decide(trial: Proof, keep: boolean, reason: string) {
    const { id, revision: old } = bench.shot!;
    return edit(
      `${keep ? 'keeping' : 'dropping'} ${proofName(trial)}`,
      () => bench.settled().then((edits) => api.decide(trial.id, keep, reason, edits)),
      async () => {
        await api.undecide(trial.id);
        if (!keep) return;
        await api.revert(id, old, await bench.settled());
        await bench.refresh(); // the slip is saved over what the server has now
        await bench.saveSlip(trial.patch);
      },
    );
  }

  /** Keeps the slip as the next revision, without a trial. */
  function keepSlip(reason: string) {
    const { id, revision: old, slip } = bench.shot!;
    return edit(
      'keeping the slip',
      async () => {
        if (bench.shot!.slip.length === 0) await bench.saveSlip(slip);
        if (!(await bench.keepSlip(reason))) throw new Error(bench.error);
      },
      async () => {
        await api.revert(id, old, await bench.settled());
        await bench.refresh();
        await bench.saveSlip(slip);
      },
    );
  }

  function noteRevision(number: number, note: string) {
    const { id, revisions } = bench.shot!;
    const old = revisions.find((r) => r.number === number)!.note;
    return edit(
      `note of revision ${number}`,
      () => api.noteRevision(id, number, note, old),
      () => api.noteRevision(id, number, old, note),
    );
  }

  /** Says that a message of the log is harmless, in this shot or in the house. */
  function markHarmless(key: string, reason: string, house: boolean) {
    const { id } = bench.shot!;
    let marked = 0;
    return edit(
      'a harmless message',
      async () => (marked = (await api.addHarmless(id, { key, reason, house })).id),
      () => api.removeHarmless(id, marked),
    );
  }
  function unmarkHarmless({ id: mark, key, reason, shot: of }: Shot['harmless'][number]) {
    const { id } = bench.shot!;
    let now = mark;
    return edit(
      'a message that counts',
      () => api.removeHarmless(id, now),
      async () => (now = (await api.addHarmless(id, { key, reason, house: of === null })).id),
    );
  }

  /** How the logs of the house speak. */
  function addLogPattern(pattern: LogPattern) {
    const { id } = bench.shot!;
    let added = 0;
    return edit(
      'a pattern for logs',
      async () => (added = (await api.addLogPattern(id, pattern)).id),
      () => api.removeLogPattern(id, added),
    );
  }
  function removeLogPattern({ expression, fact, id: old }: Shot['logPatterns'][number]) {
    const { id } = bench.shot!;
    let now = old;
    return edit(
      'a pattern that was removed',
      () => api.removeLogPattern(id, now),
      async () => (now = (await api.addLogPattern(id, { fact, expression })).id),
    );
  }

  function revert(revision: number) {
    const { id, revision: old } = bench.shot!;
    return edit(
      `return to revision ${revision}`,
      () => bench.settled().then((edits) => api.revert(id, revision, edits)),
      () => bench.settled().then((edits) => api.revert(id, old, edits)),
    );
  }

  return {
    changeProof,
    setReference,
    markDefect,
    removeDefect,
    setDefectState,
    expectObject,
    saveMapping,
    decide,
    keepSlip,
    noteRevision,
    markHarmless,
    unmarkHarmless,
    addLogPattern,
    removeLogPattern,
    revert,
  };
});
