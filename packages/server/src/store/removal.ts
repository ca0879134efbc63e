// Deleting, and what it frees: blobs go with the last proof or revision that refers to them.
import { eq, inArray, sql, type SQL } from 'drizzle-orm';
import { blobsOf } from '@dusting/core/scene';
import type { Database } from '../db/connect.ts';
import { notify, notifyProof } from '../db/notices.ts';
import { chunks, diagnoses, proofs, revisions, shots } from '../db/schema.ts';
import { Conflict, Missing } from '../errors.ts';

type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];

/** Deletes a proof, stopping its render. @returns bytes freed @throws Missing, Conflict while it is being put together */
export async function removeProof(db: Database, id: number): Promise<number> {
  return db.transaction(async (tx) => {
    const [proof] = await tx
      .select({ id: proofs.id, shot: proofs.shot, diagnosis: proofs.diagnosis, state: proofs.state, blob: proofs.blob })
      .from(proofs)
      .where(eq(proofs.id, id))
      .for('update');
    if (!proof) throw new Missing(`There is no proof with the id ${id}.`);
    if (proof.state === 'merging') throw new Conflict('This proof is just being put together: try again in a moment.');
    const kept = await keptBy(tx, eq(diagnoses.proof, id));
    await tx.delete(chunks).where(eq(chunks.proof, id));
    await tx.update(proofs).set({ before: null }).where(eq(proofs.before, id));
    await tx.update(shots).set({ reference: null }).where(eq(shots.reference, id));
    await tx.delete(proofs).where(eq(proofs.id, id));
    const bytes = await dropUnused(tx, [...(proof.blob ? [proof.blob] : []), ...kept]);
    await notifyProof(tx, proof);
    return bytes;
  });
}

/** Deletes a shot with everything that belongs to it. @returns bytes freed @throws Missing, Conflict */
export async function removeShot(db: Database, id: number): Promise<number> {
  return db.transaction(async (tx) => {
    const [shot] = await tx.select({ id: shots.id }).from(shots).where(eq(shots.id, id)).for('update');
    if (!shot) throw new Missing(`There is no shot ${id}.`);
    const own = await tx.select({ state: proofs.state, blob: proofs.blob }).from(proofs).where(eq(proofs.shot, id));
    if (own.some(({ state }) => state === 'merging'))
      throw new Conflict('A proof of this shot is just being put together: try again in a moment.');
    const documents = await tx.select({ document: revisions.document }).from(revisions).where(eq(revisions.shot, id));
    const kept = await keptBy(tx, inArray(diagnoses.proof, tx.select({ id: proofs.id }).from(proofs).where(eq(proofs.shot, id)))); // prettier-ignore
    const used = new Set([...kept, ...documents.flatMap(({ document }) => blobsOf(document)), ...own.flatMap(({ blob }) => blob ?? [])]); // prettier-ignore
    await tx.delete(shots).where(eq(shots.id, id));
    const bytes = await dropUnused(tx, [...used]);
    await notify(tx, { type: 'shot', shot: id });
    return bytes;
  });
}

/** Blobs that evidence of some diagnoses names. */
async function keptBy(tx: Transaction, which: SQL): Promise<string[]> {
  return (await tx.select({ kept: diagnoses.kept }).from(diagnoses).where(which)).flatMap(({ kept }) => kept);
}

/** Everything that refers to a blob: pictures of proofs, revisions, what is pending on a slip or was tried, and evidence. */
const USED = sql`
  select blob as id from proofs where blob is not null
  union select (regexp_matches(document::text, '[0-9a-f]{64}', 'g'))[1] from revisions
  union select (regexp_matches(slip::text, '[0-9a-f]{64}', 'g'))[1] from shots
  union select (regexp_matches(patch::text, '[0-9a-f]{64}', 'g'))[1] from proofs
  union select jsonb_array_elements_text(kept) from diagnoses`;

async function dropUnused(tx: Transaction, ids: string[]): Promise<number> {
  if (ids.length === 0) return 0;
  return freed(
    await tx.execute(sql`delete from blobs where ${inArray(sql`id`, ids)} and id not in (${USED}) returning bytes`),
  );
}

/**
 * Deletes blobs that nothing refers to: pictures that were chosen and not kept, and what a failed import left. A day passes
 * first, as a page may hold one that it has not put on a slip yet.
 * @returns bytes freed
 */
export async function removeLeftBlobs(db: Database): Promise<number> {
  return freed(
    await db.execute(
      sql`delete from blobs where created_at < now() - interval '1 day' and id not in (${USED}) returning bytes`,
    ),
  );
}

const freed = ({ rows }: { rows: Record<string, unknown>[] }) => rows.reduce((sum, { bytes }) => sum + Number(bytes), 0); // prettier-ignore
