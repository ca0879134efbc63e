// Opens proofs and computes on them, away from the thread that answers requests.
import { parentPort, workerData } from 'node:worker_threads';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { connect } from '../db/connect.ts';
import { storeOf } from '../store/blobStore.ts';
import { compareJobs } from './compareJobs.ts';
import { exportJobs } from './exportJobs.ts';
import { frameJobs } from './frameJobs.ts';
import { layerJobs } from './layerJobs.ts';
import { OpenPictures } from './openPictures.ts';
import { planJobs } from './planJobs.ts';
import { regionJobs } from './regionJobs.ts';

const { db } = connect(workerData.url, 1);
const pictures = new OpenPictures(storeOf(db));

const api = {
  ...layerJobs(pictures),
  ...regionJobs(pictures),
  ...compareJobs(pictures),
  ...frameJobs(pictures),
  ...exportJobs(pictures),
  ...planJobs(pictures),
};
export type PictureWorker = typeof api;
expose(api, nodeEndpoint(parentPort!));
