import { asc, eq } from 'drizzle-orm';
import type { Database } from '../db/connect.ts';
import { notify } from '../db/notices.ts';
import { proofs, sweeps } from '../db/schema.ts';
import { Missing } from '../errors.ts';
import { cancelProof, listProofs } from './proofStore.ts';
import { removeProof } from './removal.ts';

export type Sweep = typeof sweeps.$inferSelect;

export async function addSweep(db: Database, sweep: typeof sweeps.$inferInsert): Promise<number> {
  const [{ id }] = await db.insert(sweeps).values(sweep).returning({ id: sweeps.id });
  return id;
}

/** Of a shot, oldest first. */
export function listSweeps(db: Database, shot: number): Promise<Sweep[]> {
  return db.select().from(sweeps).where(eq(sweeps.shot, shot)).orderBy(asc(sweeps.id));
}

async function trialsOf(db: Database, sweep: number) {
  const [found] = await db.select({ shot: sweeps.shot, axes: sweeps.axes }).from(sweeps).where(eq(sweeps.id, sweep));
  if (!found) throw new Missing(`There is no sweep ${sweep}.`);
  const trials = await db.select({ id: proofs.id }).from(proofs).where(eq(proofs.sweep, sweep)).orderBy(asc(proofs.id));
  return { ...found, trials };
}

/** A sweep with those of its trials that are done. @throws Missing */
export async function finishedTrials(db: Database, sweep: number) {
  const { shot, axes } = await trialsOf(db, sweep);
  const trials = (await listProofs(db, shot)).filter((p) => p.sweep === sweep && p.state === 'done');
  return { shot, axes, trials };
}

/** Stops what is not finished; what is done is kept. @throws Missing */
export async function cancelSweep(db: Database, sweep: number): Promise<void> {
  for (const { id } of (await trialsOf(db, sweep)).trials.reverse()) await cancelProof(db, id);
}

/** Deletes a sweep with its trials. @returns bytes freed @throws Missing, Conflict */
export async function removeSweep(db: Database, sweep: number): Promise<number> {
  const { shot, trials } = await trialsOf(db, sweep);
  let freed = 0;
  for (const { id } of trials) freed += await removeProof(db, id);
  await db.delete(sweeps).where(eq(sweeps.id, sweep));
  await notify(db, { type: 'shot', shot });
  return freed;
}
