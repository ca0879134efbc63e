import { fileURLToPath } from 'node:url';

/** SQL files that bring the database up to date. */
export const MIGRATIONS = fileURLToPath(new URL('../migrations/', import.meta.url));

/** @throws Error where no database is named */
export function databaseUrl(): string {
  const url = process.env.DUSTING_DATABASE_URL;
  if (!url)
    throw new Error('DUSTING_DATABASE_URL is not set: start the application with npm start, or name a database');
  return url;
}

export interface ServerConfig {
  host: string;
  port: number;
  /** Folder of the built web application. */
  webRoot: string;
  /** Required of every request where the server listens to more than this machine. */
  token: string | null;
}

const LOOPBACK = ['127.0.0.1', '::1', 'localhost'];

/** @throws Error where the server would be open to others without a token */
export function serverConfig(): ServerConfig {
  const host = process.env.DUSTING_HOST ?? '127.0.0.1';
  const token = process.env.DUSTING_TOKEN ?? null;
  if (!LOOPBACK.includes(host) && !token)
    throw new Error(
      `DUSTING_HOST=${host} opens the server to other machines: set DUSTING_TOKEN to an access token first`,
    );
  const webRoot = new URL('../../web/dist/', import.meta.url).pathname;
  return { host, port: Number(process.env.DUSTING_PORT ?? 4180), webRoot, token };
}
