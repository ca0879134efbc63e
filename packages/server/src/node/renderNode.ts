import { FIREFLY_LAYERS } from '@dusting/core/diagnose';
import { filmNames, packTallies, proofMemory, sceneMemory } from '@dusting/core/render';
import { InputError } from '@dusting/core/formats';
import { RenderPool } from '@dusting/threads';
import { isDiskFull, isLostConnection, type Database } from '../db/connect.ts';
import { notify } from '../db/notices.ts';
import type { LogLine } from '../db/schema.ts';
import { getProof, type Proof } from '../store/proofStore.ts';
import {
  claimChunk,
  claimFirstLook,
  claimMerge,
  failProof,
  finishChunk,
  giveBack,
  giveBackProof,
  releaseClaims,
  removeLeftChunks,
  reportAlive,
  saveFirstLook,
  startProof,
  type Claim,
} from '../store/workStore.ts';
import { Assemblies } from './assemblies.ts';
import { renderCoarse } from './coarse.ts';
import { SceneLoader } from './sceneLoader.ts';

const IDLE_WAIT = 1000;
const HEARTBEAT = 2000;
/** Proofs that are remembered. */
const MOST_BEGUN = 16;
/** Chunks that are taken ahead of the threads: one is rendered while another is handed over. */
const AHEAD = 1;
/** Between tries to store something on a full disk. */
const FULL_WAIT = 5000;

/** Takes chunks from the queue and renders them, one on each thread, until it is stopped. */
export class RenderNode {
  private readonly pool: RenderPool;
  private readonly scenes: SceneLoader;
  private readonly assemblies: Assemblies;
  private readonly begun = new Map<number, Promise<Proof>>();
  private readonly wakers = new Set<() => void>();
  private stopped = false;

  constructor(
    private readonly db: Database,
    private readonly id: string,
    threads?: number,
  ) {
    this.pool = new RenderPool(threads);
    this.scenes = new SceneLoader(db);
    this.assemblies = new Assemblies(db, id);
  }

  async run(): Promise<void> {
    await this.patiently(() => reportAlive(this.db, this.id, this.pool.size));
    await this.patiently(() => releaseClaims(this.db, this.id));
    await this.patiently(() => removeLeftChunks(this.db));
    await Promise.all([this.heartbeat(), ...Array.from({ length: this.pool.size + AHEAD }, () => this.work())]);
  }

  /** There may be something to do. */
  wake(): void {
    for (const waker of this.wakers) waker();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    this.wake();
    await Promise.all([this.pool.close(), this.assemblies.close()]);
  }

  private async heartbeat(): Promise<void> {
    while (!this.stopped) {
      await this.patiently(async () => {
        await reportAlive(this.db, this.id, this.pool.size);
        await releaseClaims(this.db);
        await this.assemblies.review();
      });
      await this.sleep(HEARTBEAT);
    }
  }

  private async work(): Promise<void> {
    while (!this.stopped) {
      const busy = await this.patiently(() => this.step());
      if (!busy) await this.sleep(IDLE_WAIT);
    }
  }

  /** Does one piece of work; false where there was none. */
  private async step(): Promise<boolean> {
    // what is finished goes before what waits: somebody looks at the first of a row of renders while the last is queued
    const finished = await claimMerge(this.db, this.id);
    if (finished !== null) {
      await this.orGiveBack(finished, () => this.assemblies.finish(finished, this.pool.size));
      return true;
    }
    const unseen = await claimFirstLook(this.db, this.id);
    if (unseen !== null) {
      await this.orGiveBack(unseen, () => this.look(unseen));
      return true;
    }
    const due = this.assemblies.next();
    if (due !== null) {
      await this.orFail(due, () => this.assemblies.add(due));
      return true;
    }
    const claim = await claimChunk(this.db, this.id);
    if (!claim) return false;
    await this.renderClaim(claim);
    return true;
  }

  /** Makes the coarse picture of a proof, and writes down what it tells of the scene. */
  private async look(id: number): Promise<void> {
    const proof = await getProof(this.db, id);
    const loaded = await this.scenes.load(proof);
    const started = performance.now();
    const { coarse, textures } = renderCoarse(loaded, proof.region);
    const looked = (performance.now() - started) / 1000;
    const memory = sceneMemory(
      loaded.scene,
      proofMemory(proof.region, proof.settings, filmNames(loaded.document), FIREFLY_LAYERS),
    );
    const text = `The scene was ready in ${loaded.seconds.toFixed(2)} s, a coarse picture of it in ${looked.toFixed(2)} s.`;
    const log: LogLine[] = [{ at: new Date().toISOString(), level: 'note', text }];
    await saveFirstLook(this.db, proof, { coarse, memory, textures, log });
  }

  /** A proof as it was when its first chunk was taken here: what a chunk needs of it does not change. */
  private begin(id: number): Promise<Proof> {
    let begun = this.begun.get(id);
    if (!begun) {
      begun = getProof(this.db, id).then(async (proof) => (await startProof(this.db, id), proof));
      this.begun.set(id, begun);
      begun.catch(() => this.begun.delete(id));
      if (this.begun.size > MOST_BEGUN) this.begun.delete(this.begun.keys().next().value!);
    }
    return begun;
  }

  private async renderClaim(claim: Claim): Promise<void> {
    try {
      await this.orFail(claim.proof, async () => {
        const proof = await this.begin(claim.proof);
        const loaded = await this.scenes.load(proof);
        const { place, region, sampleCount, sampleStart } = claim;
        const started = performance.now();
        const { numbers, paths, picture } = await this.pool.render(loaded.key, loaded, {
          region,
          sampleStart,
          sampleCount,
        });
        const milliseconds = performance.now() - started;
        await finishChunk(this.db, proof, place, {
          film: numbers,
          paths: paths ? packTallies(paths) : null,
          picture: new Uint8Array(picture.buffer),
          milliseconds,
        });
        this.assemblies.take(proof, claim, numbers);
      });
    } catch (error) {
      if (this.stopped) return;
      await this.patiently(() => giveBack(this.db, claim));
      throw error;
    }
  }

  /** The same for what claims a whole proof: nobody else does it while this node is there. */
  private async orGiveBack(proof: number, action: () => Promise<void>): Promise<void> {
    try {
      await this.orFail(proof, action);
    } catch (error) {
      await this.patiently(() => giveBackProof(this.db, proof, this.id));
      throw error;
    }
  }

  /** A fault in the scene or the program ends the proof with its reason; a lost database only delays it. */
  private async orFail(proof: number, action: () => Promise<void>): Promise<void> {
    try {
      await action();
    } catch (error) {
      if (this.stopped || isLostConnection(error) || isDiskFull(error)) throw error;
      const reason = error instanceof InputError ? error.sentence : `The render stopped: ${(error as Error).message}`;
      // what was cancelled or removed under its hands is no fault
      if (await failProof(this.db, proof, reason)) process.stderr.write(`proof ${proof}: ${(error as Error).stack}\n`);
    }
  }

  /** Tries again while the database is away or has no room. */
  private async patiently<T>(action: () => Promise<T>): Promise<T | undefined> {
    while (!this.stopped) {
      try {
        return await action();
      } catch (error) {
        if (this.stopped) return undefined;
        const full = isDiskFull(error);
        if (!full && !isLostConnection(error)) throw error;
        if (full) await this.sayFull();
        await this.sleep(full ? FULL_WAIT : IDLE_WAIT);
      }
    }
    return undefined;
  }

  private async sayFull(): Promise<void> {
    process.stderr.write('The disk of the database is full: renders wait until there is room.\n');
    await notify(this.db, { type: 'full' }).catch(() => {}); // it has no room for that either
  }

  private sleep(milliseconds: number): Promise<void> {
    return new Promise((resolve) => {
      const done = () => {
        clearTimeout(timer);
        this.wakers.delete(done);
        resolve();
      };
      const timer = setTimeout(done, milliseconds);
      this.wakers.add(done);
    });
  }
}
