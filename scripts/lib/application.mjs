// Starts database, server and render node, and starts each again if it dies.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { bundle } from './bundle.mjs';
import { freePort, isFree, preparePostgres, waitForPort } from './postgres.mjs';
import { root, say, SetupError } from './run.mjs';

const DEFAULT_PORT = 4180;

/** One process that is kept alive until it is told to stop. */
class Keeper {
  constructor(name, start, stopSignal) {
    this.name = name;
    this.start = start;
    this.stopSignal = stopSignal;
    this.stopping = false;
    this.launch();
  }
  launch() {
    this.child = this.start();
    this.startedAt = Date.now();
    this.child.on('error', (error) => say(`${this.name}: ${error.message}`));
    this.ended = new Promise((resolve) =>
      this.child.on('exit', () => {
        resolve();
        if (this.stopping) return;
        const wait = Date.now() - this.startedAt > 10_000 ? 200 : 1000;
        say(`${this.name} ended unexpectedly: starting it again`);
        setTimeout(() => !this.stopping && this.launch(), wait);
      }),
    );
    this.onLaunch?.();
  }
  async stop() {
    this.stopping = true;
    if (this.child.exitCode !== null || this.child.signalCode !== null) return;
    this.child.kill(this.stopSignal);
    const late = setTimeout(() => this.child.kill('SIGKILL'), 8000);
    await this.ended;
    clearTimeout(late);
  }
}

/**
 * @param options.dataFolder everything that is written goes here
 * @param options.port of the web address; 0 takes any free one
 * @param options.env further variables for server and node
 */
export async function startApplication({
  dataFolder,
  port = Number(process.env.DUSTING_PORT ?? DEFAULT_PORT),
  env = {},
}) {
  mkdirSync(dataFolder, { recursive: true });
  await endLeftovers(dataFolder);
  const keepers = {};
  const own = process.env.DUSTING_DATABASE_URL;
  let url = own;
  if (!own) {
    say('Starting the database ...');
    const postgres = await preparePostgres(dataFolder);
    url = postgres.url;
    keepers.database = new Keeper('database', postgres.start, 'SIGINT');
    await waitForPort(postgres.port, 60);
  }
  if (port === 0) port = await freePort();
  else if (!(await isFree(port)))
    throw new SetupError(
      `Port ${port} is taken. If Dusting runs already, use that one; else choose another: DUSTING_PORT=4190 npm start`,
    );
  const variables = {
    ...process.env,
    DUSTING_DATABASE_URL: url,
    DUSTING_PORT: String(port),
    DUSTING_NODE: `local-${port}`,
    ...env,
  };
  const [server, renderNode] = await bundle('packages/server', ['main', 'nodeMain']);
  const program = (path) => () =>
    spawn(process.execPath, [path], {
      cwd: root,
      env: variables,
      stdio: ['ignore', 'ignore', 'inherit'],
    });
  say('Starting server and render node ...');
  keepers.server = new Keeper('server', program(server), 'SIGTERM');
  keepers.node = new Keeper('render node', program(renderNode), 'SIGTERM');
  await waitForPort(port, 90);
  const runFile = join(dataFolder, 'running.json');
  const record = () =>
    writeFileSync(
      runFile,
      JSON.stringify(Object.fromEntries(Object.entries(keepers).map(([k, v]) => [k, v.child.pid]))),
    );
  for (const keeper of Object.values(keepers)) keeper.onLaunch = record;
  record();
  return {
    url: `http://127.0.0.1:${port}`,
    databaseUrl: url,
    pid: (name) => keepers[name].child.pid,
    async stop() {
      await Promise.all([keepers.node.stop(), keepers.server.stop()]);
      await keepers.database?.stop();
      rmSync(runFile, { force: true });
    },
  };
}

/** Ends what a killed start has left running. A process counts as ours only if its command line names this folder. */
async function endLeftovers(dataFolder) {
  const runFile = join(dataFolder, 'running.json');
  if (!existsSync(runFile)) return;
  let pids = [];
  try {
    pids = Object.values(JSON.parse(readFileSync(runFile, 'utf8')));
  } catch {
    // half written when it was killed
  }
  const postmaster = join(dataFolder, 'postgres/postmaster.pid');
  if (existsSync(postmaster)) pids.push(Number(readFileSync(postmaster, 'utf8').split('\n')[0]));
  for (const pid of new Set(pids)) {
    const commandLine = `/proc/${pid}/cmdline`;
    if (!existsSync(commandLine) || !readFileSync(commandLine, 'utf8').includes(root.replace(/\/$/, ''))) continue;
    say(`Ending process ${pid}, left over from a start that was killed`);
    process.kill(pid, 'SIGINT');
    for (let i = 0; i < 60 && existsSync(commandLine); i++) await new Promise((resolve) => setTimeout(resolve, 100));
    if (existsSync(commandLine)) process.kill(pid, 'SIGKILL');
  }
  rmSync(runFile, { force: true });
}
