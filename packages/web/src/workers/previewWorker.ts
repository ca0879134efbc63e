// The stage of the live preview, away from the page. Its tracers are workers where the scene can be shared with them.
import { expose, transfer, wrap } from 'comlink';
import type { Region } from '@dusting/core/image';
import type { ShotDocument } from '@dusting/core/scene';
import { plainBuffer, sharedBuffer } from '@dusting/core/trace';
import {
  JobTracer,
  PreviewStage,
  type PreviewReport,
  type PreviewWish,
  type StageWorld,
  type TracerApi,
} from '@dusting/preview';
import { fetchBlob } from '../parts/fetchBlob.ts';

const MOST_TRACERS = 16;
const shared = typeof SharedArrayBuffer === 'function' && globalThis.crossOriginIsolated;
let stage: PreviewStage | null = null;

function makeTracers(): StageWorld['tracers'] {
  if (!shared) {
    const own = new JobTracer();
    const render: StageWorld['tracers'][number]['render'] = async (job) => {
      const part = own.render(job);
      await new Promise((resolve) => setTimeout(resolve)); // lets wishes in
      return part;
    };
    return [{ load: (scene, settings, thread) => own.load(scene, settings, thread), render }];
  }
  // one core is left to the page
  const count = Math.min(MOST_TRACERS, Math.max(1, (navigator.hardwareConcurrency || 2) - 1));
  return Array.from({ length: count }, () =>
    wrap<TracerApi>(new Worker(new URL('./previewTracer.ts', import.meta.url), { type: 'module' })),
  );
}

const api = {
  start(report: StageWorld['report'], fault: StageWorld['fault']): void {
    stage = new PreviewStage({
      tracers: makeTracers(),
      makeBuffer: shared ? sharedBuffer : plainBuffer,
      loadBlob: fetchBlob,
      report: (next: PreviewReport) => {
        const { halves, objects, surfaces } = next.picture;
        report(transfer(next, [halves.buffer, objects.buffer, surfaces.buffer] as ArrayBuffer[]));
      },
      fault,
    });
  },
  open(document: ShotDocument): void {
    stage!.open(document);
  },
  show(number: number, wish: PreviewWish): void {
    stage!.show(number, wish);
  },
  lookAt(interest: Region | null): void {
    stage!.lookAt(interest);
  },
  pause(on: boolean): void {
    stage!.pause(on);
  },
};
export type PreviewWorker = typeof api;
expose(api);
