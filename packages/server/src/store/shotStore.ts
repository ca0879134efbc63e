import { and, asc, desc, eq, sql } from 'drizzle-orm';
import type { Unsupported } from '@dusting/core/formats';
import {
  changeWords,
  completeShot,
  patchShot,
  type ImportedShot,
  type Patch,
  type ShotDocument,
} from '@dusting/core/scene';
import type { Database } from '../db/connect.ts';
import { notify } from '../db/notices.ts';
import { revisions, shots } from '../db/schema.ts';
import { Conflict, Missing, noteConflict } from '../errors.ts';
import { saveBlob } from './blobStore.ts';

export type Shot = typeof shots.$inferSelect;

/** Adds an imported shot with its blobs, whole or not at all. @throws Conflict where the name is taken */
export async function addShot(db: Database, imported: ImportedShot): Promise<number> {
  return db.transaction(async (tx) => {
    for (const { bytes, mediaType } of imported.blobs.values()) await saveBlob(tx, bytes, mediaType);
    const { name } = imported.document;
    const [shot] = await tx
      .insert(shots)
      .values({ name, revision: 1, unsupported: imported.unsupported satisfies Unsupported[] })
      .onConflictDoNothing()
      .returning();
    if (!shot) throw new Conflict(`There is a shot called ${name} already. Give the new one another name.`);
    await tx
      .insert(revisions)
      .values({ shot: shot.id, number: 1, document: imported.document, patch: [], reason: 'Imported' });
    await notify(tx, { type: 'shot', shot: shot.id });
    return shot.id;
  });
}

export async function getShot(db: Database, id: number): Promise<Shot & { document: ShotDocument }> {
  const [row] = await db
    .select()
    .from(shots)
    .innerJoin(revisions, and(eq(revisions.shot, shots.id), eq(revisions.number, shots.revision)))
    .where(eq(shots.id, id));
  if (!row) throw new Missing(`There is no shot ${id}.`);
  return { ...row.shots, document: upToDate(row.revisions.document) };
}

/** Takes the next numbers for proofs of a kind. @returns the first of them @throws Missing */
export async function takeNumbers(
  db: Pick<Database, 'update'>,
  shot: number,
  kind: string,
  count = 1,
): Promise<number> {
  const last = sql`coalesce((${shots.numbers} ->> ${kind}::text)::int, 0)`;
  const [taken] = await db
    .update(shots)
    .set({ numbers: sql`${shots.numbers} || jsonb_build_object(${kind}::text, ${last} + ${count}::int)` })
    .where(eq(shots.id, shot))
    .returning({ last: sql<number>`${last}` });
  if (!taken) throw new Missing(`There is no shot ${shot}.`);
  return taken.last - count + 1;
}

export async function getRevision(db: Database, shot: number, number: number): Promise<ShotDocument> {
  const [row] = await db
    .select({ document: revisions.document })
    .from(revisions)
    .where(and(eq(revisions.shot, shot), eq(revisions.number, number)));
  if (!row) throw new Missing(`There is no revision ${number}.`);
  return upToDate(row.document);
}

export function listShots(db: Database): Promise<(Shot & { document: ShotDocument })[]> {
  return db
    .select()
    .from(shots)
    .innerJoin(revisions, and(eq(revisions.shot, shots.id), eq(revisions.number, shots.revision)))
    .orderBy(asc(shots.name))
    .then((rows) => rows.map((row) => ({ ...row.shots, document: upToDate(row.revisions.document) })));
}

/** Documents are stored as they were; settings that came later stand at their defaults. */
function upToDate(document: ShotDocument): ShotDocument {
  return completeShot(document) as ShotDocument;
}

export function listRevisions(db: Database, shot: number) {
  const { number, reason, note, changes, createdAt } = revisions;
  return db
    .select({ number, reason, note, changes, createdAt })
    .from(revisions)
    .where(eq(revisions.shot, shot))
    .orderBy(desc(number));
}

/** @param was the note that is written over @throws Missing; Conflict where it is another by now */
export async function saveRevisionNote(
  db: Database,
  shot: number,
  number: number,
  note: string,
  was: string,
): Promise<void> {
  const one = and(eq(revisions.shot, shot), eq(revisions.number, number));
  const saved = await db
    .update(revisions)
    .set({ note })
    .where(and(one, eq(revisions.note, was)))
    .returning({ number: revisions.number });
  if (saved.length === 0) {
    const [present] = await db.select({ note: revisions.note }).from(revisions).where(one);
    if (!present) throw new Missing(`There is no revision ${number}.`);
    throw new Conflict(noteConflict(present.note));
  }
  await notify(db, { type: 'shot', shot });
}

/** Who changes a shot, and what it knew of it: how many edits there were. */
export interface Editor {
  window: string;
  edits: number;
}

/** @returns the count of edits @throws Conflict where there were edits that the editor did not know */
export async function saveSlip(db: Database, shot: number, slip: Patch, { window, edits }: Editor): Promise<number> {
  const next = edits + 1;
  const saved = await db
    .update(shots)
    .set({ slip, edits: next, editedBy: window })
    .where(and(eq(shots.id, shot), eq(shots.edits, edits)))
    .returning({ id: shots.id });
  if (saved.length === 0) throw new Conflict('Another window has changed this shot meanwhile.');
  await notify(db, { type: 'shot', shot });
  return next;
}

/** Makes a proof the one that others are measured against; null: none. */
export async function setReference(db: Database, shot: number, proof: number | null): Promise<void> {
  const saved = await db.update(shots).set({ reference: proof }).where(eq(shots.id, shot)).returning({ id: shots.id });
  if (saved.length === 0) throw new Missing(`There is no shot ${shot}.`);
  await notify(db, { type: 'shot', shot });
}

/** Makes the next revision from the present one, and clears the slip. Returns its number. @throws Conflict as saveSlip */
export async function addRevision(
  db: Pick<Database, 'transaction'>,
  shot: number,
  patch: Patch,
  reason: string,
  editor: Editor,
): Promise<number> {
  return db.transaction(async (tx) => {
    const [locked] = await tx.select().from(shots).where(eq(shots.id, shot)).for('update');
    if (!locked) throw new Missing(`There is no shot ${shot}.`);
    if (editor.edits !== locked.edits) throw new Conflict('Another window has changed this shot meanwhile.');
    const [present] = await tx
      .select()
      .from(revisions)
      .where(and(eq(revisions.shot, shot), eq(revisions.number, locked.revision)));
    const document = patchShot(present.document, patch);
    const changes = changeWords(upToDate(present.document), document);
    const [{ last }] = await tx
      .select({ last: sql<number>`max(${revisions.number})::int` })
      .from(revisions)
      .where(eq(revisions.shot, shot));
    const number = last + 1;
    await tx.insert(revisions).values({ shot, number, document, patch, reason, changes });
    const edited = { edits: locked.edits + 1, editedBy: editor.window };
    await tx
      .update(shots)
      .set({ revision: number, slip: [], ...edited })
      .where(eq(shots.id, shot));
    await notify(tx, { type: 'shot', shot });
    return number;
  });
}
