import type { Request } from 'express';
import multer from 'multer';

const MOST_BYTES = 512 * 2 ** 20;

export const upload = multer({ storage: multer.memoryStorage(), limits: { fileSize: MOST_BYTES, files: 400 } });

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
