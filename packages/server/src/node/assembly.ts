import type { Remote } from 'comlink';
import { transfer } from 'comlink';
import { proofFindings } from '@dusting/core/diagnose';
import type { Region } from '@dusting/core/image';
import { bandsOf, filmNames, lensRecord, noiseCheckNote, raysIn, type RenderStatistics } from '@dusting/core/render';
import { patchShot, type ShotDocument } from '@dusting/core/scene';
import type { Database } from '../db/connect.ts';
import type { LogLine } from '../db/schema.ts';
import type { Proof } from '../store/proofStore.ts';
import { getRevision } from '../store/shotStore.ts';
import { chunksOfBand, filmsAt, finishProof } from '../store/workStore.ts';
import type { AssemblyThread } from './assemblyThread.ts';
import type { KeptFilms } from './keptFilms.ts';

/**
 * A proof that is put together band by band, from the top and in the order of the plan, so that the result is the same
 * whoever rendered what. It begins while others still render: a frame of 1920 x 1080 takes 20 s of it.
 */
export class Assembly {
  private readonly bands: Region[];
  /** Bands that are in it. */
  private done = 0;
  private milliseconds = 0;

  private constructor(
    private readonly db: Database,
    private readonly thread: Remote<AssemblyThread>,
    private readonly kept: KeptFilms,
    private readonly proof: Proof,
    private readonly document: ShotDocument,
  ) {
    this.bands = bandsOf(proof.region);
  }

  static async begin(db: Database, thread: Remote<AssemblyThread>, kept: KeptFilms, proof: Proof): Promise<Assembly> {
    const document = patchShot(await getRevision(db, proof.shot, proof.revision), proof.patch);
    const { extras, layers, region, settings } = proof;
    const { stops } = document.noise;
    await thread.begin(proof.id, { region, settings, names: filmNames(document), extras, stops, layers });
    return new Assembly(db, thread, kept, proof, document);
  }

  /** Adds the bands that end at a row or above it. */
  async addAbove(row: number): Promise<void> {
    const isDue = (band: Region | undefined) => band !== undefined && band.y + band.height <= row;
    if (!isDue(this.bands[this.done])) return;
    // the next band is fetched while this one is put together
    let next = this.partsOf(this.bands[this.done]);
    while (isDue(this.bands[this.done])) {
      const parts = await next;
      const region = this.bands[this.done++];
      if (isDue(this.bands[this.done])) next = this.partsOf(this.bands[this.done]);
      for (const { milliseconds } of parts) this.milliseconds += milliseconds ?? 0;
      const films = parts.map(({ numbers, paths, region: part }) => ({ numbers, paths, region: part }));
      await this.thread.add(this.proof.id, region, transfer(films, films.map(({ numbers }) => numbers.buffer as ArrayBuffer))); // prettier-ignore
    }
  }

  /** Adds what is left once all chunks are done, and keeps the proof. */
  async finish(threads: number): Promise<void> {
    const { document, proof } = this;
    const { settings, use } = proof;
    const started = performance.now();
    const early = this.done;
    await this.addAbove(Infinity);
    const seconds = this.milliseconds / 1000 / threads;
    const lens = lensRecord(document.cameras[document.camera], settings);
    const made = await this.thread.finish(proof.id, { use, settings, noise: document.noise, seconds: { render: seconds }, lens }); // prettier-ignore
    const merged = (performance.now() - started) / 1000;
    const text = `Put together and written in ${merged.toFixed(2)} s, ${early} of ${this.bands.length} bands before the last ray.`;
    await finishProof(this.db, proof, { ...made, seconds, log: [...proof.log, ...logOf(proof, made.statistics, seconds, text)] }); // prettier-ignore
  }

  /** The films of a band, in the order of the plan: those that this node rendered, and the others from the database. */
  private async partsOf({ y }: Region) {
    const { id } = this.proof;
    const parts = await chunksOfBand(this.db, id, y);
    const kept = parts.map(({ place }) => this.kept.take(id, place));
    const missing = parts.filter((_, i) => !kept[i]).map(({ place }) => place);
    const films = await filmsAt(this.db, id, missing);
    return parts.map((part, i) => ({ ...part, numbers: kept[i] ?? films.get(part.place)! }));
  }
}

function logOf(proof: Proof, statistics: RenderStatistics, seconds: number, merged: string): LogLine[] {
  const at = new Date().toISOString();
  const rays = raysIn(statistics);
  const text = `${statistics.samples} samples, ${(rays / 1e6).toFixed(2)} million rays, ${seconds.toFixed(1)} s`;
  const notes = [text, noiseCheckNote(statistics), merged].map((note): LogLine => ({ at, level: 'note', text: note }));
  const findings = proofFindings(statistics, proof.settings);
  return [...notes, ...findings.map(({ severity, text: said }): LogLine => ({ at, level: severity, text: said }))];
}
