import { createHash, timingSafeEqual } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import compression from 'compression';
import express, { Router, type Express, type RequestHandler, type Response } from 'express';
import helmet from 'helmet';
import { createChannel, createSession, type Channel } from 'better-sse';
import { blobRoutes } from './api/blobRoutes.ts';
import { compareRoutes } from './api/compareRoutes.ts';
import { defectRoutes } from './api/defectRoutes.ts';
import { exportRoutes } from './api/exportRoutes.ts';
import { frameRoutes } from './api/frameRoutes.ts';
import { logRoutes } from './api/logRoutes.ts';
import { planRoutes } from './api/planRoutes.ts';
import { previewRoutes } from './api/previewRoutes.ts';
import { proofRoutes } from './api/proofRoutes.ts';
import { sweepRoutes } from './api/sweepRoutes.ts';
import { shotRoutes } from './api/shotRoutes.ts';
import type { Context } from './api/context.ts';
import type { ServerConfig } from './config.ts';
import { problemHandler } from './problems.ts';

/** The web application and its interface, with a channel on which changes are announced. */
export function createApp(context: Context, config: ServerConfig): { app: Express; channel: Channel } {
  const app = express();
  const channel = createChannel();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          // the component library and the charts write style elements
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          upgradeInsecureRequests: null,
        },
      },
      crossOriginEmbedderPolicy: true,
      strictTransportSecurity: false,
    }),
  );
  if (!config.token) app.use(onlyFromHere);
  app.use('/api', apiRouter(context, config, channel));
  app.use(compression());
  app.use(express.static(config.webRoot, { index: false, maxAge: '1h' }));
  app.use((_request, response) => {
    const page = join(config.webRoot, 'index.html');
    if (existsSync(page)) response.set('cache-control', 'no-cache').sendFile(page);
    else response.status(404).send('The web application is not built: run npm start.');
  });
  app.use(problemHandler);
  return { app, channel };
}

/** Everything below /api. The token is asked for by the router itself, so no spelling of an address gets around it. */
function apiRouter(context: Context, { token }: ServerConfig, channel: Channel): Router {
  const api = Router();
  if (token) api.use(needToken(token));
  api.get('/events', async (request, response) => {
    channel.register(await createSession(request, response));
  });
  api.use(compression());
  api.use(express.json({ limit: '4mb' }));
  api.get('/health', (_request, response) => void response.json({ ready: true }));
  api.use(
    shotRoutes(context),
    blobRoutes(context),
    frameRoutes(context),
    compareRoutes(context),
    exportRoutes(context),
    proofRoutes(context),
    planRoutes(context),
    sweepRoutes(context),
    previewRoutes(context),
    logRoutes(context),
    defectRoutes(context),
  );
  api.use((_request, response) => sendProblem(response, 404, 'Not found', 'There is no such address.'));
  return api;
}

/** Refuses pages of other sites that have this machine's browser ask for them. */
const onlyFromHere: RequestHandler = (request, response, next) => {
  const local = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;
  if (!local.test(request.get('host') ?? ''))
    return sendProblem(response, 403, 'Refused', 'This server answers on this machine only.');
  const origin = request.get('origin');
  if (origin && !local.test(origin.replace(/^https?:\/\//, '')))
    return sendProblem(response, 403, 'Refused', 'Requests from other sites are refused.');
  next();
};

/** Refuses whoever does not send the token. Digests are compared, so the time taken says nothing about the token. */
function needToken(token: string): RequestHandler {
  const digest = (text: string) => createHash('sha256').update(text).digest();
  const wanted = digest(token);
  return (request, response, next) => {
    const header = /^Bearer (.*)$/.exec(request.get('authorization') ?? '')?.[1];
    const given = header ?? request.query.token;
    if (typeof given === 'string' && timingSafeEqual(digest(given), wanted)) next();
    else sendProblem(response, 401, 'Refused', 'An access token is needed.');
  };
}

function sendProblem(response: Response, status: number, title: string, detail: string): void {
  response.status(status).type('application/problem+json').json({ status, title, detail });
}
