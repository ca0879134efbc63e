import { Router } from 'express';
import { renderName } from '@dusting/core/diagnose';
import { intersectRegions } from '@dusting/core/image';
import { COST_LAYERS, type CostLayer, type CostShare } from '@dusting/core/render';
import { coarseRegion } from '../node/coarse.ts';
import { loadBlob } from '../store/blobStore.ts';
import { cancelProof, changeProof, getCoarse, getPicture, getProof } from '../store/proofStore.ts';
import { sendRender } from '../rendering/sendRender.ts';
import { removeProof } from '../store/removal.ts';
import { getShot } from '../store/shotStore.ts';
import { BadRequest, Missing } from '../errors.ts';
import { DecisionBody, parse, ProofBody, ProofChange } from './body.ts';
import { decideTrial, takeDecisionBack } from '../store/trialStore.ts';
import { answer } from './answer.ts';
import type { LookShare, Pixel, ProofRow, RegionReading } from '../answers/index.ts';
import { whole, windowOf, type Context } from './context.ts';
import { sendHalves } from './sendHalves.ts';

export function proofRoutes({ db, pictures, progress }: Context): Router {
  const router = Router();
  /** Sends a proof of the present revision, or a trial or a pilot of the slip, to the render nodes. */
  router.post('/shots/:shot/proofs', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const wish = parse(ProofBody, request.body);
    if (shot.mapping) throw new BadRequest('This shot came as frames: there is no scene to render.');
    const id = await sendRender(db, shot, wish);
    answer<ProofRow>(response, await getProof(db, id), 201);
  });

  router.post('/proofs/:proof/cancel', async (request, response) => {
    await cancelProof(db, whole(request, 'proof'));
    response.json({});
  });

  router.patch('/proofs/:proof', async (request, response) => {
    await changeProof(db, whole(request, 'proof'), parse(ProofChange, request.body));
    response.json({});
  });

  router.delete('/proofs/:proof', async (request, response) => {
    response.json({ freed: await removeProof(db, whole(request, 'proof')) });
  });

  /** The picture of a render under way; nothing (204) until there is something of it. */
  router.get('/proofs/:proof/picture', async (request, response) => {
    const proof = await getProof(db, whole(request, 'proof'));
    const halves = await progress.read(proof);
    if (!halves) return void response.status(204).end();
    sendHalves(response, proof.region.width, proof.region.height, ['R', 'G', 'B'], halves);
  });

  /** A small picture of any proof that has one. */
  router.get('/proofs/:proof/thumb', async (request, response) => {
    const proof = await getProof(db, whole(request, 'proof'));
    const coarse = await getCoarse(db, proof.id);
    if (!coarse?.length) throw new Missing('This proof has no picture yet.');
    const { width, height } = coarseRegion(proof.region);
    sendHalves(response, width, height, ['R', 'G', 'B'], new Uint16Array(coarse.buffer));
  });

  router.get('/proofs/:proof/layers', async (request, response) => {
    const { source } = await getPicture(db, whole(request, 'proof'));
    const layers = await pictures.layers(source);
    response.json(layers.map(([name, channels]) => ({ name, channels })));
  });

  router.get('/proofs/:proof/layers/:layer', async (request, response) => {
    const { source } = await getPicture(db, whole(request, 'proof'));
    const layer = await pictures.layer(source, request.params.layer);
    if (!layer) throw new Missing(`The proof has no layer ${request.params.layer}.`);
    // proofs never change; what the layers of frames are may be chosen again
    if (!source.mapping) response.set('cache-control', 'private, max-age=31536000, immutable');
    sendHalves(response, layer.width, layer.height, layer.channels, layer.halves);
  });

  router.get('/proofs/:proof/look-share', async (request, response) => {
    const { source } = await getPicture(db, whole(request, 'proof'));
    answer<LookShare>(response, { share: await pictures.lookShare(source) });
  });

  router.get('/proofs/:proof/pixel', async (request, response) => {
    const { source } = await getPicture(db, whole(request, 'proof'));
    const [x, y] = [whole(request, 'x', 'query'), whole(request, 'y', 'query')];
    const reading = await pictures.pixel(source, x, y);
    if (!reading) throw new Missing('There is no such pixel in this proof.');
    answer<Pixel>(response, { layers: reading, names: await pictures.namesAt(source, x, y) });
  });

  router.get('/proofs/:proof/region', async (request, response) => {
    const { proof, source } = await getPicture(db, whole(request, 'proof'));
    const { document } = await getShot(db, proof.shot);
    const [x, y, width, height] = ['x', 'y', 'width', 'height'].map((k) => whole(request, k, 'query'));
    if (!intersectRegions({ x, y, width, height }, proof.region))
      throw new BadRequest('The region lies outside this proof.');
    answer<RegionReading>(response, await pictures.region(source, { x, y, width, height }, document.noise.stops));
  });

  /** Which pixels take most of the time, or of the samples, and what they show. */
  router.get('/proofs/:proof/cost/:layer', async (request, response) => {
    const { source } = await getPicture(db, whole(request, 'proof'));
    const { layer } = request.params;
    const cost = Object.hasOwn(COST_LAYERS, layer) ? await pictures.costShare(source, layer as CostLayer) : null;
    if (!cost) throw new Missing(`The proof does not say what its pixels cost in ${layer}.`);
    answer<CostShare>(response, cost);
  });

  router.get('/proofs/:proof/file', async (request, response) => {
    const { proof, source } = await getPicture(db, whole(request, 'proof'));
    const shot = await getShot(db, proof.shot);
    const name = `${shot.name}-${renderName(proof)}.exr`.replace(/[^\w.-]+/g, '_');
    response.set('content-type', 'image/x-exr').set('content-disposition', `attachment; filename="${name}"`);
    response.send(Buffer.from(await loadBlob(db, source.blob)));
  });

  /** Keeps a trial's changes as the next revision, or drops them. */
  router.post('/proofs/:proof/decision', async (request, response) => {
    const { keep, reason, edits } = parse(DecisionBody, request.body);
    if (keep && !reason.trim()) throw new BadRequest('Write down why the change is kept.');
    const decision = { keep, reason: reason.trim() };
    const editor = { window: windowOf(request), edits };
    response.json({ revision: await decideTrial(db, whole(request, 'proof'), decision, editor) });
  });

  router.delete('/proofs/:proof/decision', async (request, response) => {
    await takeDecisionBack(db, whole(request, 'proof'));
    response.status(204).end();
  });

  return router;
}
