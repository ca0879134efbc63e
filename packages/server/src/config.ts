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
  /** How much larger scenes may be than the usual limits. */
  importScale: number;
}

const LOOPBACK = ['127.0.0.1', '::1', 'localhost'];

/** @throws Error where the port is none, or the server would be open to others without a token */
export function serverConfig(): ServerConfig {
  const host = process.env.DUSTING_HOST ?? '127.0.0.1';
  const token = process.env.DUSTING_TOKEN ?? null;
  if (!LOOPBACK.includes(host) && !token)
    throw new Error(
      `DUSTING_HOST=${host} opens the server to other machines: set DUSTING_TOKEN to an access token first`,
    );
  const port = Number(process.env.DUSTING_PORT ?? 4180);
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new Error(`DUSTING_PORT=${process.env.DUSTING_PORT} is no port: set a whole number from 1 to 65535`);
  const importScale = Number(process.env.DUSTING_IMPORT_SCALE ?? 1);
  if (!(importScale > 0 && importScale <= 1000))
    throw new Error(`DUSTING_IMPORT_SCALE=${process.env.DUSTING_IMPORT_SCALE} must be a number from 0 to 1000`);
  const webRoot = new URL('../../web/dist/', import.meta.url).pathname;
  return { host, port, webRoot, token, importScale };
}
