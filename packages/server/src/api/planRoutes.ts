// What pending changes will cost, and the sampling plan: both predicted from a pilot where one was rendered.
import { Router } from 'express';
import {
  expectTime,
  onlyCountsDiffer,
  predictMemory,
  type PastRender,
  type SamplingPlan,
  type Timed,
} from '@dusting/core/plan';
import { filmNames, lightGroups } from '@dusting/core/render';
import { applyPatch, patchShot, type SettingsUse, type ShotDocument } from '@dusting/core/scene';
import { getPicture, listFinished, listProofs, type Proof } from '../store/proofStore.ts';
import { getRevision, getShot } from '../store/shotStore.ts';
import type { Database } from '../db/connect.ts';
import { BadRequest, Missing } from '../errors.ts';
import type { RenderedSource } from '../pictures/planJobs.ts';
import { parse, PlanBody, PredictBody } from './body.ts';
import { answer } from './answer.ts';
import type { ExpectedTime, Prediction } from '../answers/index.ts';
import { whole, type Context } from './context.ts';

export function planRoutes({ db, pictures }: Context): Router {
  const router = Router();

  /** What the pending changes will cost, from a proof of this shot, and from a pilot where both show the same. */
  router.post('/shots/:shot/prediction', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const { use, proof: proofId, region } = parse(PredictBody, request.body);
    const { proof, source } = await getPicture(db, proofId);
    if (proof.shot !== shot.id) throw new BadRequest('That proof does not belong to this shot.');
    const document = patchShot(shot.document, shot.slip);
    const renders = await rendersOf(db, shot.id, document, use);
    const measured = { source, settings: proof.settings, seconds: proof.seconds! };
    const { stops } = shot.document.noise;
    const isSame = renders.measured?.proof === proof.id;
    const by = isSame ? renders.pilot : null;
    const timed = isSame ? renders.timed : [{ settings: proof.settings, seconds: proof.seconds! }];
    const prediction = await pictures.predict(measured, by, timed, document[use], region, stops, lightsOf(document));
    const memory = proof.memory && predictMemory(proof.memory, document[use], filmNames(document));
    answer<Prediction>(response, { ...prediction, memory });
  });

  /** What a render of the present revision will take with either of its settings, before it is sent. */
  router.get('/shots/:shot/expected', async (request, response) => {
    const { document, id } = await getShot(db, whole(request, 'shot'));
    const own = (await listProofs(db, id))
      .filter((p) => p.state === 'done' && p.kind === 'proof' && p.seconds)
      .reverse();
    const others = own.length > 0 ? [] : await pastRenders(db);
    const expected = async (use: SettingsUse): Promise<ExpectedTime | null> => {
      const from = own.find((p) => p.use === use) ?? own[0];
      if (!from) {
        const seconds = expectTime(others, document[use]);
        return seconds && { seconds, from: 'others' };
      }
      // the same again takes what it took, as far as the machine is as busy
      if (from.use === use && JSON.stringify(from.settings) === JSON.stringify(document[use])) {
        const value = from.seconds!;
        return { seconds: { value, low: value * (1 - AGAIN), high: value * (1 + AGAIN) }, from: 'shot' };
      }
      const { source } = await getPicture(db, from.id);
      const measured = { source, settings: from.settings, seconds: from.seconds! };
      const { seconds } = await pictures.predict(measured, null, [measured], document[use], null, document.noise.stops, lightsOf(document)); // prettier-ignore
      return { seconds, from: 'shot' };
    };
    answer<Record<SettingsUse, ExpectedTime | null>>(response, {
      preview: await expected('preview'),
      final: await expected('final'),
    });
  });

  /** The counts that reach the noise limit in the least time, from the newest pilot of what the shot is now. */
  router.post('/shots/:shot/plan', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const { use, region, share, bounds } = parse(PlanBody, request.body);
    const document = patchShot(shot.document, shot.slip);
    const { measured, pilot, timed } = await rendersOf(db, shot.id, document, use);
    if (!pilot) throw new Missing('There is no pilot of this shot as it is now: render one first.');
    if (bounds.leastPixelSamples > bounds.mostPixelSamples)
      throw new BadRequest('The least pixel samples are more than the most.');
    const { limit, stops } = document.noise;
    const moves = Object.values(document.objects).some((o) => o.laterTransforms.length > 0);
    const plan = await pictures.plan(pilot, measured, { timed, present: shot.document[use], use, region, limit, stops, bounds, share, moves, groups: lightGroups(document) }); // prettier-ignore
    answer<{ plan: SamplingPlan; pilot: number }>(response, { plan, pilot: pilot.proof });
  });

  return router;
}

/** Two runs of one render are apart by about so much (RUN_SPREAD of predict/costModel.ts). */
const AGAIN = 0.1;

/** The newest renders of this machine, of any shot. */
async function pastRenders(db: Database): Promise<PastRender[]> {
  const done = (await listFinished(db)).filter((p) => p.seconds).slice(0, MOST_TIMED);
  return done.map(({ region, seconds, settings }) => ({
    settings,
    pixels: region.width * region.height,
    seconds: seconds!,
  }));
}

/** What a surface can ask for light: each light, the environment, and the glowing surfaces as one. */
function lightsOf({ environment, lights, objects, surfaces }: ShotDocument): number {
  const glows = Object.values(objects).some((o) => surfaces[o.surface].emission_luminance > 0);
  return Object.values(lights).filter((l) => l.strength > 0).length + Number(environment.strength > 0) + Number(glows);
}

/** So many renders, the newest, say what another will take. */
const MOST_TIMED = 24;

/**
 * The newest finished pilot, and proof, that show what the shot shows now but for how often it was sampled; and what they
 * and others like them took.
 */
async function rendersOf(db: Database, shot: number, document: ShotDocument, use: SettingsUse) {
  const revisions = new Map<number, Promise<ShotDocument>>();
  const shows = async ({ patch, revision }: Proof) => {
    if (!revisions.has(revision)) revisions.set(revision, getRevision(db, shot, revision));
    return onlyCountsDiffer(applyPatch(await revisions.get(revision)!, patch), document, use);
  };
  // counts of an adaptive proof are not what its tiles took
  const done = (await listProofs(db, shot)).filter((p) => p.state === 'done' && p.use === use && p.settings.adaptive.limit === 0).reverse(); // prettier-ignore
  const alike: Proof[] = [];
  for (const proof of done) if (await shows(proof)) alike.push(proof);
  const pilot = alike.find(({ purpose }) => purpose === 'pilot');
  const measured = alike.find(({ kind }) => kind === 'proof');
  const region = JSON.stringify(measured?.region);
  const timed: Timed[] = alike
    .filter((proof) => JSON.stringify(proof.region) === region)
    .slice(0, MOST_TIMED)
    .map(({ seconds, settings }) => ({ settings, seconds: seconds! }));
  return {
    pilot: pilot ? await rendered(db, pilot) : null,
    measured: measured ? await rendered(db, measured) : null,
    timed,
  };
}

async function rendered(
  db: Database,
  { id, region, seconds, settings, statistics, textures }: Proof,
): Promise<RenderedSource> {
  const { source } = await getPicture(db, id);
  // a region does not say how closely the rest of the frame shows a texture
  const isFrame = region.width === settings.width && region.height === settings.height;
  const counted = statistics?.deep && { statistics, textures: (isFrame && textures) || [] };
  return { proof: id, source, settings, seconds: seconds ?? 0, counted };
}
