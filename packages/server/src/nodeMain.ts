// A render node: needs the address of the database and nothing else. bin/node.mjs starts it
import { hostname } from 'node:os';
import { connect, untilMigrated } from './db/connect.ts';
import { listen } from './db/notices.ts';
import { RenderNode } from './node/renderNode.ts';
import { databaseUrl } from './config.ts';

const url = databaseUrl();
const id = process.env.DUSTING_NODE ?? `${hostname()}-${process.pid}`;
const threads = process.env.DUSTING_THREADS ? Number(process.env.DUSTING_THREADS) : undefined;
const { db, pool } = connect(url, 6);
const node = new RenderNode(db, id, threads);
const stopListening = listen(url, (notice) => notice.type === 'work' && node.wake());

const stop = async () => {
  await node.stop();
  await stopListening();
  await pool.end();
  process.exit(0);
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
// whoever started it has gone
process.on('disconnect', stop);
await untilMigrated(db);
await node.run();
