// One diagnosis, from its row to its result: what the module requires is read, and what it asks for is rendered by the queue.
import { setImmediate as pause, setTimeout as wait } from 'node:timers/promises';
import {
  DIAGNOSES,
  explain,
  layersOf,
  type DiagnosticRender,
  type RenderedRegion,
  type SceneAccess,
} from '@dusting/core/diagnose';
import { decodeMesh } from '@dusting/core/formats';
import { checkRenderSize, planChunks } from '@dusting/core/render';
import { patchShot } from '@dusting/core/scene';
import { BadRequest } from '../errors.ts';
import type { Database } from '../db/connect.ts';
import { SceneLoader } from '../node/sceneLoader.ts';
import type { OpenPictures } from '../pictures/openPictures.ts';
import { loadBlob, saveBlob } from '../store/blobStore.ts';
import { dropRenders, finishDiagnosis, getDiagnosis, reportDiagnosis } from '../store/diagnosisStore.ts';
import { addProof, besideOf, getPicture, getProof, progressOf, type Proof } from '../store/proofStore.ts';
import { getRevision } from '../store/shotStore.ts';

/** Milliseconds between looks at a render that is waited for, and between reports. */
const LOOK_EVERY = 50;
const REPORT_EVERY = 250;

/** @throws InputError with what the user should know; the signal's reason where it was cancelled */
export async function runDiagnosis(db: Database, pictures: OpenPictures, id: number, signal: AbortSignal) {
  const { key } = await getDiagnosis(db, id);
  const module = DIAGNOSES[key.kind]!;
  const { proof, source } = await getPicture(db, key.proof);
  const picture = await pictures.get(source, { layers: layersOf(module) });
  let reported = 0;
  const report = (share: number, stage: string) => {
    if (Date.now() - reported < REPORT_EVERY) return;
    reported = Date.now();
    void reportDiagnosis(db, id, share, stage).catch(() => {}); // a lost report is made up for by the next
  };
  const { settings, use } = proof;
  const isFrame = source.mapping !== null;
  const scene = isFrame || module.requires.scene === 'unused' ? null : await accessTo(db, pictures, proof, id, report, signal); // prettier-ignore
  const neighbours = async () => {
    const beside = await besideOf(db, proof);
    return Promise.all(beside.map((blob) => pictures.get({ ...source, blob }, { layers: layersOf(module) })));
  };
  const kept: string[] = [];
  const keep = async (bytes: Uint8Array) => {
    const blob = await saveBlob(db, bytes, 'application/octet-stream');
    kept.push(blob);
    return blob;
  };
  try {
    const context = { picture, region: key.region, expected: key.expected, settings, use, noise: key.noise, seconds: proof.seconds ?? 0, scene, neighbours, keep, report, signal, pause }; // prettier-ignore
    await finishDiagnosis(db, id, await explain(module, context), kept);
  } finally {
    await dropRenders(db, id);
  }
}

async function accessTo(
  db: Database,
  pictures: OpenPictures,
  proof: Proof,
  diagnosis: number,
  report: (share: number, stage: string) => void,
  signal: AbortSignal,
): Promise<SceneAccess> {
  const document = patchShot(await getRevision(db, proof.shot, proof.revision), proof.patch);
  const scenes = new SceneLoader(db);
  return {
    document,
    compiled: async () => (await scenes.load(proof)).scene,
    mesh: async (id) => decodeMesh(await loadBlob(db, document.meshes[id].blob)),
    render: async (wish) => {
      const id = await queue(db, proof, document, diagnosis, wish);
      const done = await finished(db, id, (share) => report(share, wish.title), signal);
      const { source } = await getPicture(db, id);
      const { seconds, settings, statistics } = done;
      return { picture: await pictures.get(source), settings, statistics: statistics!, seconds: seconds! } satisfies RenderedRegion; // prettier-ignore
    },
  };
}

async function queue(
  db: Database,
  { patch: before, revision, shot, use }: Proof,
  document: SceneAccess['document'],
  diagnosis: number,
  { extras, layers, parts, patch, region, title }: DiagnosticRender,
): Promise<number> {
  const settings = patchShot(document, patch, title)[use];
  checkRenderSize(region);
  const render = { shot, kind: 'diagnostic' as const, purpose: 'diagnosis' as const, diagnosis, extras, layers: layers.source, revision, patch: [...before, ...patch], use, settings, region }; // prettier-ignore
  return addProof(db, render, planChunks(region, settings, { watched: false, parts }));
}

/** Waits for a render. @throws BadRequest where it failed or was cancelled */
async function finished(db: Database, id: number, report: (share: number) => void, signal: AbortSignal) {
  let reported = 0;
  for (;;) {
    signal.throwIfAborted();
    const proof = await getProof(db, id);
    if (proof.state === 'done') return proof;
    if (proof.state === 'failed' || proof.state === 'cancelled')
      throw new BadRequest(`A render that the diagnosis needs ${proof.state === 'failed' ? `failed: ${proof.error}` : 'was cancelled'}.`); // prettier-ignore
    if (Date.now() - reported >= REPORT_EVERY) {
      reported = Date.now();
      report((await progressOf(db, [id])).get(id) ?? 0);
    }
    await wait(LOOK_EVERY, undefined, { signal });
  }
}
