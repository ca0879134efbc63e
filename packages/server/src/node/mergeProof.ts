import { writeExrAtOnce } from '@dusting/core/formats';
import {
  bandsOf,
  emptyFilm,
  filmNames,
  filmStride,
  lensRecord,
  mergeFilm,
  noiseCheckNote,
  ProofBuilder,
  reuseFilm,
  raysIn,
  unpackTallies,
  type RenderStatistics,
} from '@dusting/core/render';
import { countFireflies, proofFindings } from '@dusting/core/diagnose';
import type { Region } from '@dusting/core/image';
import { patchShot } from '@dusting/core/scene';
import { shrinkPicture } from './coarse.ts';
import type { Database } from '../db/connect.ts';
import type { LogLine } from '../db/schema.ts';
import { nativeDeflateLater } from '../pictures/openPictures.ts';
import { unpackFilm } from '../store/packedFilm.ts';
import { filmsOfBand, finishProof } from '../store/workStore.ts';
import type { Proof } from '../store/proofStore.ts';
import { getRevision } from '../store/shotStore.ts';

/** Puts the films of all chunks together, band by band and in the order of the plan, and keeps the proof. */
export async function mergeProof(db: Database, proof: Proof, threads: number): Promise<void> {
  const started = performance.now();
  const document = patchShot(await getRevision(db, proof.shot, proof.revision), proof.patch);
  const { noise } = document;
  const layers = proof.layers === null ? undefined : new RegExp(proof.layers);
  const builder = new ProofBuilder(proof.region, proof.settings, filmNames(document), noise.stops, layers);
  const stride = filmStride(proof.settings, proof.extras);
  let milliseconds = 0;
  // that of one band, filled again for each: all are as wide, and none is higher than the first
  let memory: ReturnType<typeof emptyFilm> | null = null;
  const bands = bandsOf(proof.region);
  // the next band is fetched and inflated while this one is put together
  let next = partsOfBand(db, proof.id, bands[0]);
  for (const [i, region] of bands.entries()) {
    const parts = await next;
    if (i + 1 < bands.length) next = partsOfBand(db, proof.id, bands[i + 1]);
    memory ??= emptyFilm(region, stride);
    const band = reuseFilm(memory, region);
    for (const part of parts) {
      const paths = part.paths ? unpackTallies(part.paths) : undefined;
      mergeFilm(band, { region: part.region, stride, data: part.data, paths });
      milliseconds += part.milliseconds ?? 0;
    }
    if (band.paths) builder.addPaths(band.paths);
    builder.addBand(band);
  }
  const seconds = milliseconds / 1000 / threads;
  const lens = lensRecord(document.cameras[document.camera], proof.settings);
  const { picture, statistics } = builder.finish(({ noiseCheck, rays, samples }) => ({
    use: proof.use,
    settings: proof.settings,
    noise,
    seconds: { render: seconds },
    rays,
    samples,
    noiseCheck,
    lens,
  }));
  if (!layers) statistics.fireflies = countFireflies(picture, proof.settings.pixelSamples);
  const coarse = shrinkPicture(picture);
  const bytes = await writeExrAtOnce(picture, nativeDeflateLater);
  const merged = (performance.now() - started) / 1000;
  const log = [...proof.log, ...logOf(proof, statistics, seconds, merged)];
  await finishProof(db, proof, { bytes, coarse, statistics, seconds, log });
}

/** The films of a band, in the order of the plan. */
async function partsOfBand(db: Database, proof: number, { y }: Region) {
  const parts = await filmsOfBand(db, proof, y);
  return Promise.all(parts.map(async ({ film, ...part }) => ({ ...part, data: await unpackFilm(film!) })));
}

function logOf(proof: Proof, statistics: RenderStatistics, seconds: number, merged: number): LogLine[] {
  const at = new Date().toISOString();
  const rays = raysIn(statistics);
  const lines: LogLine[] = [
    {
      at,
      level: 'note',
      text: `${statistics.samples} samples, ${(rays / 1e6).toFixed(2)} million rays, ${seconds.toFixed(1)} s`,
    },
    { at, level: 'note', text: noiseCheckNote(statistics) },
    { at, level: 'note', text: `Put together and written in ${merged.toFixed(2)} s.` },
  ];
  for (const { severity, text } of proofFindings(statistics, proof.settings)) lines.push({ at, level: severity, text });
  return lines;
}
