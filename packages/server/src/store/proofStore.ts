import { and, asc, desc, eq, getTableColumns, gt, inArray, sql } from 'drizzle-orm';
import { RENDER_PURPOSES } from '@dusting/core/diagnose';
import type { Chunk } from '@dusting/core/render';
import { completeSettings } from '@dusting/core/scene';
import type { Database } from '../db/connect.ts';
import { notify, notifyProof } from '../db/notices.ts';
import { chunks, proofs, shots } from '../db/schema.ts';
import { Conflict, Missing, noteConflict } from '../errors.ts';
import type { PictureSource } from '../pictures/openPictures.ts';
import { takeNumbers } from './shotStore.ts';

export type { Prediction } from '../db/schema.ts';
export type Proof = Omit<typeof proofs.$inferSelect, 'coarse'>;
type NewProof = Pick<
  typeof proofs.$inferInsert,
  | 'shot'
  | 'kind'
  | 'purpose'
  | 'extras'
  | 'layers'
  | 'revision'
  | 'patch'
  | 'before'
  | 'use'
  | 'settings'
  | 'region'
  | 'predicted'
  | 'sweep'
  | 'diagnosis'
>;

const { coarse, ...columns } = getTableColumns(proofs);

/** Trials are short and someone waits for them, as for urgent diagnostic renders: they go before proofs. */
const priorityOf = ({ kind, purpose }: NewProof) =>
  kind === 'trial' || (purpose && RENDER_PURPOSES[purpose].urgent) ? 0 : 1;

/** Queues a render: the proof with all its chunks. */
export async function addProof(db: Database, proof: NewProof, plan: Chunk[]): Promise<number> {
  return db.transaction(async (tx) => {
    const number = await takeNumbers(tx, proof.shot, proof.purpose ?? proof.kind);
    const [{ id }] = await tx
      .insert(proofs)
      // nobody looks at the first picture of a render that only a diagnosis reads
      .values({
        ...proof,
        number,
        chunkCount: plan.length,
        ...(proof.kind === 'diagnostic' && { coarse: new Uint8Array(0) }),
      })
      .returning({ id: proofs.id });
    const rows = plan.map((chunk, place) => ({ ...chunk, proof: id, place, priority: priorityOf(proof) }));
    for (let at = 0; at < rows.length; at += 2000) await tx.insert(chunks).values(rows.slice(at, at + 2000));
    await notify(tx, { type: 'work' });
    await notifyProof(tx, { id, shot: proof.shot, diagnosis: proof.diagnosis ?? null });
    return id;
  });
}

export async function getProof(db: Database, id: number): Promise<Proof> {
  const [proof] = await db.select(columns).from(proofs).where(eq(proofs.id, id));
  if (!proof) throw new Missing(`There is no proof with the id ${id}.`);
  return upToDate(proof);
}

/** A finished proof, and how its picture is read. @throws Missing */
export async function getPicture(db: Database, id: number): Promise<{ proof: Proof; source: PictureSource }> {
  const [row] = await db
    .select({ proof: columns, mapping: shots.mapping })
    .from(proofs)
    .innerJoin(shots, eq(shots.id, proofs.shot))
    .where(eq(proofs.id, id));
  if (!row) throw new Missing(`There is no proof with the id ${id}.`);
  if (!row.proof.blob) throw new Missing('This proof is not finished.');
  return { proof: upToDate(row.proof), source: { blob: row.proof.blob, mapping: row.mapping } };
}

/** Pictures of the frames just before and after one of a sequence, of the same size. */
export async function besideOf(
  db: Database,
  { frame, region, shot }: Pick<Proof, 'frame' | 'region' | 'shot'>,
): Promise<string[]> {
  if (frame === null) return [];
  const rows = await db
    .select({ blob: proofs.blob, frame: proofs.frame, region: proofs.region })
    .from(proofs)
    .where(and(eq(proofs.shot, shot), inArray(proofs.frame, [frame - 1, frame + 1])))
    .orderBy(asc(proofs.frame), desc(proofs.id));
  const alike = rows.filter((row) => row.blob !== null && JSON.stringify(row.region) === JSON.stringify(region));
  // of a frame that was brought in again, the newest
  return alike.filter((row, i) => row.frame !== alike[i - 1]?.frame).map(({ blob }) => blob!);
}

/** Settings are stored as they were; those that came later stand at their defaults. */
function upToDate(proof: Proof): Proof {
  return { ...proof, settings: completeSettings(proof.settings) };
}

export async function getCoarse(db: Database, id: number): Promise<Uint8Array | null> {
  const [row] = await db.select({ coarse }).from(proofs).where(eq(proofs.id, id));
  return row?.coarse ?? null;
}

/** All proofs and trials of a shot but the cancelled ones, oldest first. */
export function listProofs(db: Database, shot: number): Promise<Proof[]> {
  return db
    .select(columns)
    .from(proofs)
    .where(and(eq(proofs.shot, shot), sql`${proofs.state} <> 'cancelled'`))
    .orderBy(asc(proofs.id))
    .then((rows) => rows.map(upToDate));
}

/** The newest render that is not finished, of each shot, by the shot. */
export async function listUnderWay(db: Database): Promise<Map<number, Proof>> {
  const rows = await db
    .select(columns)
    .from(proofs)
    .where(and(inArray(proofs.state, ['queued', 'rendering', 'merging']), eq(proofs.kind, 'proof')))
    .orderBy(asc(proofs.id));
  return new Map(rows.map((row) => [row.shot, row]));
}

/** Finished proofs of all shots, newest first. */
export function listFinished(db: Database): Promise<Proof[]> {
  return db
    .select(columns)
    .from(proofs)
    .where(and(eq(proofs.state, 'done'), eq(proofs.kind, 'proof')))
    .orderBy(desc(proofs.id));
}

/** Share of the samples that are rendered, 0..1, for each proof that is not finished. */
export async function progressOf(db: Database, ids: number[]): Promise<Map<number, number>> {
  if (ids.length === 0) return new Map();
  const samples = sql`${chunks.sampleCount} * (${chunks.region}->>'width')::int * (${chunks.region}->>'height')::int`;
  const rows = await db
    .select({
      proof: chunks.proof,
      share: sql<number>`(coalesce(sum(${samples}) filter (where ${chunks.done}), 0)::float / sum(${samples}))::float`,
    })
    .from(chunks)
    .where(inArray(chunks.proof, ids))
    .groupBy(chunks.proof);
  return new Map(rows.map(({ proof, share }) => [proof, share]));
}

export function picturesSince(db: Database, proof: number, order: number) {
  return db
    .select({
      region: chunks.region,
      sampleCount: chunks.sampleCount,
      picture: chunks.picture,
      doneOrder: chunks.doneOrder,
    })
    .from(chunks)
    .where(and(eq(chunks.proof, proof), eq(chunks.done, true), gt(chunks.doneOrder, order)))
    .orderBy(asc(chunks.doneOrder));
}

/** Stops a render that is not finished; what was done of it is given up. */
export async function cancelProof(db: Database, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const [stopped] = await tx
      .update(proofs)
      .set({ state: 'cancelled', finishedAt: sql`now()` })
      .where(and(eq(proofs.id, id), inArray(proofs.state, ['queued', 'rendering'])))
      .returning({ shot: proofs.shot });
    if (!stopped) return;
    await tx.delete(chunks).where(eq(chunks.proof, id));
    await notify(tx, { type: 'proof', shot: stopped.shot, proof: id });
  });
}

/**
 * Note and pin of a proof.
 * @param was the note that is written over
 * @throws Conflict where the note is another by now
 */
export async function changeProof(
  db: Database,
  id: number,
  { was, ...change }: Partial<Pick<Proof, 'note' | 'pinned'>> & { was?: string },
): Promise<void> {
  if (Object.keys(change).length === 0) return;
  const known = change.note === undefined ? undefined : eq(proofs.note, was ?? '');
  const [changed] = await db
    .update(proofs)
    .set(change)
    .where(and(eq(proofs.id, id), known))
    .returning({ shot: proofs.shot });
  if (!changed) throw new Conflict(noteConflict((await getProof(db, id)).note));
  await notify(db, { type: 'proof', shot: changed.shot, proof: id });
}
