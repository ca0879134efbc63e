import { spawn } from '@dusting/threads';
import { transfer } from 'comlink';
import { InputError, scaledLimits, type SceneLimits } from '@dusting/core/formats';
import type { FrameFiles, LayerMapping } from '@dusting/core/frames';
import type { ImportedShot, ImportFile } from '@dusting/core/scene';
import type { TakenFrame } from '../store/frameStore.ts';
import type { ImportThread } from './importThread.ts';

/** Bounds of one import at a scale of 1; pictures and meshes lie outside of this memory. */
const SECONDS = 120;
const MEGABYTES = 2048;

type Thread = ReturnType<typeof spawn<ImportThread>>;

/** Reads scenes and pictures on threads, each within a limit of time and memory. One thread stays for the next. */
export class Importer {
  private readonly limits: SceneLimits;
  private idle: Thread | null = null;

  /** @param scale how much more may come in than usually */
  constructor(private readonly scale: number) {
    this.limits = scaledLimits(scale);
  }

  /**
   * A scene with its textures.
   * @param files are taken away from the caller
   * @param report what is being done
   * @throws InputError with the reason; whatever the signal was aborted with
   */
  async read(
    files: ImportFile[],
    name: string | undefined,
    signal: AbortSignal,
    report: (stage: string) => void,
  ): Promise<ImportedShot> {
    const imported = await this.run(async ({ remote, worker }) => {
      const hear = ({ stage }: { stage?: unknown }) => typeof stage === 'string' && report(stage);
      worker.on('message', hear);
      return remote.read(transfer(files, buffersOf(files)), name).finally(() => worker.off('message', hear));
    }, signal);
    return imported as ImportedShot;
  }

  /** One frame of another renderer. The same holds as for a scene. */
  async takeFrame(
    group: FrameFiles,
    known: LayerMapping,
    signal: AbortSignal,
  ): Promise<TakenFrame & { roles: LayerMapping }> {
    const files = group.files.map(({ file }) => file);
    return this.run(({ remote }) => remote.takeFrame(transfer(group, buffersOf(files)), known), signal);
  }

  /** A picture for a texture or an environment: its bytes stay with the caller. */
  async textureSize(name: string, bytes: Uint8Array, signal: AbortSignal): Promise<{ width: number; height: number }> {
    return this.run(({ remote }) => remote.textureSize(name, bytes), signal);
  }

  private async run<T>(work: (thread: Thread) => Promise<T>, signal: AbortSignal): Promise<T> {
    const thread = this.idle ?? this.start();
    this.idle = null;
    const { worker } = thread;
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
      const result = await Promise.race([work(thread), stopped]);
      whole = true;
      return result;
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

const buffersOf = (files: { bytes: Uint8Array }[]) => [
  ...new Set(files.map(({ bytes }) => bytes.buffer as ArrayBuffer)),
];
