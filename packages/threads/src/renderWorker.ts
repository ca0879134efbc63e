import { parentPort, workerData } from 'node:worker_threads';
import { expose, transfer } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import {
  PathTracer,
  renderChunk,
  STRATEGIES,
  type Chunk,
  type CompiledScene,
  type Film,
  type FilmExtra,
} from '@dusting/core/render';
import type { RenderSettings } from '@dusting/core/scene';
import { collectGarbage } from './collectGarbage.ts';

const MOST_SCENES = 2;
const tracers = new Map<string, PathTracer>();

const api = {
  /** Makes a scene ready; its arrays are shared, so this costs little. Scenes beyond the second oldest are let go. */
  load(key: string, scene: CompiledScene, settings: RenderSettings, extras: readonly FilmExtra[]): void {
    tracers.set(key, new PathTracer(scene, settings, workerData.thread, STRATEGIES, extras));
    if (tracers.size <= MOST_SCENES) return;
    tracers.delete(tracers.keys().next().value!);
    collectGarbage();
  },
  render(key: string, chunk: Chunk): Film {
    const tracer = tracers.get(key);
    if (!tracer) throw new Error('the scene has not been loaded on this thread');
    const film = renderChunk(tracer, chunk, () => performance.now());
    return transfer(film, [film.data.buffer as ArrayBuffer]);
  },
};
export type RenderWorker = typeof api;
expose(api, nodeEndpoint(parentPort!));
