import { Worker, type ResourceLimits } from 'node:worker_threads';
import { wrap, type Remote } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';

/** A worker thread that runs a module and answers calls. TypeScript, as in tests, needs a loader first. */
export function spawn<T>(
  module: URL,
  data: Record<string, unknown> = {},
  resourceLimits: ResourceLimits = {},
): { remote: Remote<T>; worker: Worker } {
  const first = module.pathname.endsWith('.ts') ? new URL('./boot.mjs', import.meta.url) : module;
  const worker = new Worker(first, { workerData: { ...data, module: module.href }, resourceLimits });
  return { remote: wrap<T>(nodeEndpoint(worker)), worker };
}
