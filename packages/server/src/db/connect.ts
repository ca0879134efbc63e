import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { sql } from 'drizzle-orm';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import { MIGRATIONS } from '../config.ts';
import * as schema from './schema.ts';

export type Database = NodePgDatabase<typeof schema>;

export interface Connection {
  db: Database;
  pool: pg.Pool;
}

/** A pool of connections. Lost connections are replaced by the next query, so a restart of the database only delays. */
export function connect(url: string, connections: number): Connection {
  const pool = new pg.Pool({ connectionString: url, max: connections, connectionTimeoutMillis: 5000 });
  // a connection that breaks is not worth ending the process for: idle, or between two queries of one that uses it
  pool.on('error', () => {});
  pool.on('connect', (client) => client.on('error', () => {}));
  return { db: drizzle(pool, { schema }), pool };
}

export async function migrateDatabase(db: Database): Promise<void> {
  await migrate(db, { migrationsFolder: MIGRATIONS });
}

/** Does something at a start: again and again while the database is still away or starting up. */
export async function onceReached<T>(action: () => Promise<T>): Promise<T> {
  for (;;)
    try {
      return await action();
    } catch (error) {
      if (!isLostConnection(error)) throw error;
      await wait(200);
    }
}

/** Waits until the database has the form that this program was written for: the server brings it up to date. */
export async function untilMigrated(db: Database): Promise<void> {
  const wanted = JSON.parse(readFileSync(join(MIGRATIONS, 'meta/_journal.json'), 'utf8')).entries.length;
  for (;;) {
    const applied = await db
      .execute<{ n: number }>(sql`select count(*)::int as n from drizzle.__drizzle_migrations`)
      .then(({ rows }) => rows[0].n)
      .catch(() => 0); // not there yet
    if (applied >= wanted) return;
    await wait(100);
  }
}

/** Whether an error means that the database could not be reached or was going down, so that trying again makes sense. */
export function isLostConnection(error: unknown): boolean {
  const seen = [error, (error as { cause?: unknown })?.cause];
  return seen.some((e) => {
    const { code, message } = (e ?? {}) as { code?: string; message?: string };
    return (
      /^(ECONN|EPIPE|ENOTFOUND|57P0|08)/.test(code ?? '') ||
      /Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error/.test(
        message ?? '',
      )
    );
  });
}

/** The code that PostgreSQL gave an error (appendix A of its manual); undefined where the error is none of its. */
export function databaseCode(error: unknown): string | undefined {
  const seen = [error, (error as { cause?: unknown })?.cause] as ({ code?: unknown; severity?: unknown } | undefined)[];
  const code = seen.find((e) => e?.severity !== undefined)?.code;
  return typeof code === 'string' ? code : undefined;
}

/** Whether the database had no room left: trying again makes sense once somebody has made some. */
export const isDiskFull = (error: unknown) => databaseCode(error) === '53100';
