// First module of a worker thread of TypeScript sources, as tests start it: bundled, it is there in half a second; loaded module by
// module it took four, in each thread. What an application has running is left alone.
import { pathToFileURL } from 'node:url';
import { workerData } from 'node:worker_threads';
import { bundle } from '../../../scripts/lib/bundle.mjs';

const [, folder, program] = /\/(packages\/[^/]+)\/src\/(.+)\.ts$/.exec(workerData.module);
const [path] = await bundle(folder, [program], () => {}, 'dist-test');
await import(pathToFileURL(path).href);
