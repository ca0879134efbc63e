import { Router } from 'express';
import { mediaTypeOf } from '@dusting/core/scene';
import { loadBlob, saveBlob } from '../store/blobStore.ts';
import { BadRequest, Missing } from '../errors.ts';
import { answer } from './answer.ts';
import type { TakenPicture } from '../answers/index.ts';
import { goneSignal, type Context } from './context.ts';
import { filesOf, takeFiles } from './upload.ts';

export function blobRoutes({ db, importer }: Context): Router {
  const router = Router();

  /** A file of a scene: named by what is in it, it never changes. */
  router.get('/blobs/:blob', async (request, response) => {
    const { blob } = request.params;
    const bytes = await loadBlob(db, blob).catch(() => {
      throw new Missing(`There is no file ${blob}.`);
    });
    response
      .set('cache-control', 'private, max-age=31536000, immutable')
      .set('content-type', 'application/octet-stream');
    response.send(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  });

  /** Takes in a picture for a texture or the environment. What cannot be read is refused with the reason. */
  router.post('/pictures', takeFiles, async (request, response) => {
    const [file] = filesOf(request);
    if (!file) throw new BadRequest('No file arrived: choose a picture (PNG, JPEG, TIFF, OpenEXR or Radiance HDR).');
    const { width, height } = await importer.textureSize(file.name, file.bytes, goneSignal(response));
    const blob = await saveBlob(db, file.bytes, mediaTypeOf(file.name));
    answer<TakenPicture>(response, { name: file.name, blob, width, height }, 201);
  });

  return router;
}
