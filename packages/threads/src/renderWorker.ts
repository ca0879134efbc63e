import { parentPort, workerData } from 'node:worker_threads';
import { expose, transfer } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import {
  emptyFilm,
  packFilm,
  PathTracer,
  renderInto,
  reuseFilm,
  STRATEGIES,
  type Chunk,
  type CompiledScene,
  type FilmExtra,
  type PackedFilm,
} from '@dusting/core/render';
import type { RenderSettings } from '@dusting/core/scene';
import { collectGarbage } from './collectGarbage.ts';
import './inlineMore.ts';

const MOST_SCENES = 2;
/** Of a chunk, filled again for the next: the system takes a millisecond to set it aside. */
let memory: ReturnType<typeof emptyFilm> | null = null;
const tracers = new Map<string, PathTracer>();

const api = {
  /** Makes a scene ready; its arrays are shared, so this costs little. Scenes beyond the second oldest are let go. */
  load(key: string, scene: CompiledScene, settings: RenderSettings, extras: readonly FilmExtra[]): void {
    tracers.set(key, new PathTracer(scene, settings, workerData.thread, STRATEGIES, extras));
    if (tracers.size <= MOST_SCENES) return;
    tracers.delete(tracers.keys().next().value!);
    collectGarbage();
  },
  render(key: string, chunk: Chunk): PackedFilm {
    const tracer = tracers.get(key);
    if (!tracer) throw new Error('the scene has not been loaded on this thread');
    const { region } = chunk;
    const { stride } = tracer;
    if (memory?.stride !== stride || memory.data.length < region.width * region.height * stride)
      memory = emptyFilm(region, stride);
    const packed = packFilm(renderInto(reuseFilm(memory, region), tracer, chunk, () => performance.now()));
    return transfer(packed, [packed.numbers.buffer, packed.picture.buffer] as ArrayBuffer[]);
  },
};
export type RenderWorker = typeof api;
expose(api, nodeEndpoint(parentPort!));
