import { importShot } from '@dusting/core/scene';
import { DEMO_SHOTS } from '@dusting/demo';
import type { Database } from './db/connect.ts';
import { sendRender } from './rendering/sendRender.ts';
import { addShot, getShot, listShots } from './store/shotStore.ts';

/**
 * Brings in the demo shots that are not there, by the import that users have.
 * @param rendered a preview of each is sent to the queue, so that the first look is at pictures
 */
export async function importDemo(db: Database, rendered: boolean): Promise<void> {
  const there = new Set((await listShots(db)).map((s) => s.name));
  for (const { name, build } of DEMO_SHOTS) {
    if (there.has(name)) continue;
    const id = await addShot(db, await importShot(await build(), name));
    if (rendered) await sendRender(db, await getShot(db, id), { kind: 'proof', use: 'preview', region: null });
  }
}
