import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import type { Database } from '../db/connect.ts';
import { notify } from '../db/notices.ts';
import { defects } from '../db/schema.ts';
import { Missing } from '../errors.ts';

export type StoredDefect = typeof defects.$inferSelect;
export type NewDefect = Pick<typeof defects.$inferInsert, 'shot' | 'kind' | 'region' | 'frame' | 'note' | 'seenOn'>;

export async function addDefect(db: Database, defect: NewDefect): Promise<StoredDefect> {
  return db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(${defect.shot})`);
    const [{ last }] = await tx
      .select({ last: sql<number>`coalesce(max(${defects.number}), 0)::int` })
      .from(defects)
      .where(eq(defects.shot, defect.shot));
    const [added] = await tx
      .insert(defects)
      .values({ ...defect, number: last + 1 })
      .returning();
    await notify(tx, { type: 'shot', shot: defect.shot });
    return added;
  });
}

export async function getDefect(db: Database, id: number): Promise<StoredDefect> {
  const [defect] = await db.select().from(defects).where(eq(defects.id, id));
  if (!defect) throw new Missing(`There is no defect with the id ${id}.`);
  return defect;
}

/** Those that were not removed, in the order of their numbers. */
export function listDefects(db: Database, shotIds: number[]): Promise<StoredDefect[]> {
  if (shotIds.length === 0) return Promise.resolve([]);
  return db
    .select()
    .from(defects)
    .where(and(inArray(defects.shot, shotIds), eq(defects.removed, false)))
    .orderBy(asc(defects.number));
}

export async function changeDefect(
  db: Database,
  id: number,
  change: Partial<Pick<StoredDefect, 'state' | 'note' | 'expected' | 'removed'>>,
): Promise<StoredDefect> {
  const [changed] = await db.update(defects).set(change).where(eq(defects.id, id)).returning();
  if (!changed) throw new Missing(`There is no defect with the id ${id}.`);
  await notify(db, { type: 'shot', shot: changed.shot });
  return changed;
}
