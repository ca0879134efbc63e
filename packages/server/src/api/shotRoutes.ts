import { Router } from 'express';
import { RENDER_PURPOSES } from '@dusting/core/diagnose';
import { isFrameFile } from '@dusting/core/frames';
import {
  applyPatch,
  changesSeen,
  changeWords,
  differenceOf,
  isSceneFile,
  patchShot,
  type ShotDocument,
} from '@dusting/core/scene';
import { listDefects } from '../store/defectStore.ts';
import { listHarmless, listLogPatterns } from '../store/logStore.ts';
import { progressOf, listFinished, listProofs, listUnderWay } from '../store/proofStore.ts';
import {
  addRevision,
  addShot,
  getRevision,
  getShot,
  listRevisions,
  listShots,
  saveRevisionNote,
  saveSlip,
} from '../store/shotStore.ts';
import { listSweeps } from '../store/sweepStore.ts';
import { removeShot } from '../store/removal.ts';
import { BadRequest } from '../errors.ts';
import { KeepBody, NoteBody, parse, RevertBody, ShotName, SlipBody } from './body.ts';
import { answer } from './answer.ts';
import type { Shot, ShotRow } from '../answers/index.ts';
import { goneSignal, reporting, whole, windowOf, type Context } from './context.ts';
import { addFrameShot } from '../store/frameStore.ts';
import { takeFrames } from './frameRoutes.ts';
import { filesOf, takeFiles } from './upload.ts';

export function shotRoutes(context: Context): Router {
  const { db } = context;
  const router = Router();

  router.get('/shots', async (_request, response) => {
    const all = await listShots(db);
    const finished = await listFinished(db);
    const underWay = await listUnderWay(db);
    const defects = await listDefects(
      db,
      all.map((s) => s.id),
    );
    answer<ShotRow[]>(
      response,
      all.map(({ document, ...shot }) => ({
        id: shot.id,
        name: shot.name,
        revision: shot.revision,
        noise: document.noise,
        final: document.final,
        frames: shot.mapping !== null,
        lastProof: finished.find((p) => p.shot === shot.id) ?? null,
        underWay: underWay.get(shot.id) ?? null,
        proofs: finished.filter((p) => p.shot === shot.id).length,
        defects: defects
          .filter((d) => d.shot === shot.id && (d.state === 'open' || d.state === 'explained'))
          .map(({ kind, number, state }) => ({ kind, number, state })),
      })),
    );
  });

  /** A shot of a scene with its files, or of frames that another renderer wrote. */
  router.post('/shots', takeFiles, async (request, response) => {
    const files = filesOf(request);
    if (files.length === 0)
      throw new BadRequest('No file arrived: choose a scene (.glb, or .gltf or .obj with its files), or frames.');
    const given = request.body.name;
    const name = typeof given === 'string' && given.trim() ? parse(ShotName, given.trim()) : undefined;
    const gone = goneSignal(response);
    const report = reporting(context, request);
    if (!files.some((f) => isSceneFile(f.name)) && files.some((f) => isFrameFile(f.name))) {
      const { frames, mapping, log } = await takeFrames(context, files, {}, gone, report);
      gone.throwIfAborted();
      const title = name ?? files[0].name.replace(/\.[^.]*$/, '');
      return void response
        .status(201)
        .json({ id: await addFrameShot(db, title, mapping, frames, log), unsupported: [] });
    }
    const imported = await context.importer.read(files, name, gone, report);
    if (name) imported.document.name = name;
    gone.throwIfAborted();
    const id = await addShot(db, imported);
    response.status(201).json({ id, unsupported: imported.unsupported });
  });

  router.get('/shots/:shot', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const proofs = await listProofs(db, shot.id);
    const progress = await progressOf(
      db,
      proofs.filter((p) => p.state !== 'done' && p.state !== 'failed').map((p) => p.id),
    );
    const all = proofs.map((p) => ({ ...p, progress: p.state === 'done' ? 1 : (progress.get(p.id) ?? 0) }));
    const swept = await listSweeps(db, shot.id);
    answer<Shot>(response, {
      ...shot,
      revisions: await listRevisions(db, shot.id),
      defects: await listDefects(db, [shot.id]),
      harmless: await listHarmless(db, shot.id),
      logPatterns: await listLogPatterns(db),
      proofs: all.filter(({ purpose }) => !purpose || RENDER_PURPOSES[purpose].onShelf),
      sweeps: swept.map((sweep) => ({ ...sweep, trials: all.filter((p) => p.sweep === sweep.id) })),
    });
  });

  router.delete('/shots/:shot', async (request, response) => {
    response.json({ freed: await removeShot(db, whole(request, 'shot')) });
  });

  router.put('/shots/:shot/slip', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const { patch, edits } = parse(SlipBody, request.body);
    patchShot(shot.document, patch as never); // refuses what does not fit
    response.json({ edits: await saveSlip(db, shot.id, patch as never, { window: windowOf(request), edits }) });
  });

  /** Keeps the slip as the next revision. */
  router.post('/shots/:shot/revisions', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const { edits, reason } = parse(KeepBody, request.body);
    if (shot.slip.length === 0) throw new BadRequest('The change slip is empty: there is nothing to keep.');
    const editor = { window: windowOf(request), edits };
    response.status(201).json({ revision: await addRevision(db, shot.id, shot.slip, reason.trim(), editor) });
  });

  /** A revision as it was, whole. */
  router.get('/shots/:shot/revisions/:revision', async (request, response) => {
    response.json(await getRevision(db, whole(request, 'shot'), whole(request, 'revision')));
  });

  router.patch('/shots/:shot/revisions/:revision', async (request, response) => {
    const { note, was } = parse(NoteBody, request.body);
    await saveRevisionNote(db, whole(request, 'shot'), whole(request, 'revision'), note, was);
    response.json({});
  });

  /** What differs between two revisions, in words. */
  router.get('/shots/:shot/changes', async (request, response) => {
    const shot = whole(request, 'shot');
    const numbers = ['from', 'to'].map((k) => whole(request, k, 'query'));
    const [from, to] = await Promise.all(numbers.map((number) => getRevision(db, shot, number)));
    response.json(changeWords(from, to));
  });

  /** What has changed since each proof, for those that show something else than the present revision. */
  router.get('/shots/:shot/outdated', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const revisions = new Map<number, Promise<ShotDocument>>();
    const outdated: { proof: number; changes: string[] }[] = [];
    for (const { id, revision, patch, purpose, use } of shot.mapping ? [] : await listProofs(db, shot.id)) {
      if (purpose && !RENDER_PURPOSES[purpose].onShelf) continue; // their values differ on purpose
      if (!revisions.has(revision)) revisions.set(revision, getRevision(db, shot.id, revision));
      const before = await revisions.get(revision)!;
      // what a trial changes is pending, or was kept: only what was kept besides makes it out of date
      if (changesSeen(applyPatch(before, patch), shot.document, use).length === 0) continue;
      const changes = changesSeen(before, shot.document, use);
      if (changes.length > 0) outdated.push({ proof: id, changes });
    }
    response.json(outdated);
  });

  /** Returns to an earlier revision, by a new one. */
  router.post('/shots/:shot/revert', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const { revision, edits } = parse(RevertBody, request.body);
    const patch = differenceOf(shot.document, await getRevision(db, shot.id, revision));
    if (patch.length === 0) throw new BadRequest('That revision is the same as the present one.');
    const editor = { window: windowOf(request), edits };
    const number = await addRevision(db, shot.id, patch, `Back to revision ${revision}`, editor);
    response.status(201).json({ revision: number });
  });

  return router;
}
