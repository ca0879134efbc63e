// Where the live preview is computed: in workers of the page, or on the server where the scene is too large for it.
import { proxy, wrap } from 'comlink';
import type { Region } from '@dusting/core/image';
import type { ShotDocument } from '@dusting/core/scene';
import type { PreviewReport, PreviewWish } from '@dusting/preview';
import { api } from '../api.ts';
import type { PreviewWorker } from './previewWorker.ts';

export interface Previewer {
  readonly shot: number;
  readonly where: 'browser' | 'server';
  open(document: ShotDocument, revision: number): void;
  show(number: number, wish: PreviewWish): void;
  lookAt(interest: Region | null): void;
  pause(on: boolean): void;
  end(): void;
}
type OnReport = (report: PreviewReport) => void;
/** null: whatever is wished for. */
type OnFault = (wish: number | null, text: string) => void;

/** Memory that a preview may take in the page: a part of the machine's, as far as the browser tells it. */
const PAGE_SHARE = 0.15;
const MACHINE_GB = 8;

/** Bytes. */
export function pageMemory(): number {
  const told = (navigator as { deviceMemory?: number }).deviceMemory ?? MACHINE_GB;
  return told * PAGE_SHARE * 1e9;
}

export function startPreview(shot: number, where: Previewer['where'], report: OnReport, fault: OnFault): Previewer {
  return where === 'server' ? serverPreview(shot, report, fault) : pagePreview(shot, report, fault);
}

/** Milliseconds before the server is asked again after it did not answer. */
const ASK_AGAIN = 1500;

function serverPreview(shot: number, report: OnReport, fault: OnFault): Previewer {
  let revision = 0;
  let last: { number: number; wish: PreviewWish } | null = null;
  let ended = false;
  let resting = false;
  let asking = false;
  let shows: Promise<unknown> = Promise.resolve();
  /** Asks for one picture after the other, until the last is there. */
  async function follow() {
    if (asking) return;
    asking = true;
    for (let serial = 0; !ended && !resting;) {
      try {
        const next = await api.nextPreview(shot, serial);
        if (ended || !next) continue;
        serial = next.serial;
        if ('report' in next) report(next.report);
        else fault(next.wish, next.fault);
      } catch {
        // it was ended for being idle, or the server was away: what is wished for is said again
        await new Promise((resolve) => setTimeout(resolve, ASK_AGAIN));
        serial = 0;
        if (!ended && last) await api.showPreview(shot, { ...last, revision }).catch(() => {});
      }
    }
    asking = false;
  }
  const quietly = (call: Promise<unknown>) => void call.catch(() => {});
  return {
    shot,
    where: 'server',
    open: (_document, next) => (revision = next),
    show(number, wish) {
      last = { number, wish };
      const body = { number, wish, revision };
      shows = shows.then(() => api.showPreview(shot, body)).catch((error: Error) => fault(number, error.message));
      void shows.then(follow);
    },
    lookAt: (interest) => quietly(api.lookAtPreview(shot, interest)),
    pause(on) {
      // not asked for, it ends by itself after a while
      resting = on;
      quietly(api.pausePreview(shot, on));
      if (!on && last) void shows.then(follow);
    },
    end() {
      ended = true;
      quietly(api.endPreview(shot));
    },
  };
}

function pagePreview(shot: number, report: OnReport, fault: OnFault): Previewer {
  const worker = new Worker(new URL('./previewWorker.ts', import.meta.url), { type: 'module' });
  const stage = wrap<PreviewWorker>(worker);
  let opened = 0;
  worker.onerror = () => fault(null, 'The preview could not be started: the browser refused its worker.');
  void stage.start(proxy(report), proxy(fault));
  return {
    shot,
    where: 'browser',
    open(document, revision) {
      if (revision === opened) return;
      opened = revision;
      void stage.open(document);
    },
    show: (number, wish) => void stage.show(number, wish),
    lookAt: (interest) => void stage.lookAt(interest),
    pause: (on) => void stage.pause(on),
    end: () => worker.terminate(),
  };
}
