// First module of every worker thread: from here on TypeScript can be imported.
import { workerData } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

register();
await import(workerData.module);
