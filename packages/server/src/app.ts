import { existsSync } from 'node:fs';
import { join } from 'node:path';
import compression from 'compression';
import express, { type Express, type RequestHandler } from 'express';
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
  app.use(onlyFromHere(config));
  app.get('/api/events', async (request, response) => {
    channel.register(await createSession(request, response));
  });
  app.use(compression());
  app.use(express.json({ limit: '4mb' }));
  app.get('/api/health', (_request, response) => void response.json({ ready: true }));
  app.use(
    '/api',
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
  app.use('/api', (_request, response) => {
    response
      .status(404)
      .type('application/problem+json')
      .json({ status: 404, title: 'Not found', detail: 'There is no such address.' });
  });
  app.use(express.static(config.webRoot, { index: false, maxAge: '1h' }));
  app.use((_request, response) => {
    const page = join(config.webRoot, 'index.html');
    if (existsSync(page)) response.set('cache-control', 'no-cache').sendFile(page);
    else response.status(404).send('The web application is not built: run npm start.');
  });
  app.use(problemHandler);
  return { app, channel };
}

/** Refuses pages of other sites that have this machine's browser ask for them, and strangers without the token. */
function onlyFromHere({ token }: ServerConfig): RequestHandler {
  const local = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;
  return (request, response, next) => {
    const refuse = (status: number, detail: string) =>
      void response.status(status).type('application/problem+json').json({ status, title: 'Refused', detail });
    if (token) {
      const given = request.get('authorization') === `Bearer ${token}` || request.query.token === token;
      if (!given && request.path.startsWith('/api')) return refuse(401, 'An access token is needed.');
      return next();
    }
    if (!local.test(request.get('host') ?? '')) return refuse(403, 'This server answers on this machine only.');
    const origin = request.get('origin');
    if (origin && !local.test(origin.replace(/^https?:\/\//, '')))
      return refuse(403, 'Requests from other sites are refused.');
    next();
  };
}
