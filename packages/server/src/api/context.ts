import type { Remote } from 'comlink';
import type { Request, Response } from 'express';
import type { Region } from '@dusting/core/image';
import type { Database } from '../db/connect.ts';
import type { DiagnosisThread } from '../diagnosing/diagnosisThread.ts';
import type { Importer } from '../importing/importer.ts';
import type { PictureWorker } from '../pictures/pictureWorker.ts';
import type { ProgressPictures } from '../pictures/progressPicture.ts';
import type { PreviewSessions } from '../preview/previewSessions.ts';
import type { ImportNotice } from '../answers/index.ts';
import { BadRequest, Missing } from '../errors.ts';

export interface Context {
  db: Database;
  importer: Importer;
  pictures: Remote<PictureWorker>;
  diagnosing: Remote<DiagnosisThread>;
  progress: ProgressPictures;
  previews: PreviewSessions;
  /** Says on the event stream how far an import of a window is. */
  announce(notice: ImportNotice): void;
}

/** The largest number of the database's column integer. */
const MOST = 2 ** 31 - 1;

/** A whole number from the address or its query. @throws BadRequest; Missing for an id that nothing can have */
export function whole(request: Request, name: string, from: 'params' | 'query' = 'params'): number {
  const value = Number(request[from][name]);
  if (!Number.isInteger(value) || value < 0) throw new BadRequest(`${name} must be a whole number.`);
  if (value <= MOST) return value;
  if (from === 'params') throw new Missing(`There is no ${name} ${value}.`);
  throw new BadRequest(`${name} must be ${MOST} at most.`);
}

/** Aborts once whoever asked has gone: the page was closed, or an upload was cancelled. */
export function goneSignal(response: Response): AbortSignal {
  const gone = new AbortController();
  response.once('close', () => !response.writableFinished && gone.abort(new Error('whoever asked has gone')));
  return gone.signal;
}

/** The window of the browser that asks: its edits are told apart from those of others. */
export const windowOf = (request: Request): string => String(request.headers['x-window'] ?? '').slice(0, 40);

/** Reports what is being done for the window that asks. */
export const reporting = ({ announce }: Context, request: Request) => {
  const window = windowOf(request);
  return (stage: string) => announce({ window, stage });
};

/** The region of the query, where it has one. @throws BadRequest */
export function regionOf(request: Request): Region | null {
  const sides = ['x', 'y', 'width', 'height'];
  if (!sides.every((k) => k in request.query)) return null;
  const [x, y, width, height] = sides.map((k) => whole(request, k, 'query'));
  return { x, y, width, height };
}
