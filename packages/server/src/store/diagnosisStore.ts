// Diagnoses: one row from the moment it is asked for, so that its progress can be followed and it survives a restart.
import { and, desc, eq, ne, sql } from 'drizzle-orm';
import type { DiagnosisKey, Explanation } from '@dusting/core/diagnose';
import type { Database } from '../db/connect.ts';
import { notify } from '../db/notices.ts';
import { defects, diagnoses, proofs } from '../db/schema.ts';
import { Missing } from '../errors.ts';
import { changeDefect, getDefect } from './defectStore.ts';
import { cancelProof } from './proofStore.ts';
import { removeProof } from './removal.ts';

export type StoredDiagnosis = typeof diagnoses.$inferSelect;

export async function addDiagnosis(db: Database, defect: number, key: DiagnosisKey): Promise<StoredDiagnosis> {
  const [added] = await db.insert(diagnoses).values({ defect, proof: key.proof, key }).returning();
  return added;
}

/** The newest of a defect on a proof; null where none was asked for. */
export async function findDiagnosis(db: Database, defect: number, proof: number): Promise<StoredDiagnosis | null> {
  const [row] = await db
    .select()
    .from(diagnoses)
    .where(and(eq(diagnoses.defect, defect), eq(diagnoses.proof, proof)))
    .orderBy(desc(diagnoses.id))
    .limit(1);
  return row ?? null;
}

/** @throws Missing */
export async function getDiagnosis(db: Database, id: number): Promise<StoredDiagnosis> {
  const [row] = await db.select().from(diagnoses).where(eq(diagnoses.id, id));
  if (!row) throw new Missing(`There is no diagnosis with the id ${id}.`);
  return row;
}

/** Those that were under way when the server stopped. */
export async function unfinishedDiagnoses(db: Database): Promise<number[]> {
  const rows = await db.select({ id: diagnoses.id }).from(diagnoses).where(eq(diagnoses.state, 'running'));
  return rows.map(({ id }) => id);
}

export async function reportDiagnosis(db: Database, id: number, progress: number, stage: string): Promise<void> {
  await changeRunning(db, id, { progress, stage });
}

/** Keeps what was found, with the blobs that it names; an open defect is explained by it. */
export async function finishDiagnosis(db: Database, id: number, result: Explanation, kept: string[]): Promise<void> {
  const changed = await changeRunning(db, id, { state: 'done', progress: 1, stage: '', result, kept });
  if (!changed) return;
  // those before it are not looked at again, and their blobs are free
  await db
    .update(diagnoses)
    .set({ kept: [] })
    .where(and(eq(diagnoses.defect, changed.defect), eq(diagnoses.proof, changed.proof), ne(diagnoses.id, id)));
  const defect = await getDefect(db, changed.defect);
  if (defect.state === 'open') await changeDefect(db, defect.id, { state: 'explained' });
}

/** Ends one that is under way, and the renders that it asked for. */
export async function endDiagnosis(
  db: Database,
  id: number,
  ended: { state: 'failed'; error: string } | { state: 'cancelled' },
): Promise<void> {
  await changeRunning(db, id, { ...ended, stage: '' });
  const own = await db.select({ id: proofs.id }).from(proofs).where(eq(proofs.diagnosis, id));
  for (const { id: proof } of own) await cancelProof(db, proof);
}

/** Deletes the renders of a diagnosis: what it found in them is kept. */
export async function dropRenders(db: Database, id: number): Promise<void> {
  const own = await db
    .select({ id: proofs.id })
    .from(proofs)
    .where(and(eq(proofs.diagnosis, id), sql`${proofs.state} <> 'merging'`));
  for (const { id: proof } of own) await removeProof(db, proof);
}

/** Deletes renders that were being put together when their diagnosis ended. */
export async function dropLeftRenders(db: Database): Promise<void> {
  const left = await db
    .selectDistinct({ id: diagnoses.id })
    .from(proofs)
    .innerJoin(diagnoses, eq(diagnoses.id, proofs.diagnosis))
    .where(ne(diagnoses.state, 'running'));
  for (const { id } of left) await dropRenders(db, id);
}

async function changeRunning(db: Database, id: number, change: Partial<StoredDiagnosis>) {
  const [changed] = await db
    .update(diagnoses)
    .set(change)
    .where(and(eq(diagnoses.id, id), eq(diagnoses.state, 'running')))
    .returning({ defect: diagnoses.defect, proof: diagnoses.proof });
  if (!changed) return null;
  const [{ shot }] = await db.select({ shot: defects.shot }).from(defects).where(eq(defects.id, changed.defect));
  await notify(db, { type: 'diagnosis', shot, defect: changed.defect });
  return changed;
}
