// npm start: sets up what is missing and runs the application until Ctrl+C.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { startApplication } from './lib/application.mjs';
import { POSTGRES_PACKAGE } from './lib/postgres.mjs';
import { needKernel, needModules, needPackages, needWeb, root, say, SetupError } from './lib/run.mjs';

const dataFolder = process.env.DUSTING_DATA ?? join(root, 'data');
try {
  mkdirSync(dataFolder, { recursive: true });
  if (!process.env.DUSTING_DATABASE_URL) needPackages([POSTGRES_PACKAGE]);
  needModules(dataFolder);
  needKernel(dataFolder);
  needWeb(dataFolder);
  const application = await startApplication({ dataFolder });
  say(`Dusting is ready: ${application.url}   (Ctrl+C stops it)`);
  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    say('\nStopping ...');
    await application.stop();
    process.exit(0);
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
} catch (error) {
  if (!(error instanceof SetupError)) throw error;
  process.stderr.write(`${error.message}\n`);
  process.exit(1);
}
