import { Router, type Request } from 'express';
import type { PreviewWish } from '@dusting/preview';
import { Missing } from '../errors.ts';
import { getRevision, getShot } from '../store/shotStore.ts';
import { LookBody, parse, PauseBody, WishBody } from './body.ts';
import { whole, windowOf, type Context } from './context.ts';

/** Milliseconds that a question for the next picture waits. */
const WAIT = 10_000;

/** The preview of the window that asks, where it has one. */
const placeOf = (request: Request) => ({ window: windowOf(request), shot: whole(request, 'shot'), start: false });

/** Live previews of scenes that are too large for the browser. */
export function previewRoutes({ db, previews }: Context): Router {
  const router = Router();

  router.put('/shots/:shot/preview', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const { number, revision, wish } = parse(WishBody, request.body);
    await getRevision(db, shot.id, revision); // refused here, where somebody reads the answer
    const place = { window: windowOf(request), shot: shot.id, start: true };
    await previews.ask(place, (stage) => stage.show(revision, number, wish as PreviewWish));
    response.json({});
  });
  router.put('/shots/:shot/preview/interest', async (request, response) => {
    const { interest } = parse(LookBody, request.body);
    await previews.ask(placeOf(request), (stage) => stage.lookAt(interest));
    response.json({});
  });
  router.put('/shots/:shot/preview/pause', async (request, response) => {
    const { on } = parse(PauseBody, request.body);
    await previews.ask(placeOf(request), (stage) => stage.pause(on));
    response.json({});
  });
  router.delete('/shots/:shot/preview', (request, response) => {
    previews.close(windowOf(request), whole(request, 'shot'));
    response.status(204).end();
  });

  /** The next picture: what it is in a header, then // u32 object + 1 and u32 surface + 1 of each pixel, halves of R, G, B */
  router.get('/shots/:shot/preview/picture', async (request, response) => {
    const after = whole(request, 'after', 'query');
    const next = await previews.ask(placeOf(request), (stage) => stage.next(after, WAIT));
    if (next === undefined) throw new Missing('No preview is computed for this window.');
    if (!next) return void response.status(204).end();
    const { serial, answer } = next;
    if (!('picture' in answer)) return void response.json({ serial, ...answer });
    const { picture, ...report } = answer;
    const { width, height, halves, objects, surfaces } = picture;
    response
      .set('content-type', 'application/octet-stream')
      .set('x-preview', encodeURIComponent(JSON.stringify({ serial, width, height, ...report })))
      .send(Buffer.concat([objects, surfaces, halves].map((p) => Buffer.from(p.buffer, p.byteOffset, p.byteLength))));
  });
  return router;
}
