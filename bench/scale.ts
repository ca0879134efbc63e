// npm run bench:scale: what the database's part of a render costs. A cluster of its own in data/bench, the demo shot, and
// callers that take chunks and hand films back without rendering.
import { once } from 'node:events';
import { importShot } from '@dusting/core/scene';
import {
  bandsOf,
  compileScene,
  packFilm,
  PathTracer,
  planChunks,
  renderChunk,
  unpackNumbers,
} from '@dusting/core/render';
import { buildLh010 } from '@dusting/demo';
import { sql } from 'drizzle-orm';
import { preparePostgres, waitForPort } from '../scripts/lib/postgres.mjs';
import { connect, migrateDatabase } from '../packages/server/src/db/connect.ts';
import { addProof } from '../packages/server/src/store/proofStore.ts';
import { addShot, getShot } from '../packages/server/src/store/shotStore.ts';
import { chunksOfBand, claimChunk, filmsAt, finishChunk } from '../packages/server/src/store/workStore.ts';
import { line } from './measure.ts';

const CHUNK_SECONDS = 3;

const postgres = await preparePostgres('data/bench');
const child = postgres.start();
await waitForPort(postgres.port, 60);
try {
  const { db, pool } = connect(postgres.url, 16);
  await migrateDatabase(db);
  await db.execute(sql`truncate shots, blobs, nodes cascade`);
  const imported = await importShot(await buildLh010());
  const shot = await addShot(db, imported);
  const { document, revision } = await getShot(db, shot);
  const region = { x: 0, y: 0, width: 640, height: 360 };
  // one tile of jars, handed back again and again
  const scene = compileScene(document, document.final, (id) => imported.blobs.get(id)!.bytes);
  const tile = { region: { x: 160, y: 100, width: 32, height: 32 }, sampleStart: 0, sampleCount: 12 };
  const film = renderChunk(new PathTracer(scene, document.final), tile);
  const { data } = film;
  const started = performance.now();
  const bytes = { film: packFilm(film).numbers, picture: new Uint8Array(32 * 32 * 12), milliseconds: 1 };
  const packing = performance.now() - started;
  console.log(`a film of 32 x 32 pixels: ${(data.byteLength / 1e6).toFixed(2)} MB, packed in ${packing.toFixed(0)} ms to ${(bytes.film.length / 1e6).toFixed(2)} MB\n`); // prettier-ignore
  for (const callers of [1, 4, 16, 64]) {
    const settings = { ...document.final, ...region, pixelSamples: 16 };
    const plan = planChunks(region, settings);
    const { width, height, pixelSamples } = settings;
    const proof = await addProof(
      db,
      { shot, kind: 'proof', revision, patch: [], use: 'final', settings: { ...document.final, width, height, pixelSamples }, region },
      plan,
    ); // prettier-ignore
    const started = performance.now();
    const work = async (name: string) => {
      for (;;) {
        const claim = await claimChunk(db, name);
        if (!claim) return;
        await finishChunk(db, { id: proof, shot, diagnosis: null }, claim.place, bytes);
      }
    };
    await Promise.all(Array.from({ length: callers }, (_, i) => work(`caller-${i}`)));
    const seconds = (performance.now() - started) / 1000;
    const merged = performance.now();
    let read = 0;
    for (const { y } of bandsOf(region)) {
      const places = (await chunksOfBand(db, proof, y)).map(({ place }) => place);
      for (const packed of (await filmsAt(db, proof, places)).values())
        read += unpackNumbers(packed, data.length).byteLength;
    }
    const merging = (performance.now() - merged) / 1000;
    const each = (seconds * callers) / plan.length;
    line(`${callers} callers: share of a chunk of ${CHUNK_SECONDS} s`, (each + merging / plan.length) / CHUNK_SECONDS, `${(plan.length / seconds).toFixed(0)} chunks/s, ${(each * 1000).toFixed(1)} ms a chunk for its caller, read back at ${(read / 1e6 / merging).toFixed(0)} MB/s`); // prettier-ignore
    await db.execute(sql`delete from proofs where id = ${proof}`);
  }
  await pool.end();
} finally {
  child.kill('SIGINT');
  await once(child, 'exit');
}
