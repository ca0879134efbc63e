export { collectGarbage } from './collectGarbage.ts';
export { deflateApart } from './deflateApart.ts';
export { spawn } from './spawn.ts';
export { RenderPool } from './renderPool.ts';
export { renderOnThreads, type ThreadOptions } from './renderOnThreads.ts';
