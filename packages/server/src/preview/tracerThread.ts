// Traces chunks of a preview: one thread of several, which share the scene.
import { parentPort } from 'node:worker_threads';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { tracerApi } from '@dusting/preview';

expose(tracerApi(), nodeEndpoint(parentPort!));
