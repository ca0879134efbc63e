// Two proofs of one shot against each other.
import { Router, type Request, type Response } from 'express';
import { scaleRegion } from '@dusting/core/image';
import { listChanges, patchShot } from '@dusting/core/scene';
import { getPicture, listProofs } from '../store/proofStore.ts';
import { getRevision, getShot, setReference } from '../store/shotStore.ts';
import { BadRequest } from '../errors.ts';
import { parse, ReferenceBody } from './body.ts';
import { answer } from './answer.ts';
import type { Comparison } from '../answers/index.ts';
import { regionOf, whole, type Context } from './context.ts';
import { sendHalves } from './sendHalves.ts';

export function compareRoutes({ db, pictures }: Context): Router {
  const router = Router();
  const both = async (request: Request) => {
    const before = await getPicture(db, whole(request, 'before', 'query'));
    const after = await getPicture(db, whole(request, 'after', 'query'));
    if (before.proof.shot !== after.proof.shot) throw new BadRequest('Only proofs of one shot can be compared.');
    const { document } = await getShot(db, before.proof.shot);
    const layer = typeof request.query.layer === 'string' ? request.query.layer : undefined;
    return { before, after, layer, stops: document.noise.stops };
  };

  /** What differs between the settings of two proofs, what each gives for the region, and how far a layer is apart there. */
  router.get('/compare', async (request, response) => {
    const { before, after, layer, stops } = await both(request);
    const region = regionOf(request) ?? after.proof.region;
    const documents = await Promise.all(
      [before, after].map(async ({ proof }) =>
        patchShot(await getRevision(db, proof.shot, proof.revision), proof.patch),
      ),
    );
    const read = ({ proof, source }: typeof after) => pictures.region(source, scaleRegion(region, after.proof.settings, proof.settings), stops); // prettier-ignore
    answer<Comparison>(response, {
      region,
      before: await read(before),
      after: await read(after),
      differences: await pictures.differences(before.source, after.source, region, stops, layer),
      changes: listChanges(documents[0], documents[1]),
    });
  });

  /** Makes a finished proof the reference of its shot, or takes the reference away. */
  router.put('/shots/:shot/reference', async (request, response) => {
    const shot = whole(request, 'shot');
    const { proof } = parse(ReferenceBody, request.body);
    if (proof !== null && (await getPicture(db, proof)).proof.shot !== shot)
      throw new BadRequest('That proof belongs to another shot.');
    await setReference(db, shot, proof);
    response.json({});
  });

  /** How far every finished proof is from the reference, over all pixels that they share. */
  router.get('/shots/:shot/apart', async (request, response) => {
    const { id, reference, document } = await getShot(db, whole(request, 'shot'));
    if (reference === null) return void response.json([]);
    const { source } = await getPicture(db, reference);
    const others = (await listProofs(db, id)).filter((p) => p.state === 'done' && p.id !== reference);
    const found = [];
    for (const { id: proof, region } of others) {
      const other = await getPicture(db, proof);
      const differences = await pictures.differences(source, other.source, region, document.noise.stops);
      if (differences) found.push({ proof, ...differences });
    }
    response.json(found);
  });

  /** One measure of what is seen, pixel by pixel: kind is deltaE or similarity. */
  router.get('/compare/map/:kind', async (request: Request<{ kind: string }>, response: Response) => {
    const { kind } = request.params;
    if (kind !== 'deltaE' && kind !== 'similarity') throw new BadRequest('There are maps of deltaE and of similarity.');
    const { before, after, layer, stops } = await both(request as Request);
    const map = await pictures.differenceMap(kind, before.source, after.source, stops, layer);
    if (!map) throw new BadRequest('The two share no pixel, or one of them has no colours in this layer.');
    sendHalves(response, map.width, map.height, map.channels, map.halves);
  });

  return router;
}
