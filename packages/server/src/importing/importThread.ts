// Reads scenes away from the thread that answers requests: a hostile or a large one takes this thread alone.
import { parentPort, workerData } from 'node:worker_threads';
import { expose, transfer } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { InputError, type SceneLimits } from '@dusting/core/formats';
import { importShot, type ImportedShot, type ImportFile } from '@dusting/core/scene';

const { limits } = workerData as { limits: SceneLimits };

const api = {
  async read(files: ImportFile[], name?: string): Promise<ImportedShot> {
    try {
      const imported = await importShot(files, name, limits);
      const buffers = new Set([...imported.blobs.values()].map(({ bytes }) => bytes.buffer as ArrayBuffer));
      return transfer(imported, [...buffers]);
    } catch (error) {
      // errors leave this thread with their message alone: the place goes into it
      throw error instanceof InputError ? new InputError(error.sentence) : error;
    }
  },
};
export type ImportThread = typeof api;
expose(api, nodeEndpoint(parentPort!));
