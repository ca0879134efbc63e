import { Router } from 'express';
import { isFrameFile } from '@dusting/core/frames';
import { differenceOf, importShot, isSceneFile, patchShot } from '@dusting/core/scene';
import { listDefects } from '../store/defectStore.ts';
import { progressOf, getPicture, listFinished, listProofs } from '../store/proofStore.ts';
import { addRevision, addShot, getRevision, getShot, listRevisions, listShots, saveSlip } from '../store/shotStore.ts';
import { removeShot } from '../store/removal.ts';
import { BadRequest } from '../errors.ts';
import { parse, PredictBody, RevertBody, SlipBody } from './body.ts';
import { whole, type Context } from './context.ts';
import { addFrameShot } from '../store/frameStore.ts';
import { takeFrames } from './frameRoutes.ts';
import { filesOf, upload } from './upload.ts';

export function shotRoutes(context: Context): Router {
  const { db, pictures } = context;
  const router = Router();

  router.get('/shots', async (_request, response) => {
    const all = await listShots(db);
    const finished = await listFinished(db);
    const defects = await listDefects(
      db,
      all.map((s) => s.id),
    );
    response.json(
      all.map(({ document, ...shot }) => ({
        id: shot.id,
        name: shot.name,
        revision: shot.revision,
        noise: document.noise,
        final: document.final,
        frames: shot.mapping !== null,
        lastProof: finished.find((p) => p.shot === shot.id) ?? null,
        proofs: finished.filter((p) => p.shot === shot.id).length,
        defects: defects
          .filter((d) => d.shot === shot.id && (d.state === 'open' || d.state === 'explained'))
          .map(({ kind, number, state }) => ({ kind, number, state })),
      })),
    );
  });

  /** A shot of a scene with its files, or of frames that another renderer wrote. */
  router.post('/shots', upload.array('files'), async (request, response) => {
    const files = filesOf(request);
    if (files.length === 0)
      throw new BadRequest('No file arrived: choose a scene (.glb, or .gltf or .obj with its files), or frames.');
    const given = request.body.name;
    const name = typeof given === 'string' && given.trim() ? given.trim() : undefined;
    if (!files.some((f) => isSceneFile(f.name)) && files.some((f) => isFrameFile(f.name))) {
      const { frames, mapping, log } = await takeFrames(context, files, {});
      const title = name ?? files[0].name.replace(/\.[^.]*$/, '');
      return void response
        .status(201)
        .json({ id: await addFrameShot(db, title, mapping, frames, log), unsupported: [] });
    }
    const imported = await importShot(files, name);
    if (name) imported.document.name = name;
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
    response.json({
      ...shot,
      revisions: await listRevisions(db, shot.id),
      defects: await listDefects(db, [shot.id]),
      proofs: proofs.map((p) => ({ ...p, progress: p.state === 'done' ? 1 : (progress.get(p.id) ?? 0) })),
    });
  });

  router.delete('/shots/:shot', async (request, response) => {
    response.json({ freed: await removeShot(db, whole(request, 'shot')) });
  });

  router.put('/shots/:shot/slip', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const { patch } = parse(SlipBody, request.body);
    patchShot(shot.document, patch as never); // refuses what does not fit
    await saveSlip(db, shot.id, patch as never);
    response.json({});
  });

  /** What the pending changes will cost, from a proof of this shot. */
  router.post('/shots/:shot/prediction', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const { use, proof: proofId, region } = parse(PredictBody, request.body);
    const { proof, source } = await getPicture(db, proofId);
    if (proof.shot !== shot.id) throw new BadRequest('That proof does not belong to this shot.');
    const after = patchShot(shot.document, shot.slip)[use];
    response.json(
      await pictures.predict(source, proof.settings, after, proof.seconds!, region, shot.document.noise.stops),
    );
  });

  /** Returns to an earlier revision, by a new one. */
  router.post('/shots/:shot/revert', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const { revision } = parse(RevertBody, request.body);
    const patch = differenceOf(shot.document, await getRevision(db, shot.id, revision));
    if (patch.length === 0) throw new BadRequest('That revision is the same as the present one.');
    response.status(201).json({ revision: await addRevision(db, shot.id, patch, `Back to revision ${revision}`) });
  });

  return router;
}
