import { Router } from 'express';
import { DIAGNOSES } from '@dusting/core/diagnose';
import { intersectRegions } from '@dusting/core/image';
import { addDefect, addDiagnosis, changeDefect, findDiagnosis, getDefect } from '../store/defectStore.ts';
import { getPicture, getProof } from '../store/proofStore.ts';
import { getShot } from '../store/shotStore.ts';
import { BadRequest, Missing } from '../errors.ts';
import { DefectBody, DefectChange, DiagnoseBody, parse } from './body.ts';
import { whole, type Context } from './context.ts';

export function defectRoutes({ db, pictures }: Context): Router {
  const router = Router();

  router.post('/shots/:shot/defects', async (request, response) => {
    const body = parse(DefectBody, request.body);
    const proof = await getProof(db, body.proof);
    const shot = whole(request, 'shot');
    if (proof.shot !== shot) throw new BadRequest('That proof belongs to another shot.');
    const region = intersectRegions(body.region, proof.region);
    if (!region) throw new BadRequest('The region lies outside the picture.');
    const { width, height } = proof.settings;
    const defect = { shot, kind: body.kind, region, frame: { width, height }, note: body.note ?? '', seenOn: proof.id };
    response.status(201).json(await addDefect(db, defect));
  });

  router.patch('/defects/:defect', async (request, response) => {
    response.json(await changeDefect(db, whole(request, 'defect'), parse(DefectChange, request.body)));
  });

  /** Explains a defect on a proof; what was found before on the same proof is returned as it was. */
  router.post('/defects/:defect/diagnosis', async (request, response) => {
    const defect = await getDefect(db, whole(request, 'defect'));
    const { proof, source } = await getPicture(db, parse(DiagnoseBody, request.body).proof);
    if (proof.shot !== defect.shot) throw new BadRequest('That proof belongs to another shot.');
    if (!DIAGNOSES[defect.kind])
      throw new Missing(
        `Defects of the kind "${defect.kind}" cannot be explained yet. Read the limits and layers of the region instead.`,
      );
    const known = await findDiagnosis(db, defect.id, proof.id);
    if (known) return void response.json(known);
    const { document } = await getShot(db, defect.shot);
    const region = scaleRegion(defect.region, defect.frame, proof.settings);
    if (!intersectRegions(region, proof.region))
      throw new BadRequest('This proof does not show the region of the defect.');
    const diagnosis = await pictures.diagnose(defect.kind, source, {
      region,
      settings: proof.settings,
      use: proof.use,
      noiseLimit: document.noise.limit,
      stops: document.noise.stops,
      seconds: proof.seconds ?? 0,
    });
    await addDiagnosis(db, defect, proof.id, diagnosis);
    response.json(diagnosis);
  });

  return router;
}

type Size = { width: number; height: number };

/** The same part of a frame of another size. */
function scaleRegion(region: { x: number; y: number } & Size, from: Size, to: Size) {
  const sx = to.width / from.width;
  const sy = to.height / from.height;
  const x = Math.floor(region.x * sx);
  const y = Math.floor(region.y * sy);
  return {
    x,
    y,
    width: Math.max(1, Math.min(to.width - x, Math.round(region.width * sx))),
    height: Math.max(1, Math.min(to.height - y, Math.round(region.height * sy))),
  };
}
