import { Router } from 'express';
import { changedSince, DIAGNOSES, stillShown, type DiagnosisKey, type Measured } from '@dusting/core/diagnose';
import { intersectRegions, scaleRegion } from '@dusting/core/image';
import type { Database } from '../db/connect.ts';
import { addDefect, changeDefect, getDefect, type StoredDefect } from '../store/defectStore.ts';
import { addDiagnosis, findDiagnosis, getDiagnosis, type StoredDiagnosis } from '../store/diagnosisStore.ts';
import { getPicture, getProof } from '../store/proofStore.ts';
import { getShot } from '../store/shotStore.ts';
import { BadRequest, Missing } from '../errors.ts';
import { DefectBody, DefectChange, DiagnoseBody, parse } from './body.ts';
import { answer } from './answer.ts';
import type { Defect, DiagnosisView } from '../answers/index.ts';
import { whole, type Context } from './context.ts';

export function defectRoutes({ db, diagnosing }: Context): Router {
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
    answer<Defect>(response, await addDefect(db, defect), 201);
  });

  router.patch('/defects/:defect', async (request, response) => {
    answer<Defect>(response, await changeDefect(db, whole(request, 'defect'), parse(DefectChange, request.body)));
  });

  /** Explains a defect on a proof. What was found, or is being found, is returned, unless it is to be done again. */
  router.post('/defects/:defect/diagnosis', async (request, response) => {
    const { again, proof: proofId } = parse(DiagnoseBody, request.body);
    const { defect, key } = await keyOf(db, whole(request, 'defect'), proofId);
    const known = await findDiagnosis(db, defect.id, proofId);
    if (known?.state === 'running' || (known?.state === 'done' && !again)) return answer<DiagnosisView>(response, shown(known, key)); // prettier-ignore
    const added = await addDiagnosis(db, defect.id, key);
    await diagnosing.start(added.id);
    answer<DiagnosisView>(response, shown(added, key), 202);
  });

  /** How far it is, or what it found; null where nobody asked. */
  router.get('/defects/:defect/diagnosis', async (request, response) => {
    const proof = whole(request, 'proof', 'query');
    const { defect, key } = await keyOf(db, whole(request, 'defect'), proof);
    const known = await findDiagnosis(db, defect.id, proof);
    answer<DiagnosisView | null>(response, known && shown(known, key));
  });

  router.post('/diagnoses/:diagnosis/cancel', async (request, response) => {
    await diagnosing.cancel((await getDiagnosis(db, whole(request, 'diagnosis'))).id);
    response.json({});
  });

  /** What became of the measures that its remedies predict, on a trial. */
  router.get('/diagnoses/:diagnosis/measured', async (request, response) => {
    const { defect, key } = await getDiagnosis(db, whole(request, 'diagnosis'));
    const { proof } = await getPicture(db, whole(request, 'proof', 'query'));
    const { shot } = await getDefect(db, defect);
    if (proof.shot !== shot) throw new BadRequest('That proof belongs to another shot.');
    const { document } = await getShot(db, shot);
    answer<Measured>(response, await diagnosing.measure(key.kind, proof.id, key.region, document.noise.stops));
  });

  return router;
}

/** What a diagnosis of a defect on a proof would be made from now. @throws BadRequest, Missing */
async function keyOf(
  db: Database,
  defectId: number,
  proofId: number,
): Promise<{ defect: StoredDefect; key: DiagnosisKey }> {
  const defect = await getDefect(db, defectId);
  const { proof } = await getPicture(db, proofId);
  if (proof.shot !== defect.shot) throw new BadRequest('That proof belongs to another shot.');
  const module = DIAGNOSES[defect.kind];
  if (!module)
    throw new Missing(
      `Defects of the kind "${defect.kind}" cannot be explained yet. Read the limits and layers of the region instead.`,
    );
  const region = scaleRegion(defect.region, defect.frame, proof.settings);
  if (!intersectRegions(region, proof.region))
    throw new BadRequest('This proof does not show the region of the defect.');
  const { document, revision } = await getShot(db, defect.shot);
  const { limit, stops } = document.noise;
  const key = {
    kind: defect.kind,
    version: module.version,
    proof: proof.id,
    region,
    expected: defect.expected,
    noise: { limit, stops },
    revision,
  };
  return { defect, key };
}

/** @param now what it would be made from */
function shown({ error, id, key, progress, result, stage, state }: StoredDiagnosis, now: DiagnosisKey) {
  const shown = result && stillShown(result, key, now);
  return { id, state, progress, stage, error, result: shown, outOfDate: state === 'done' ? changedSince(key, now, DIAGNOSES[key.kind]!) : [] }; // prettier-ignore
}
