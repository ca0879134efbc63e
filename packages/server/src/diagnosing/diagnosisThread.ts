// Runs diagnoses, away from the thread that answers requests.
import { parentPort, workerData } from 'node:worker_threads';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { DIAGNOSES, measuredLayersOf, measureEffects, type DefectKind, type Measured } from '@dusting/core/diagnose';
import { InputError } from '@dusting/core/formats';
import type { Region } from '@dusting/core/image';
import { connect } from '../db/connect.ts';
import { BadRequest } from '../errors.ts';
import { OpenPictures } from '../pictures/openPictures.ts';
import { storeOf } from '../store/blobStore.ts';
import { endDiagnosis } from '../store/diagnosisStore.ts';
import { getPicture } from '../store/proofStore.ts';
import { runDiagnosis } from './runDiagnosis.ts';

const { db } = connect(workerData.url, 3);
/** A diagnosis reads the layers that it requires, and few pictures one after the other. */
const pictures = new OpenPictures(storeOf(db), { large: 32 * 2 ** 20, kept: 256 * 2 ** 20 });
const running = new Map<number, AbortController>();

const api = {
  /** Starts a diagnosis that stands in the database; its row tells how far it is. */
  start(id: number): void {
    const control = new AbortController();
    running.set(id, control);
    void runDiagnosis(db, pictures, id, control.signal)
      .catch(async (error: unknown) => {
        if (control.signal.aborted) return;
        const known = error instanceof InputError || error instanceof BadRequest;
        const reason = error instanceof InputError ? error.sentence : (error as Error).message;
        if (!known) process.stderr.write(`diagnosis ${id}: ${(error as Error).stack}\n`);
        await endDiagnosis(db, id, { state: 'failed', error: known ? reason : `The diagnosis stopped: ${reason}` });
      })
      .catch((error: unknown) => process.stderr.write(`diagnosis ${id}: ${(error as Error).message}\n`))
      .finally(() => running.delete(id));
  },

  async cancel(id: number): Promise<void> {
    await endDiagnosis(db, id, { state: 'cancelled' });
    running.get(id)?.abort(new Error('the diagnosis was cancelled'));
  },

  /** What the measures of a kind's remedies are on a finished proof. */
  async measure(kind: DefectKind, proofId: number, region: Region, stops: number): Promise<Measured> {
    const module = DIAGNOSES[kind]!;
    const { proof, source } = await getPicture(db, proofId);
    const picture = await pictures.get(source, { layers: measuredLayersOf(module) });
    return measureEffects(module, picture, region, { seconds: proof.seconds ?? 0, stops });
  },
};
export type DiagnosisThread = typeof api;
expose(api, nodeEndpoint(parentPort!));
