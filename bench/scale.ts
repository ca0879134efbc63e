// npm run bench:scale: what the database's part of a render costs. A cluster of its own in data/bench, the demo shot, and
// callers that take chunks and hand films back without rendering.
import { once } from 'node:events';
import { importShot } from '@dusting/core/scene';
import { FILM, planChunks } from '@dusting/core/render';
import { buildLh010 } from '@dusting/demo';
import { sql } from 'drizzle-orm';
import { preparePostgres, waitForPort } from '../scripts/lib/postgres.mjs';
import { connect, migrateDatabase } from '../packages/server/src/db/connect.ts';
import { addProof } from '../packages/server/src/store/proofStore.ts';
import { addShot, getShot } from '../packages/server/src/store/shotStore.ts';
import { claimChunk, filmsInOrder, finishChunk, loadChunk } from '../packages/server/src/store/workStore.ts';
import { line } from './measure.ts';

const CHUNK_SECONDS = 3;

const postgres = await preparePostgres('data/bench');
const child = postgres.start();
await waitForPort(postgres.port, 60);
try {
  const { db, pool } = connect(postgres.url, 16);
  await migrateDatabase(db);
  await db.execute(sql`truncate shots, blobs, nodes cascade`);
  const shot = await addShot(db, await importShot(await buildLh010()));
  const { document, revision } = await getShot(db, shot);
  const region = { x: 0, y: 0, width: 640, height: 360 };
  const film = new Float32Array(32 * 32 * FILM.stride).map((_, i) => Math.sin(i));
  const bytes = { film: new Uint8Array(film.buffer), picture: new Uint8Array(32 * 32 * 12), milliseconds: 1 };
  console.log(`a film of 32 x 32 pixels: ${(bytes.film.length / 1e6).toFixed(2)} MB\n`);
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
        await loadChunk(db, claim);
        await finishChunk(db, shot, claim, bytes);
      }
    };
    await Promise.all(Array.from({ length: callers }, (_, i) => work(`caller-${i}`)));
    const seconds = (performance.now() - started) / 1000;
    const merged = performance.now();
    let read = 0;
    for await (const part of filmsInOrder(db, proof, plan.length)) read += part.film!.length;
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
