// Puts proofs together, away from the thread that hands out the chunks of a node: a band takes it half a second, in which
// the threads that render would wait for their next chunk (1.5 times the time of a whole render).
import { parentPort } from 'node:worker_threads';
import { expose, transfer } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { countFireflies, FIREFLY_LAYERS } from '@dusting/core/diagnose';
import type { Region } from '@dusting/core/image';
import { bandsOf, emptyFilm, filmStride, mergeFilm, ProofBuilder, ProofFile, reuseFilm, unpackNumbers, unpackTallies, type FilmExtra, type FilmNames, type PackedTallies, type RenderStatistics } from '@dusting/core/render'; // prettier-ignore
import type { RenderSettings } from '@dusting/core/scene';
import { collectGarbage, deflateApart } from '@dusting/threads';
import { shrinkPicture } from './coarse.ts';

export interface AssemblyPlan {
  region: Region;
  settings: RenderSettings;
  names: FilmNames;
  extras: readonly FilmExtra[];
  /** Stops of the shadow check. */
  stops: number;
  /** Of its picture, as a pattern; null: all of them. */
  layers: string | null;
}

/** Sums of a chunk. */
export interface AssemblyPart {
  region: Region;
  /** As they are packed (core/render/packedFilm.ts). */
  numbers: Uint8Array;
  paths: PackedTallies | null;
}

interface Assembly {
  plan: AssemblyPlan;
  file: ProofFile;
  /** That of one band, filled again for each: all are as wide, and none is higher than the first. */
  memory: ReturnType<typeof emptyFilm> | null;
}
/** Of a small one there is little to collect, which takes 20 ms, and a diagnosis asks for dozens of them. */
const isLarge = ({ region }: AssemblyPlan) => bandsOf(region).length > 8;
const assemblies = new Map<number, Assembly>();
/** Numbers of a chunk. */
let unpacked = new Float32Array(0);

const api = {
  begin(id: number, plan: AssemblyPlan): void {
    const { layers, names, region, settings, stops } = plan;
    const pattern = layers === null ? undefined : new RegExp(layers);
    const builder = new ProofBuilder(region, settings, names, stops, pattern);
    // what is counted and shown small is read from these
    const file = new ProofFile(region, builder, { deflate: deflateApart }, FIREFLY_LAYERS);
    assemblies.set(id, { plan, file, memory: null });
  },

  /** @param parts all chunks of a band, in the order of the plan */
  async add(id: number, region: Region, parts: readonly AssemblyPart[]): Promise<void> {
    const assembly = assemblies.get(id)!;
    const { extras, settings } = assembly.plan;
    const stride = filmStride(settings, extras);
    assembly.memory ??= emptyFilm(region, stride);
    const band = reuseFilm(assembly.memory, region);
    for (const { numbers, paths, region: tile } of parts) {
      const count = tile.width * tile.height * stride;
      if (unpacked.length < count) unpacked = new Float32Array(count);
      const data = unpackNumbers(numbers, count, unpacked);
      mergeFilm(band, { region: tile, stride, data, paths: paths ? unpackTallies(paths) : undefined });
    }
    await assembly.file.addBand(band);
  },

  /** @param record what the proof carries beside what was counted */
  async finish(
    id: number,
    record: object,
  ): Promise<{ pieces: Uint8Array[]; coarse: Uint8Array; statistics: RenderStatistics }> {
    const assembly = assemblies.get(id)!;
    const { file, plan } = assembly;
    assembly.memory = null;
    if (isLarge(plan)) collectGarbage(); // before the file takes its place
    const { picture, pieces, statistics } = await file.finish(({ noiseCheck, rays, samples }) => ({ ...record, rays, samples, noiseCheck })); // prettier-ignore
    if (plan.layers === null) statistics.fireflies = countFireflies(picture, plan.settings.pixelSamples);
    const coarse = shrinkPicture(picture);
    return transfer({ pieces, coarse, statistics }, [
      ...new Set([...pieces, coarse].map(({ buffer }) => buffer as ArrayBuffer)),
    ]);
  },

  drop(id: number): void {
    const assembly = assemblies.get(id);
    assemblies.delete(id);
    if (assembly && isLarge(assembly.plan)) collectGarbage();
  },
};
export type AssemblyThread = typeof api;
expose(api, nodeEndpoint(parentPort!));
