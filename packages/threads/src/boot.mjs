// First module of a worker thread of TypeScript sources: from here on they can be imported.
import { workerData } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

register();
await import(workerData.module);
