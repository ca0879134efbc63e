// The server. DUSTING_DATABASE_URL names the database; DUSTING_PORT, DUSTING_HOST and DUSTING_TOKEN are optional.
import type { AddressInfo } from 'node:net';
import { spawn } from '@dusting/threads';
import { createApp } from './app.ts';
import { databaseUrl, serverConfig } from './config.ts';
import { connect, migrateDatabase, onceReached } from './db/connect.ts';
import { listen } from './db/notices.ts';
import { importDemo } from './demoShots.ts';
import type { DiagnosisThread } from './diagnosing/diagnosisThread.ts';
import { Importer } from './importing/importer.ts';
import type { PictureWorker } from './pictures/pictureWorker.ts';
import { ProgressPictures } from './pictures/progressPicture.ts';
import { PreviewSessions } from './preview/previewSessions.ts';
import { removeLeftBlobs } from './store/removal.ts';
import { dropLeftRenders, dropRenders, unfinishedDiagnoses } from './store/diagnosisStore.ts';

const url = databaseUrl();
const config = serverConfig();
const { db, pool } = connect(url, 10);
await onceReached(() => migrateDatabase(db));
// off: none; scenes: without their first pictures
const demo = process.env.DUSTING_DEMO ?? 'on';
if (demo !== 'off') await onceReached(() => importDemo(db, demo !== 'scenes'));

const { remote: pictures, worker } = spawn<PictureWorker>(new URL('./pictures/pictureWorker.ts', import.meta.url), {
  url,
});
const { remote: diagnosing, worker: diagnoser } = spawn<DiagnosisThread>(
  new URL('./diagnosing/diagnosisThread.ts', import.meta.url),
  { url },
);
// what was under way when the server stopped is done again
await onceReached(async () => {
  await dropLeftRenders(db);
  for (const id of await unfinishedDiagnoses(db)) {
    await dropRenders(db, id);
    await diagnosing.start(id);
  }
});
/** Milliseconds between looks for blobs that nothing refers to. */
const TIDY_EVERY = 3_600_000;
const tidy = () =>
  removeLeftBlobs(db).catch((error) => process.stderr.write(`Blobs were not tidied: ${error.message}\n`));
void tidy();
setInterval(tidy, TIDY_EVERY).unref();
const previews = new PreviewSessions(url);
const importer = new Importer(config.importScale);
const context = { db, importer, pictures, diagnosing, progress: new ProgressPictures(db), previews };
const { app, channel } = createApp(context, config);
const stopListening = listen(url, (notice) => notice.type !== 'work' && channel.broadcast(notice, notice.type));
const server = app.listen(config.port, config.host, (error) => {
  if (error) {
    process.stderr.write(`The server cannot listen: ${error.message}\n`);
    process.exit(1);
  }
  const { port } = server.address() as AddressInfo;
  process.stdout.write(`Dusting is ready: http://${config.host}:${port}\n`);
  process.send?.('ready');
});

const stop = async () => {
  server.closeAllConnections();
  server.close();
  await stopListening();
  await Promise.all([worker.terminate(), diagnoser.terminate(), previews.closeAll(), importer.close()]);
  await pool.end();
  process.exit(0);
};
// one request that nobody waits for any more must not end those of others
process.on('unhandledRejection', (error) => process.stderr.write(`${(error as Error)?.stack ?? error}\n`));
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
// whoever started it has gone
process.on('disconnect', stop);
