// The server. DUSTING_DATABASE_URL names the database; DUSTING_PORT, DUSTING_HOST and DUSTING_TOKEN are optional.
import type { AddressInfo } from 'node:net';
import { DEMO_SHOTS } from '@dusting/demo';
import { importShot } from '@dusting/core/scene';
import { spawn } from '@dusting/threads';
import { createApp } from './app.ts';
import { databaseUrl, serverConfig } from './config.ts';
import { connect, migrateDatabase, type Database } from './db/connect.ts';
import { listen } from './db/notices.ts';
import type { DiagnosisThread } from './diagnosing/diagnosisThread.ts';
import type { PictureWorker } from './pictures/pictureWorker.ts';
import { ProgressPictures } from './pictures/progressPicture.ts';
import { PreviewSessions } from './preview/previewSessions.ts';
import { dropRenders, unfinishedDiagnoses } from './store/diagnosisStore.ts';
import { addShot, listShots } from './store/shotStore.ts';

const url = databaseUrl();
const config = serverConfig();
const { db, pool } = connect(url, 10);
await migrateDatabase(db);
if (process.env.DUSTING_DEMO !== 'off') await importDemo(db);

const { remote: pictures, worker } = spawn<PictureWorker>(new URL('./pictures/pictureWorker.ts', import.meta.url), {
  url,
});
const { remote: diagnosing, worker: diagnoser } = spawn<DiagnosisThread>(
  new URL('./diagnosing/diagnosisThread.ts', import.meta.url),
  { url },
);
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

/** Brings in the demo shots that are not there, by the import that users have. */
async function importDemo(database: Database): Promise<void> {
  const there = new Set((await listShots(database)).map((s) => s.name));
  for (const { name, build } of DEMO_SHOTS)
    if (!there.has(name)) await addShot(database, await importShot(await build(), name));
}
