import pg from 'pg';
import { sql } from 'drizzle-orm';
import type { Database } from './connect.ts';

/** What processes tell each other through the database. */
export type Notice =
  | { type: 'work' }
  /** A node could not store what it rendered: the database has no room. It comes again while that is so. */
  | { type: 'full' }
  | { type: 'diagnosis'; shot: number; defect: number }
  | { type: 'proof'; shot: number; proof: number }
  | { type: 'shot'; shot: number };

const CHANNEL = 'dusting';

export async function notify(db: Pick<Database, 'execute'>, notice: Notice): Promise<void> {
  await db.execute(sql`select pg_notify(${CHANNEL}, ${JSON.stringify(notice)})`);
}

/** Says that something has become of a render. One that only a diagnosis reads is no news: pages would load their shot again. */
export async function notifyProof(
  db: Pick<Database, 'execute'>,
  { diagnosis, id, shot }: { id: number; shot: number; diagnosis: number | null },
): Promise<void> {
  if (diagnosis === null) await notify(db, { type: 'proof', shot, proof: id });
}

/** Calls back for every notice; connects again by itself. Returns a function that ends it. */
export function listen(url: string, onNotice: (notice: Notice) => void): () => Promise<void> {
  let client: pg.Client | null = null;
  let ended = false;
  const start = async (): Promise<void> => {
    if (ended) return;
    const next = new pg.Client({ connectionString: url });
    client = next;
    let retried = false;
    const retry = () => {
      if (retried) return;
      retried = true;
      next.end().catch(() => {});
      setTimeout(start, 1000).unref();
    };
    next.on('error', retry);
    next.on('end', retry);
    next.on('notification', ({ payload }) => payload && onNotice(JSON.parse(payload)));
    try {
      await next.connect();
      await next.query(`listen ${CHANNEL}`);
    } catch {
      retry();
    }
  };
  void start();
  return async () => {
    ended = true;
    await client?.end().catch(() => {});
  };
}
