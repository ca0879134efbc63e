import { join, resolve } from 'node:path';
import { root, SetupError } from './run.mjs';

const LOOPBACK = ['127.0.0.1', '::1', 'localhost'];
const DEFAULT_PORT = 4180;

/**
 * What the environment asks for, checked before anything is started.
 * @returns dataFolder absolute; port 0 takes any free one
 * @throws SetupError naming the variable that does not fit
 */
export function startSettings({ DUSTING_DATA, DUSTING_PORT, DUSTING_HOST, DUSTING_TOKEN }) {
  const port = Number(DUSTING_PORT || DEFAULT_PORT);
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new SetupError(`DUSTING_PORT=${DUSTING_PORT} is no port: set a whole number from 1 to 65535.`);
  const host = DUSTING_HOST || '127.0.0.1';
  if (!LOOPBACK.includes(host) && !DUSTING_TOKEN)
    throw new SetupError(
      `DUSTING_HOST=${host} opens the server to other machines: set DUSTING_TOKEN to an access token as well.`,
    );
  return { dataFolder: resolve(root, DUSTING_DATA || join(root, 'data')), host, port };
}
