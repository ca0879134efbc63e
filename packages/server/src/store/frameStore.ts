// Shots that came as frames of another renderer: no scene, one proof for each frame.
import { and, eq, inArray, sql } from 'drizzle-orm';
import type { LayerMapping } from '@dusting/core/frames';
import type { Region } from '@dusting/core/image';
import { frameShot, FINAL_DEFAULTS } from '@dusting/core/scene';
import type { Database } from '../db/connect.ts';
import { notify } from '../db/notices.ts';
import { defects, diagnoses, layerNames, proofs, revisions, shots, type LogLine } from '../db/schema.ts';
import { Conflict } from '../errors.ts';
import { saveBlob } from './blobStore.ts';
import { takeNumbers } from './shotStore.ts';

export interface TakenFrame {
  number: number | null;
  /** An OpenEXR file with the layers as their files named them. */
  bytes: Uint8Array;
  frame: { width: number; height: number };
  region: Region;
  coarse: Uint8Array;
}
type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];

/** @throws Conflict where the name is taken */
export async function addFrameShot(
  db: Database,
  name: string,
  mapping: LayerMapping,
  frames: TakenFrame[],
  log: LogLine[],
): Promise<number> {
  return db.transaction(async (tx) => {
    const [shot] = await tx.insert(shots).values({ name, revision: 1, mapping }).onConflictDoNothing().returning();
    if (!shot) throw new Conflict(`There is a shot called ${name} already. Give the new one another name.`);
    const document = frameShot(name, frames[0].frame);
    await tx.insert(revisions).values({ shot: shot.id, number: 1, document, patch: [], reason: 'Frames brought in' });
    await addFrames(tx, shot.id, frames, log);
    await notify(tx, { type: 'shot', shot: shot.id });
    return shot.id;
  });
}

/** More frames of a shot; layers that it has not seen yet are added to its mapping. */
export async function addFramesTo(
  db: Database,
  shot: number,
  mapping: LayerMapping,
  frames: TakenFrame[],
  log: LogLine[],
): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.update(shots).set({ mapping }).where(eq(shots.id, shot));
    await addFrames(tx, shot, frames, log);
    await notify(tx, { type: 'shot', shot });
  });
}

async function addFrames(tx: Transaction, shot: number, frames: TakenFrame[], log: LogLine[]): Promise<void> {
  const first = await takeNumbers(tx, shot, 'proof', frames.length);
  for (const [i, { number, bytes, frame, region, coarse }] of frames.entries())
    await tx.insert(proofs).values({
      shot,
      number: first + i,
      kind: 'proof',
      revision: 1,
      patch: [],
      use: 'final',
      settings: { ...FINAL_DEFAULTS, ...frame },
      region,
      state: 'done',
      chunkCount: 0,
      log,
      blob: await saveBlob(tx, bytes, 'image/x-exr'),
      coarse,
      frame: number,
      finishedAt: sql`now()`,
    });
}

/** Changes what the layers of a shot are. @param told what the user said, which is remembered for frames to come */
export async function saveMapping(
  db: Database,
  shot: number,
  mapping: LayerMapping,
  told: LayerMapping,
  was: LayerMapping,
): Promise<void> {
  await db.transaction(async (tx) => {
    const saved = await tx
      .update(shots)
      .set({ mapping })
      .where(and(eq(shots.id, shot), eq(shots.mapping, was)))
      .returning({ id: shots.id });
    if (saved.length === 0)
      throw new Conflict('Another window has said meanwhile what the layers are. Look at them, then choose again.');
    for (const [name, role] of Object.entries(told).filter(([layer]) => layer !== ''))
      await tx.insert(layerNames).values({ name, role }).onConflictDoUpdate({ target: layerNames.name, set: { role } });
    // what was found rests on what the layers were taken for
    const own = tx.select({ id: defects.id }).from(defects).where(eq(defects.shot, shot));
    await tx.delete(diagnoses).where(inArray(diagnoses.defect, own));
    await notify(tx, { type: 'shot', shot });
  });
}

/** What users said of layers, by their names. */
export async function knownRoles(db: Database): Promise<LayerMapping> {
  const rows = await db.select().from(layerNames);
  return Object.fromEntries(rows.map(({ name, role }) => [name, role]));
}
