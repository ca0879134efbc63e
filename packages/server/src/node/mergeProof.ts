import { writeExr } from '@dusting/core/formats';
import {
  emptyFilm,
  filmStatistics,
  filmNames,
  lensRecord,
  mergeFilm,
  noiseCheckNote,
  proofPicture,
  raysIn,
  unpackTallies,
  type RenderStatistics,
} from '@dusting/core/render';
import { proofFindings } from '@dusting/core/diagnose';
import { patchShot } from '@dusting/core/scene';
import { shrinkFilm } from './coarse.ts';
import type { Database } from '../db/connect.ts';
import type { LogLine } from '../db/schema.ts';
import { nativeDeflate } from '../pictures/openPictures.ts';
import { unpackFilm } from '../store/packedFilm.ts';
import { filmsInOrder, finishProof } from '../store/workStore.ts';
import type { Proof } from '../store/proofStore.ts';
import { getRevision } from '../store/shotStore.ts';

/** Puts the films of all chunks together in the order of the plan, and keeps the proof. */
export async function mergeProof(db: Database, proof: Proof, threads: number): Promise<void> {
  const started = performance.now();
  const film = emptyFilm(proof.region);
  let milliseconds = 0;
  for await (const part of filmsInOrder(db, proof.id, proof.chunkCount)) {
    mergeFilm(film, {
      region: part.region,
      data: unpackFilm(part.film!),
      paths: part.paths ? unpackTallies(part.paths) : undefined,
    });
    milliseconds += part.milliseconds ?? 0;
  }
  const document = patchShot(await getRevision(db, proof.shot, proof.revision), proof.patch);
  const { noise } = document;
  const statistics = filmStatistics(film, noise.stops);
  const seconds = milliseconds / 1000 / threads;
  const record = {
    use: proof.use,
    settings: proof.settings,
    noise,
    seconds: { render: seconds },
    rays: statistics.rays,
    samples: statistics.samples,
    noiseCheck: statistics.noiseCheck,
    lens: lensRecord(document.cameras[document.camera], proof.settings),
  };
  const picture = proofPicture(film, proof.settings, filmNames(document), record);
  const [bytes, coarse] = [writeExr(picture, { deflate: nativeDeflate }), shrinkFilm(film)];
  const merged = (performance.now() - started) / 1000;
  const log = [...proof.log, ...logOf(proof, statistics, seconds, merged)];
  await finishProof(db, proof, { bytes, coarse, statistics, seconds, log });
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
