// Reads what comes in away from the thread that answers requests: a hostile or a large file takes this thread alone.
import { parentPort, workerData } from 'node:worker_threads';
import { expose, transfer } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import type { FrameFiles, LayerMapping } from '@dusting/core/frames';
import { InputError, PLAIN_SPACE, readTexture, type SceneLimits } from '@dusting/core/formats';
import { importShot, type ImportFile } from '@dusting/core/scene';
import { takeFrame } from './takeFrame.ts';

const { limits } = workerData as { limits: SceneLimits };

/** Milliseconds between two reports. */
const REPORT_EVERY = 150;
let reported = 0;
/** Says what is being done: a message beside those of comlink, which gets through while this thread is busy. */
function report(stage: string): void {
  if (Date.now() - reported < REPORT_EVERY) return;
  reported = Date.now();
  parentPort!.postMessage({ stage });
}

const api = {
  /** A scene with its textures. */
  read: (files: ImportFile[], name?: string) =>
    placed(async () => {
      const imported = await importShot(files, name, limits, report);
      const buffers = new Set([...imported.blobs.values()].map(({ bytes }) => bytes.buffer as ArrayBuffer));
      return transfer(imported, [...buffers]);
    }),

  /** One frame of another renderer. */
  takeFrame: (group: FrameFiles, known: LayerMapping) =>
    placed(async () => {
      const taken = takeFrame(group, known);
      return transfer(taken, [taken.bytes.buffer as ArrayBuffer]);
    }),

  /** A picture for a texture or an environment: read whole, so that what is kept can be read again. */
  textureSize: (name: string, bytes: Uint8Array) =>
    placed(async () => {
      const { width, height } = readTexture(bytes, name, PLAIN_SPACE);
      return { width, height };
    }),
};
export type ImportThread = typeof api;
expose(api, nodeEndpoint(parentPort!));

/** Errors leave this thread with their message alone: the place goes into it. */
async function placed<T>(read: () => Promise<T>): Promise<T> {
  try {
    return await read();
  } catch (error) {
    throw error instanceof InputError ? new InputError(error.sentence) : error;
  }
}
