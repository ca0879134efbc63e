import { spawn } from '@dusting/threads';
import { transfer } from 'comlink';
import { InputError, scaledLimits, type SceneLimits } from '@dusting/core/formats';
import type { ImportedShot, ImportFile } from '@dusting/core/scene';
import type { ImportThread } from './importThread.ts';

/** Bounds of one import at a scale of 1; pictures and meshes lie outside of this memory. */
const SECONDS = 120;
const MEGABYTES = 2048;

/** Reads scenes on threads, each within a limit of time and memory. One thread stays for the next. */
export class Importer {
  private readonly limits: SceneLimits;
  private idle: ReturnType<typeof spawn<ImportThread>> | null = null;

  /** @param scale how much more may come in than usually */
  constructor(private readonly scale: number) {
    this.limits = scaledLimits(scale);
  }

  /**
   * @param files are taken away from the caller
   * @throws InputError with the reason; whatever the signal was aborted with
   */
  async read(files: ImportFile[], name: string | undefined, signal: AbortSignal): Promise<ImportedShot> {
    const thread = this.idle ?? this.start();
    this.idle = null;
    const { remote, worker } = thread;
    const seconds = SECONDS * this.scale;
    const memory = MEGABYTES * this.scale;
    const more = `Split the scene, or start with a larger DUSTING_IMPORT_SCALE (it is ${this.scale})`;
    const ending = new AbortController();
    const stopped = new Promise<never>((_, reject) => {
      const until = { signal: ending.signal };
      const timer = setTimeout(() => reject(new InputError(`reading it takes more than ${seconds} s, and was stopped. ${more}`)), seconds * 1000); // prettier-ignore
      ending.signal.addEventListener('abort', () => clearTimeout(timer), { once: true });
      signal.addEventListener('abort', () => reject(signal.reason), until);
      const onError = (error: NodeJS.ErrnoException) => {
        const isFull = error.code === 'ERR_WORKER_OUT_OF_MEMORY';
        reject(isFull ? new InputError(`reading it needs more than ${memory} MB, and was stopped. ${more}`) : error);
      };
      worker.once('error', onError);
      ending.signal.addEventListener('abort', () => worker.off('error', onError), { once: true });
    });
    let whole = false;
    try {
      signal.throwIfAborted();
      const buffers = files.map(({ bytes }) => bytes.buffer as ArrayBuffer);
      const imported = await Promise.race([remote.read(transfer(files, [...new Set(buffers)]), name), stopped]);
      whole = true;
      return imported as ImportedShot;
    } catch (error) {
      whole = error instanceof Error && error.name === 'InputError' && !(error instanceof InputError); // its own refusal
      throw error;
    } finally {
      ending.abort();
      if (whole && !this.idle) this.idle = thread;
      else void worker.terminate();
    }
  }

  private start() {
    const thread = spawn<ImportThread>(
      new URL('./importThread.ts', import.meta.url),
      { limits: this.limits },
      { maxOldGenerationSizeMb: MEGABYTES * this.scale },
    );
    // one that fails between two imports must not end the server
    thread.worker.on('error', () => {
      if (this.idle === thread) this.idle = null;
    });
    return thread;
  }

  async close(): Promise<void> {
    await this.idle?.worker.terminate();
  }
}
