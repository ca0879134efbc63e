// The stage of a preview that the server computes, for a scene that is too large for a browser.
import { availableParallelism } from 'node:os';
import { parentPort, workerData } from 'node:worker_threads';
import { expose, transfer } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { sharedBuffer } from '@dusting/core/trace';
import { PreviewStage, type PreviewReport, type PreviewWish, type TracerApi } from '@dusting/preview';
import { spawn } from '@dusting/threads';
import { connect } from '../db/connect.ts';
import { loadBlob } from '../store/blobStore.ts';
import { getRevision } from '../store/shotStore.ts';

const { shot, url } = workerData as { shot: number; url: string };
const { db } = connect(url, 2);
// the render node and the server itself keep a core
const count = Math.max(1, availableParallelism() - 1);
const tracers = Array.from({ length: count }, () => spawn<TracerApi>(new URL('./tracerThread.ts', import.meta.url)));

/** The newest answer, and who waits for it. */
let latest: PreviewReport | { wish: number; fault: string } | null = null;
let serial = 0;
let waiting: (() => void)[] = [];
function tell(next: NonNullable<typeof latest>): void {
  latest = next;
  serial++;
  for (const wake of waiting) wake();
  waiting = [];
}
const stage = new PreviewStage({
  tracers: tracers.map(({ remote }) => ({
    load: (scene, settings, thread) => remote.load(scene, settings, thread),
    render: (job) => remote.render(job),
  })),
  makeBuffer: sharedBuffer,
  loadBlob: (id) => loadBlob(db, id),
  report: tell,
  fault: (wish, fault) => tell({ wish, fault }),
});
let opened = 0;

const api = {
  async show(revision: number, number: number, wish: PreviewWish): Promise<void> {
    if (revision !== opened) stage.open(await getRevision(db, shot, revision));
    opened = revision;
    stage.show(number, wish);
  },
  lookAt: (interest: PreviewWish['interest']) => stage.lookAt(interest),
  pause: (on: boolean) => stage.pause(on),
  /** The newest answer once there is one after the given serial; null if none comes in time. */
  async next(after: number, wait: number): Promise<{ serial: number; answer: NonNullable<typeof latest> } | null> {
    if (serial <= after)
      await new Promise<void>((resolve) => {
        const late = setTimeout(resolve, wait);
        waiting.push(() => {
          clearTimeout(late);
          resolve();
        });
      });
    if (!latest || serial <= after) return null;
    const answer = latest;
    if (!('picture' in answer)) return { serial, answer };
    // a copy: the newest answer stays for whoever asks next
    const { halves, objects, surfaces } = answer.picture;
    const picture = { ...answer.picture, halves: halves.slice(), objects: objects.slice(), surfaces: surfaces.slice() };
    const buffers = [picture.halves, picture.objects, picture.surfaces].map((part) => part.buffer as ArrayBuffer);
    return transfer({ serial, answer: { ...answer, picture } }, buffers);
  },
};
export type StageThread = typeof api;
expose(api, nodeEndpoint(parentPort!));
