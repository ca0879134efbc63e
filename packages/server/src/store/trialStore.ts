import { eq, sql } from 'drizzle-orm';
import { renderName } from '@dusting/core/diagnose';
import type { Database } from '../db/connect.ts';
import { proofs } from '../db/schema.ts';
import { BadRequest, Conflict, Missing } from '../errors.ts';
import { addRevision, type Editor } from './shotStore.ts';

export interface Decision {
  keep: boolean;
  reason: string;
}

/**
 * Keeps what a trial changed as the next revision, or drops it: both at once, so that of two windows that decide one comes
 * first, and the other is refused.
 * @returns the number of the revision, where it is kept
 * @throws Conflict where it was decided already, has not finished, or the shot was changed by another window
 */
export function decideTrial(
  db: Database,
  id: number,
  { keep, reason }: Decision,
  editor: Editor,
): Promise<number | null> {
  return db.transaction(async (tx) => {
    const [proof] = await tx.select().from(proofs).where(eq(proofs.id, id)).for('update');
    if (!proof) throw new Missing(`There is no proof with the id ${id}.`);
    if (proof.kind !== 'trial') throw new BadRequest('Only a trial can be kept or dropped.');
    if (proof.decision) throw new Conflict(`This trial was ${proof.decision} already.`);
    if (keep && proof.state !== 'done')
      throw new Conflict(`${renderName(proof)} has not finished (${proof.state}): only what was rendered can be kept.`);
    await tx
      .update(proofs)
      .set({ decision: keep ? 'kept' : 'dropped', reason })
      .where(eq(proofs.id, id));
    return keep ? addRevision(tx, proof.shot, proof.patch, reason, editor) : null;
  });
}

/** Takes a decision back. A revision that it made stays in the history. @throws Conflict where there is none */
export async function takeDecisionBack(db: Database, id: number): Promise<void> {
  const [changed] = await db
    .update(proofs)
    .set({ decision: null, reason: null })
    .where(sql`${proofs.id} = ${id} and ${proofs.decision} is not null`)
    .returning({ id: proofs.id });
  if (!changed) throw new Conflict('Nothing was decided about this proof.');
}
