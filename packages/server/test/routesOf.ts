import type { Express } from 'express';

interface Layer {
  route?: { path: string; methods: Record<string, boolean> };
  handle: { stack?: Layer[] };
}
export interface Route {
  method: string;
  /** Below /api, with names of parameters after colons. */
  path: string;
}

/** Every route of the interface, read from the application itself. */
export function routesOf(app: Express): Route[] {
  const walk = (layers: Layer[]): Route[] =>
    layers.flatMap(({ route, handle }) =>
      route
        ? Object.keys(route.methods).map((method) => ({ method: method.toUpperCase(), path: route.path }))
        : walk(handle.stack ?? []),
    );
  return walk((app as unknown as { router: { stack: Layer[] } }).router.stack);
}
