import { availableParallelism } from 'node:os';
import type { Worker } from 'node:worker_threads';
import type { Remote } from 'comlink';
import type { Chunk, CompiledScene, FilmExtra, PackedFilm } from '@dusting/core/render';
import type { RenderSettings } from '@dusting/core/scene';
import { spawn } from './spawn.ts';
import type { RenderWorker } from './renderWorker.ts';

/** A scene with the settings that it is rendered with, and what is kept beside the film. */
export interface RenderWork {
  scene: CompiledScene;
  settings: RenderSettings;
  extras: readonly FilmExtra[];
}

/** Worker threads that render chunks of one scene at a time each. */
export class RenderPool {
  private readonly threads: { remote: Remote<RenderWorker>; worker: Worker; loaded: Set<string> }[];
  private readonly idle: number[];
  private readonly waiting: ((thread: number) => void)[] = [];

  constructor(readonly size: number = availableParallelism()) {
    this.threads = Array.from({ length: size }, (_, i) => ({
      // the thread that made the pool may trace rays too, as number 0
      ...spawn<RenderWorker>(new URL('./renderWorker.ts', import.meta.url), { thread: i + 1 }),
      loaded: new Set<string>(),
    }));
    this.idle = this.threads.map((_, i) => i);
  }

  /** @param key the same key must mean the same work */
  async render(key: string, { extras, scene, settings }: RenderWork, chunk: Chunk): Promise<PackedFilm> {
    const index = this.idle.pop() ?? (await new Promise<number>((resolve) => this.waiting.push(resolve)));
    const thread = this.threads[index];
    try {
      if (!thread.loaded.has(key)) {
        await thread.remote.load(key, scene, settings, extras);
        thread.loaded.add(key);
        while (thread.loaded.size > 2) thread.loaded.delete(thread.loaded.keys().next().value!);
      }
      return await thread.remote.render(key, chunk);
    } finally {
      const next = this.waiting.shift();
      if (next) next(index);
      else this.idle.push(index);
    }
  }

  async close(): Promise<void> {
    await Promise.all(this.threads.map(({ worker }) => worker.terminate()));
  }
}
