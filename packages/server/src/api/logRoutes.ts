import { Router } from 'express';
import { compilePattern } from '@dusting/core/frames';
import { addHarmless, addLogPattern, removeHarmless, removeLogPattern } from '../store/logStore.ts';
import { getShot } from '../store/shotStore.ts';
import { BadRequest } from '../errors.ts';
import { HarmlessBody, LogPatternBody, parse } from './body.ts';
import { whole, type Context } from './context.ts';

export function logRoutes({ db }: Context): Router {
  const router = Router();

  /** Says that a message of the log is harmless, in this shot or in the house, and why. */
  router.post('/shots/:shot/harmless', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const { key, reason, house } = parse(HarmlessBody, request.body);
    if (!reason.trim()) throw new BadRequest('Write down why the message is harmless.');
    response.status(201).json({ id: await addHarmless(db, shot.id, { key, reason: reason.trim(), house }) });
  });

  router.delete('/shots/:shot/harmless/:id', async (request, response) => {
    await removeHarmless(db, whole(request, 'shot'), whole(request, 'id'));
    response.status(204).end();
  });

  /** A pattern for the logs of the house. */
  router.post('/shots/:shot/log-patterns', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    const pattern = parse(LogPatternBody, request.body);
    compilePattern(pattern); // refuses what is none
    response.status(201).json({ id: await addLogPattern(db, shot.id, pattern) });
  });

  router.delete('/shots/:shot/log-patterns/:id', async (request, response) => {
    await removeLogPattern(db, whole(request, 'shot'), whole(request, 'id'));
    response.status(204).end();
  });
  return router;
}
