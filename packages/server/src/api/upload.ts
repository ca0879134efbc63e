import type { Request, RequestHandler } from 'express';
import multer from 'multer';
import { BadRequest } from '../errors.ts';

const MOST_BYTES = 512 * 2 ** 20;

const multipart = multer({
  storage: multer.memoryStorage(),
  limits: { fileSize: MOST_BYTES, files: 400, fields: 20, fieldSize: 2 ** 16, fieldNameSize: 200 },
});

/** Takes the files of a form into memory. @throws BadRequest where the form is damaged */
export const takeFiles: RequestHandler = (request, response, next) =>
  multipart.array('files')(request, response, (error: unknown) => {
    if (!error || error instanceof multer.MulterError) return next(error);
    next(new BadRequest(`The upload is damaged or was cut off (${(error as Error).message}).`));
  });

export interface UploadedFile {
  name: string;
  bytes: Uint8Array;
}
/** The files that a form brought. */
export function filesOf(request: Request): UploadedFile[] {
  return ((request.files ?? []) as Express.Multer.File[]).map((f) => ({
    name: Buffer.from(f.originalname, 'latin1').toString('utf8'),
    bytes: new Uint8Array(f.buffer),
  }));
}
