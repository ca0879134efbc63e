import { Worker } from 'node:worker_threads';
import { wrap, type Remote } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';

/** A worker thread that runs a TypeScript module and answers calls. */
export function spawn<T>(module: URL, data: Record<string, unknown> = {}): { remote: Remote<T>; worker: Worker } {
  const worker = new Worker(new URL('./boot.mjs', import.meta.url), { workerData: { ...data, module: module.href } });
  return { remote: wrap<T>(nodeEndpoint(worker)), worker };
}
