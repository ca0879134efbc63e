import { createHash } from 'node:crypto';
import { asc, eq, sql } from 'drizzle-orm';
import type { ByteRange } from '@dusting/core/formats';
import type { Database } from '../db/connect.ts';
import { Missing } from '../errors.ts';
import { blobPieces as pieceRows, blobs } from '../db/schema.ts';
import type { FileStore } from '../pictures/sparseFile.ts';
import { blobPieces, PIECE } from './blobPieces.ts';

type Writer = Pick<Database, 'insert'>;

/** Stores bytes under their SHA-256 and returns it. Bytes that are there already are not stored twice. @param bytes or parts of them, in their order */
export async function saveBlob(db: Writer, bytes: Uint8Array | Uint8Array[], mediaType: string): Promise<string> {
  const parts = Array.isArray(bytes) ? bytes : [bytes];
  const hash = createHash('sha256');
  for (const part of parts) hash.update(part);
  const id = hash.digest('hex');
  const [{ isNew }] = await db
    .insert(blobs)
    .values({ id, bytes: parts.reduce((sum, { length }) => sum + length, 0), mediaType })
    // what is there counts as new, so that it is not removed before it is referred to
    .onConflictDoUpdate({ target: blobs.id, set: { createdAt: sql`now()` } })
    .returning({ isNew: sql<boolean>`xmax = 0` });
  if (isNew) {
    let place = 0;
    for (const data of blobPieces(parts)) await db.insert(pieceRows).values({ blob: id, place: place++, data });
  }
  return id;
}

/** Bytes of a blob. @throws Missing where there is no such blob: what it belonged to was removed */
async function blobLength(db: Database, id: string): Promise<number> {
  const [blob] = await db.select({ bytes: blobs.bytes }).from(blobs).where(eq(blobs.id, id));
  if (!blob) throw new Missing('What this belonged to has been removed meanwhile.');
  return blob.bytes;
}

/** @throws Missing */
export async function loadBlob(db: Database, id: string): Promise<Uint8Array> {
  const bytes = new Uint8Array(await blobLength(db, id));
  const pieces = await db.select().from(pieceRows).where(eq(pieceRows.blob, id)).orderBy(asc(pieceRows.place));
  for (const { place, data } of pieces) bytes.set(data, place * PIECE);
  return bytes;
}

/** Puts ranges of a blob into an array as long as the blob. */
async function loadRanges(db: Database, id: string, ranges: ByteRange[], into: Uint8Array): Promise<void> {
  const parts = ranges.flatMap(([start, end]) => {
    const found: { place: number; first: number; count: number }[] = [];
    for (let place = Math.floor(start / PIECE); place * PIECE < end; place++) {
      const first = Math.max(0, start - place * PIECE);
      found.push({ place, first, count: Math.min(PIECE, end - place * PIECE) - first });
    }
    return found;
  });
  const { rows } = await db.execute<{ at: number; data: Buffer }>(sql`
    select part.place * ${PIECE}::int + part.first as at, substring(piece.data from part.first + 1 for part.count) as data
    from jsonb_to_recordset(${JSON.stringify(parts)}::jsonb) as part(place int, first int, count int)
    join ${pieceRows} piece on piece.blob = ${id} and piece.place = part.place`);
  for (const { at, data } of rows) into.set(data, at);
}

export const storeOf = (db: Database): FileStore => ({
  length: (id) => blobLength(db, id),
  read: (id, ranges, into) => loadRanges(db, id, ranges, into),
});
