import { createHash } from 'node:crypto';
import { asc, eq, sql } from 'drizzle-orm';
import type { Database } from '../db/connect.ts';
import { Missing } from '../errors.ts';
import { blobPieces, blobs } from '../db/schema.ts';

const PIECE = 1 << 20;
type Writer = Pick<Database, 'insert'>;

/** Stores bytes under their SHA-256 and returns it. Bytes that are there already are not stored twice. */
export async function saveBlob(db: Writer, bytes: Uint8Array, mediaType: string): Promise<string> {
  const id = createHash('sha256').update(bytes).digest('hex');
  const [{ isNew }] = await db
    .insert(blobs)
    .values({ id, bytes: bytes.length, mediaType })
    // what is there counts as new, so that it is not removed before it is referred to
    .onConflictDoUpdate({ target: blobs.id, set: { createdAt: sql`now()` } })
    .returning({ isNew: sql<boolean>`xmax = 0` });
  if (isNew)
    for (let place = 0; place * PIECE < bytes.length; place++)
      await db.insert(blobPieces).values({ blob: id, place, data: bytes.subarray(place * PIECE, (place + 1) * PIECE) });
  return id;
}

/** @throws Missing where there is no such blob: what it belonged to was removed */
export async function loadBlob(db: Database, id: string): Promise<Uint8Array> {
  const [blob] = await db.select().from(blobs).where(eq(blobs.id, id));
  if (!blob) throw new Missing('What this belonged to has been removed meanwhile.');
  const bytes = new Uint8Array(blob.bytes);
  const pieces = await db.select().from(blobPieces).where(eq(blobPieces.blob, id)).orderBy(asc(blobPieces.place));
  for (const { place, data } of pieces) bytes.set(data, place * PIECE);
  return bytes;
}
