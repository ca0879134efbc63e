import { existsSync } from 'node:fs';
import { join } from 'node:path';
import compression from 'compression';
import express, { Router, type Express } from 'express';
import helmet from 'helmet';
import { createChannel, createSession, type Channel } from 'better-sse';
import { access, onlyOwnPages } from './access.ts';
import { checkNesting } from './api/body.ts';
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
import { Missing } from './errors.ts';
import { problemHandler } from './problems.ts';

/** The web application and its interface, with a channel on which changes are announced. */
export function createApp(
  context: Omit<Context, 'announce'>,
  config: ServerConfig,
): { app: Express; channel: Channel } {
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
  app.use(onlyOwnPages(config.token !== null));
  const announce: Context['announce'] = (notice) => channel.broadcast(notice, 'import');
  app.use('/api', apiRouter({ ...context, announce }, config, channel));
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
function apiRouter(context: Context, { token, port }: ServerConfig, channel: Channel): Router {
  const api = Router();
  if (token) api.use(access(token, port));
  api.get('/events', async (request, response) => {
    channel.register(await createSession(request, response));
  });
  api.use(compression());
  api.use(express.json({ limit: '4mb' }), checkNesting);
  api.get('/health', (_request, response) => void response.json({ ready: true, shared: token !== null }));
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
  api.use(() => {
    throw new Missing('There is no such address.');
  });
  return api;
}
