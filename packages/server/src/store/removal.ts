// Deleting, and what it frees: blobs go with the last proof or revision that refers to them.
import { eq, inArray, sql } from 'drizzle-orm';
import { blobsOf } from '@dusting/core/scene';
import type { Database } from '../db/connect.ts';
import { notify } from '../db/notices.ts';
import { chunks, proofs, revisions, shots } from '../db/schema.ts';
import { Conflict, Missing } from '../errors.ts';

type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];

/** Deletes a proof, stopping its render. @returns bytes freed @throws Missing, Conflict while it is being put together */
export async function removeProof(db: Database, id: number): Promise<number> {
  return db.transaction(async (tx) => {
    const [proof] = await tx
      .select({ shot: proofs.shot, state: proofs.state, blob: proofs.blob })
      .from(proofs)
      .where(eq(proofs.id, id))
      .for('update');
    if (!proof) throw new Missing(`There is no proof with the id ${id}.`);
    if (proof.state === 'merging') throw new Conflict('This proof is just being put together: try again in a moment.');
    await tx.delete(chunks).where(eq(chunks.proof, id));
    await tx.update(proofs).set({ before: null }).where(eq(proofs.before, id));
    await tx.update(shots).set({ reference: null }).where(eq(shots.reference, id));
    await tx.delete(proofs).where(eq(proofs.id, id));
    const freed = await dropUnused(tx, proof.blob ? [proof.blob] : []);
    await notify(tx, { type: 'proof', shot: proof.shot, proof: id });
    return freed;
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
    const used = new Set([...documents.flatMap(({ document }) => blobsOf(document)), ...own.flatMap(({ blob }) => blob ?? [])]); // prettier-ignore
    await tx.delete(shots).where(eq(shots.id, id));
    const freed = await dropUnused(tx, [...used]);
    await notify(tx, { type: 'shot', shot: id });
    return freed;
  });
}

async function dropUnused(tx: Transaction, ids: string[]): Promise<number> {
  if (ids.length === 0) return 0;
  const { rows } = await tx.execute<{ bytes: number }>(sql`
    delete from blobs b where ${inArray(sql`b.id`, ids)}
      and not exists (select 1 from proofs p where p.blob = b.id)
      and not exists (select 1 from revisions r where position(b.id in r.document::text) > 0)
    returning b.bytes`);
  return rows.reduce((sum, { bytes }) => sum + bytes, 0);
}
