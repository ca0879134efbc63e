// The server. DUSTING_DATABASE_URL names the database; DUSTING_PORT, DUSTING_HOST and DUSTING_TOKEN are optional.
import type { AddressInfo } from 'node:net';
import { spawn } from '@dusting/threads';
import { createApp } from './app.ts';
import { databaseUrl, serverConfig } from './config.ts';
import { connect, migrateDatabase } from './db/connect.ts';
import { listen } from './db/notices.ts';
import { importDemo } from './demoShots.ts';
import type { DiagnosisThread } from './diagnosing/diagnosisThread.ts';
import type { PictureWorker } from './pictures/pictureWorker.ts';
import { ProgressPictures } from './pictures/progressPicture.ts';
import { PreviewSessions } from './preview/previewSessions.ts';
import { dropLeftRenders, dropRenders, unfinishedDiagnoses } from './store/diagnosisStore.ts';

const url = databaseUrl();
const config = serverConfig();
const { db, pool } = connect(url, 10);
await migrateDatabase(db);
// off: none; scenes: without their first pictures
const demo = process.env.DUSTING_DEMO ?? 'on';
if (demo !== 'off') await importDemo(db, demo !== 'scenes');

const { remote: pictures, worker } = spawn<PictureWorker>(new URL('./pictures/pictureWorker.ts', import.meta.url), {
  url,
});
const { remote: diagnosing, worker: diagnoser } = spawn<DiagnosisThread>(
  new URL('./diagnosing/diagnosisThread.ts', import.meta.url),
  { url },
);
await dropLeftRenders(db);
// what was under way when the server stopped is done again
for (const id of await unfinishedDiagnoses(db)) {
  await dropRenders(db, id);
  await diagnosing.start(id);
}
const previews = new PreviewSessions(url);
const { app, channel } = createApp({ db, pictures, diagnosing, progress: new ProgressPictures(db), previews }, config);
const stopListening = listen(url, (notice) => notice.type !== 'work' && channel.broadcast(notice, notice.type));
const server = app.listen(config.port, config.host, () => {
  const { port } = server.address() as AddressInfo;
  process.stdout.write(`Dusting is ready: http://${config.host}:${port}\n`);
});
server.on('error', (error) => {
  process.stderr.write(`The server cannot listen: ${error.message}\n`);
  process.exit(1);
});

const stop = async () => {
  server.closeAllConnections();
  server.close();
  await stopListening();
  await Promise.all([worker.terminate(), diagnoser.terminate(), previews.closeAll()]);
  await pool.end();
  process.exit(0);
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
