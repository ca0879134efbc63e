// Starts database, server and render node, and starts each again if it dies.
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { hostname } from 'node:os';
import { refuseWhileRunning } from './built.mjs';
import { bundle } from './bundle.mjs';
import { claim } from './instance.mjs';
import { Keeper } from './keeper.mjs';
import { freePort, isFree, preparePostgres, waitForPort } from './postgres.mjs';
import { root, say, SetupError } from './run.mjs';
import { startSettings } from './settings.mjs';

const ANY_ADDRESS = ['0.0.0.0', '::'];

/**
 * @param options.dataFolder everything that is written goes here
 * @param options.port of the web address; 0 takes any free one
 * @param options.env further variables for server and node
 * @param options.prepare what has to be there first; called once nothing speaks against a start
 * @param options.signal aborts a start that is under way
 * @throws SetupError with a reason; nothing of it runs then
 */
export async function startApplication({ dataFolder, port, env = {}, prepare = () => {}, signal }) {
  const settings = startSettings({
    ...process.env,
    ...env,
    ...(dataFolder && { DUSTING_DATA: dataFolder }),
    ...(port !== undefined && { DUSTING_PORT: String(port) }),
  });
  mkdirSync(settings.dataFolder, { recursive: true });
  const lock = await claim(settings.dataFolder);
  const keepers = {};
  const stop = async () => {
    await Promise.all([keepers.node?.stop(), keepers.server?.stop()]);
    await keepers.database?.stop();
    lock.release();
  };
  try {
    if (settings.port === 0) settings.port = await freePort(settings.host);
    else if (!(await isFree(settings.port, settings.host)))
      throw new SetupError(
        `Port ${settings.port} is taken by another program. Choose another: DUSTING_PORT=4190 npm start`,
      );
    prepare();
    const running = await launch(settings, env, keepers, lock, signal);
    return { ...running, pid: (name) => keepers[name].child.pid, stop };
  } catch (error) {
    await stop();
    throw error;
  }
}

/** @param keepers is filled as processes start */
async function launch({ dataFolder, host, port }, env, keepers, lock, signal) {
  const name = ANY_ADDRESS.includes(host) ? hostname() : host;
  const url = `http://${name.includes(':') ? `[${name}]` : name}:${port}`;
  const record = () =>
    lock.record(
      url,
      Object.values(keepers).map(({ child }) => child.pid),
    );
  const keep = async (name, title, start, stopSignal, ready) => {
    signal?.throwIfAborted();
    keepers[name] = new Keeper(title, start, stopSignal, () => keepers[name] && record());
    record();
    await Promise.race([ready(keepers[name]), keepers[name].failed, aborted(signal)]);
  };
  let databaseUrl = process.env.DUSTING_DATABASE_URL;
  if (!databaseUrl) {
    say('Starting the database ...');
    const postgres = await preparePostgres(dataFolder);
    databaseUrl = postgres.url;
    await keep('database', 'database', postgres.start, 'SIGINT', () => waitForPort(postgres.port, 60));
  }
  const variables = {
    ...process.env,
    ...env,
    DUSTING_DATA: dataFolder,
    DUSTING_DATABASE_URL: databaseUrl,
    // where the database lies, if it is this instance's own
    DUSTING_DATABASE_FOLDER: process.env.DUSTING_DATABASE_URL ? '' : dataFolder,
    DUSTING_HOST: host,
    DUSTING_PORT: String(port),
    DUSTING_NODE: `local-${port}`,
  };
  const [server, renderNode] = await bundle('packages/server', ['main', 'nodeMain'], refuseWhileRunning);
  const program = (path) => () =>
    spawn(process.execPath, [path], { cwd: root, env: variables, stdio: ['ignore', 'ignore', 'inherit', 'ipc'] });
  say('Starting server and render node ...');
  await keep('node', 'render node', program(renderNode), 'SIGTERM', () => {});
  await keep('server', 'server', program(server), 'SIGTERM', (keeper) => keeper.ready);
  return { url, databaseUrl };
}

/** Rejects once the start is given up. */
function aborted(signal) {
  return new Promise((_, reject) => signal?.addEventListener('abort', () => reject(signal.reason)));
}
