// npm start: sets up what is missing and runs the application until Ctrl+C, or until its terminal is closed.
import { startApplication } from './lib/application.mjs';
import { needKernel, needModules, needWeb } from './lib/built.mjs';
import { POSTGRES_PACKAGE } from './lib/postgres.mjs';
import { needPackages, say, SetupError } from './lib/run.mjs';

const starting = new AbortController();
let application;
let stopping = false;
async function stop() {
  if (stopping) return;
  stopping = true;
  say('\nStopping ...');
  starting.abort();
  if (!application) return; // the start that is under way ends, and what it has started with it
  await application.stop();
  process.exit(0);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, stop);
// a terminal that was closed takes no more words
for (const stream of [process.stdout, process.stderr]) stream.on('error', () => {});

try {
  application = await startApplication({
    signal: starting.signal,
    prepare() {
      if (!process.env.DUSTING_DATABASE_URL) needPackages([POSTGRES_PACKAGE]);
      needModules();
      needKernel();
      needWeb();
    },
  });
  if (stopping) {
    await application.stop();
    process.exit(0);
  }
  say(`Dusting is ready: ${application.url}   (Ctrl+C stops it)`);
} catch (error) {
  if (stopping) process.exit(0);
  if (!(error instanceof SetupError)) throw error;
  process.stderr.write(`${error.message}\n`);
  process.exit(1);
}
