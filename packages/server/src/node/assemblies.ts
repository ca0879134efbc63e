import { bandsOf } from '@dusting/core/render';
import { spawn } from '@dusting/threads';
import type { Database } from '../db/connect.ts';
import { getProof, type Proof } from '../store/proofStore.ts';
import { claimAssembly, doneAbove, unfinished, type Claim } from '../store/workStore.ts';
import { Assembly } from './assembly.ts';
import type { AssemblyThread } from './assemblyThread.ts';
import { KeptFilms } from './keptFilms.ts';

/** What is held of a frame of 1920 x 1080 takes 0.3 to 0.5 GB. */
const MOST_HELD = 2;

/**
 * The proofs that a node puts together while others still render. They are nothing that could be lost: the films stay in the
 * database until a proof is done, and one that was let go is put together again from the start.
 */
export class Assemblies {
  private readonly thread = spawn<AssemblyThread>(new URL('./assemblyThread.ts', import.meta.url));
  private readonly kept = new KeptFilms();
  private readonly held = new Map<number, Promise<Assembly>>();
  /** Proofs of which more may be done than was added. */
  private readonly due = new Set<number>();
  /** One after the other, as a proof has its bands in their order. */
  private adding: Promise<void> | null = null;

  constructor(
    private readonly db: Database,
    private readonly node: string,
  ) {}

  /** A chunk of a proof was rendered here, and its film was stored. */
  take(
    { id, region, settings }: Proof,
    { place, region: tile, sampleCount, sampleStart }: Claim,
    film: Uint8Array,
  ): void {
    this.kept.keep(id, place, film);
    // a band ends with its rightmost tile of the last pass, as chunks are handed out from the left; a single one ends the proof
    const endsBand = sampleStart + sampleCount >= settings.pixelSamples && tile.x + tile.width === region.x + region.width; // prettier-ignore
    if (endsBand && bandsOf(region).length > 1) this.due.add(id);
  }

  /** A proof to which bands can be added now, or null; none while some are being added. */
  next(): number | null {
    const [id] = this.due;
    return this.adding === null && id !== undefined ? id : null;
  }

  /** Adds the bands of a proof that are done. */
  async add(id: number): Promise<void> {
    this.due.delete(id);
    this.adding = this.addDone(id);
    try {
      await this.adding;
    } catch (error) {
      this.letGo(id);
      throw error;
    } finally {
      this.adding = null;
    }
  }

  private async addDone(id: number): Promise<void> {
    if (!(await claimAssembly(this.db, id, this.node))) return;
    const row = await doneAbove(this.db, id);
    const assembly = this.held.get(id) ?? this.begin(id);
    this.held.set(id, assembly);
    if (this.held.size > MOST_HELD) this.letGo(this.held.keys().next().value!);
    await (await assembly).addAbove(row);
  }

  /** Adds what is left of a proof whose chunks are all done, and keeps it. */
  async finish(id: number, threads: number): Promise<void> {
    this.due.delete(id);
    // whoever began it hears of its faults
    while (this.adding) await this.adding.catch(() => {});
    const assembly = this.held.get(id) ?? this.begin(id);
    // nothing else lets go of it
    this.held.delete(id);
    try {
      await (await assembly).finish(threads);
    } finally {
      this.letGo(id);
    }
  }

  private async begin(id: number): Promise<Assembly> {
    return Assembly.begin(this.db, this.thread.remote, this.kept, await getProof(this.db, id));
  }

  /** Lets go of what was cancelled or failed meanwhile, or what another node has put together. */
  async review(): Promise<void> {
    const ids = new Set([...this.held.keys(), ...this.kept.proofs()]);
    if (this.adding || ids.size === 0) return;
    const left = new Set(await unfinished(this.db, [...ids]));
    for (const id of ids) if (!left.has(id)) this.letGo(id);
  }

  async close(): Promise<void> {
    await this.thread.worker.terminate();
  }

  private letGo(id: number): void {
    this.held.delete(id);
    this.kept.drop(id);
    void this.thread.remote.drop(id);
  }
}
