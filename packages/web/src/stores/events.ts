import type { ImportNotice } from '@dusting/server/answers';

interface Followed {
  notice(notice: { type: 'proof' | 'shot' | 'diagnosis'; shot: number; proof?: number }): void;
  state(connected: boolean): void;
  /** The database has no room for what was rendered; it comes again while that is so. */
  full?(): void;
  importing?(notice: ImportNotice): void;
}

/** Calls back for what the server announces; the browser connects again by itself. Returns a function that ends it. */
export function followEvents({ notice, state, full, importing }: Followed) {
  const source = new EventSource('/api/events');
  for (const type of ['proof', 'shot', 'diagnosis'])
    source.addEventListener(type, (event: MessageEvent) => notice(JSON.parse(event.data)));
  if (full) source.addEventListener('full', full);
  if (importing) source.addEventListener('import', (event: MessageEvent) => importing(JSON.parse(event.data)));
  source.onopen = () => state(true);
  source.onerror = () => state(false);
  return () => source.close();
}
