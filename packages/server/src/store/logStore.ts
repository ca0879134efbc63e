import { asc, eq, isNull, or } from 'drizzle-orm';
import type { LogPattern } from '@dusting/core/frames';
import type { Database } from '../db/connect.ts';
import { notify } from '../db/notices.ts';
import { harmless, logPatterns } from '../db/schema.ts';
import { Missing } from '../errors.ts';

/** Of a shot, and of the house. */
export function listHarmless(db: Database, shot: number) {
  const { id, key, reason, shot: of } = harmless;
  return db
    .select({ id, key, reason, shot: of })
    .from(harmless)
    .where(or(eq(harmless.shot, shot), isNull(harmless.shot)))
    .orderBy(asc(harmless.id));
}

/** @param shot where it is said; it may hold for the house */
export async function addHarmless(
  db: Database,
  shot: number,
  message: { key: string; reason: string; house: boolean },
): Promise<number> {
  const { key, reason, house } = message;
  const [added] = await db
    .insert(harmless)
    .values({ key, reason, shot: house ? null : shot })
    .returning({ id: harmless.id });
  await notify(db, { type: 'shot', shot });
  return added.id;
}

/** @throws Missing */
export async function removeHarmless(db: Database, shot: number, id: number): Promise<void> {
  const removed = await db.delete(harmless).where(eq(harmless.id, id)).returning({ id: harmless.id });
  if (removed.length === 0) throw new Missing('That message is not held to be harmless.');
  await notify(db, { type: 'shot', shot });
}

/** Of the house, in the order in which they came. */
export function listLogPatterns(db: Database) {
  const { expression, fact, id } = logPatterns;
  return db.select({ id, fact, expression }).from(logPatterns).orderBy(asc(id));
}

/** @param shot where it is being looked at */
export async function addLogPattern(db: Database, shot: number, { expression, fact }: LogPattern): Promise<number> {
  const [added] = await db.insert(logPatterns).values({ expression, fact }).returning({ id: logPatterns.id });
  await notify(db, { type: 'shot', shot });
  return added.id;
}

/** @throws Missing */
export async function removeLogPattern(db: Database, shot: number, id: number): Promise<void> {
  const removed = await db.delete(logPatterns).where(eq(logPatterns.id, id)).returning({ id: logPatterns.id });
  if (removed.length === 0) throw new Missing('That pattern is gone already.');
  await notify(db, { type: 'shot', shot });
}
