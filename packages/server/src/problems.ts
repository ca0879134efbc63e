import type { ErrorRequestHandler } from 'express';
import multer from 'multer';
import { InputError } from '@dusting/core/formats';
import { databaseCode, isDiskFull, isLostConnection } from './db/connect.ts';
import { hasNoRoom } from './db/hasNoRoom.ts';
import { BadRequest, Conflict, Missing, Refused } from './errors.ts';

/** Answers errors as RFC 9457 problem details: what happened, where, what to do. */
export const problemHandler: ErrorRequestHandler = (error, _request, response, next) => {
  if (response.destroyed) return; // whoever asked has gone, and hears nothing
  if (response.headersSent) return next(error);
  const { status, title, detail, place } = describe(error);
  if (status === 500) process.stderr.write(`${error.stack ?? error}\n`);
  response
    .status(status)
    .type('application/problem+json')
    .json({ type: 'about:blank', status, title, detail, ...(place && { place }) });
};

/** PostgreSQL, appendix A: class 22, data exceptions. */
const DATA_EXCEPTION = '22';

function describe(error: unknown): { status: number; title: string; detail: string; place?: string } {
  if (error instanceof InputError)
    return { status: 422, title: 'The input cannot be used', detail: error.sentence, place: error.place };
  // over the border of a thread an error keeps its name and message alone
  if (error instanceof Error && error.name === 'InputError')
    return { status: 422, title: 'The input cannot be used', detail: error.message };
  if (error instanceof BadRequest) return { status: 400, title: 'The request does not fit', detail: error.message };
  if (error instanceof Refused) return { status: error.status, title: 'Refused', detail: error.message };
  if (error instanceof Missing || (error instanceof Error && error.name === 'Missing'))
    return { status: 404, title: 'Not found', detail: error.message };
  if (error instanceof Conflict)
    return { status: 409, title: 'That does not fit what is there', detail: error.message };
  if (error instanceof multer.MulterError)
    return {
      status: 413,
      title: 'The upload was refused',
      detail: `${error.message}: at most 400 files of 512 MB each.`,
    };
  // a database that finds no room for its log ends, and cannot start before there is some
  const lost = isLostConnection(error);
  if (isDiskFull(error) || (lost && hasNoRoom()))
    return {
      status: 507,
      title: 'The disk is full',
      detail: `The database has no room left, and this was not ${lost ? 'done' : 'stored'}. Make room on its disk, or delete proofs or shots.`,
    };
  if (lost)
    return {
      status: 503,
      title: 'The database is away',
      detail: 'The database does not answer. It is tried again by itself; nothing is lost.',
    };
  const code = databaseCode(error);
  // what the columns cannot hold: numbers out of range, characters that are none
  if (code?.startsWith(DATA_EXCEPTION))
    return {
      status: 400,
      title: 'The request does not fit',
      detail: 'It holds a number or characters that cannot be stored.',
    };
  const { status, message } = (error ?? {}) as { status?: number; message?: string };
  if (status && status >= 400 && status < 500)
    return { status, title: 'The request does not fit', detail: message ?? '' };
  return {
    status: 500,
    title: 'Something went wrong here',
    detail: 'The server met an error of its own; its log has the details.',
  };
}
