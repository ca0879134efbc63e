import { Router } from 'express';
import { intersectRegions } from '@dusting/core/image';
import { referenceTrial, sweepPatches } from '@dusting/core/plan';
import { checkRenderSize, frameOf, planChunks, raysIn } from '@dusting/core/render';
import { applyPatch, patchShot } from '@dusting/core/scene';
import { addProof, getPicture } from '../store/proofStore.ts';
import { getRevision, getShot } from '../store/shotStore.ts';
import { addSweep, cancelSweep, finishedTrials, removeSweep } from '../store/sweepStore.ts';
import { BadRequest } from '../errors.ts';
import { parse, SweepBody } from './body.ts';
import { whole, type Context } from './context.ts';

export function sweepRoutes({ db, pictures }: Context): Router {
  const router = Router();

  /** Sends a row of trials over the slip to the render nodes: all of them are checked before the first one starts. */
  router.post('/shots/:shot/sweeps', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const { axes, region: asked, use } = parse(SweepBody, request.body);
    if (shot.mapping) throw new BadRequest('This shot came as frames: there is no scene to render.');
    const document = patchShot(shot.document, shot.slip);
    const trials = sweepPatches(axes, use).map((lines) => {
      const settings = patchShot(document, lines, 'the sweep')[use];
      const region = asked ? intersectRegions(asked, frameOf(settings)) : frameOf(settings);
      if (!region) throw new BadRequest('The region lies outside the frame.');
      checkRenderSize(region);
      return { patch: [...shot.slip, ...lines], settings, region };
    });
    const id = await addSweep(db, { shot: shot.id, use, region: trials[0].region, axes });
    for (const trial of trials) {
      const proof = { ...trial, shot: shot.id, kind: 'diagnostic' as const, purpose: 'sweep' as const, revision: shot.revision, before: null, use, predicted: null, sweep: id }; // prettier-ignore
      await addProof(db, proof, planChunks(trial.region, trial.settings));
    }
    response.status(201).json({ id });
  });

  router.post('/sweeps/:sweep/cancel', async (request, response) => {
    await cancelSweep(db, whole(request, 'sweep'));
    response.json({});
  });

  /** How far the finished trials are from the one that they are held against, as displayed. */
  router.get('/sweeps/:sweep/apart', async (request, response) => {
    const { shot, axes, trials } = await finishedTrials(db, whole(request, 'sweep'));
    const [first] = trials;
    if (!first) return void response.json({ reference: null, apart: [] });
    const document = applyPatch(await getRevision(db, shot, first.revision), first.patch.slice(0, -axes.length));
    const counted = trials.map(({ id, patch, statistics }) => ({
      id,
      patch,
      rays: statistics ? raysIn(statistics) : 0,
    }));
    const reference = referenceTrial(counted, axes, document);
    if (!reference) return void response.json({ reference: null, apart: [] });
    const { source } = await getPicture(db, reference.id);
    const apart: { proof: number; deltaE: number }[] = [];
    for (const { id, region } of trials) {
      const other = await getPicture(db, id);
      const found = await pictures.differences(source, other.source, region, document.noise.stops);
      if (found) apart.push({ proof: id, deltaE: found.deltaE });
    }
    response.json({ reference: reference.id, apart });
  });

  router.delete('/sweeps/:sweep', async (request, response) => {
    response.json({ freed: await removeSweep(db, whole(request, 'sweep')) });
  });

  return router;
}
