import type { Worker } from 'node:worker_threads';
import type { Remote } from 'comlink';
import { spawn } from '@dusting/threads';
import type { StageThread } from './stageThread.ts';

/** So many previews are computed at a time: the one that was not asked for longest gives way. */
const MOST_SESSIONS = 2;
/** Milliseconds after which one that nobody asks for ends. */
const IDLE = 60_000;

interface Session {
  remote: Remote<StageThread>;
  worker: Worker;
  askedAt: number;
}

/** Previews that the server computes, one for each window and shot. */
export class PreviewSessions {
  private readonly sessions = new Map<string, Session>();
  private readonly sweep: ReturnType<typeof setInterval>;

  constructor(private readonly url: string) {
    this.sweep = setInterval(() => this.endIdle(), IDLE / 4);
    this.sweep.unref();
  }

  /** @returns null where there is none, and none is to be started */
  find(window: string, shot: number, start: boolean): Remote<StageThread> | null {
    const key = `${window} ${shot}`;
    let session = this.sessions.get(key);
    if (!session && !start) return null;
    session ??= {
      ...spawn<StageThread>(new URL('./stageThread.ts', import.meta.url), { shot, url: this.url }),
      askedAt: 0,
    };
    session.askedAt = Date.now();
    this.sessions.delete(key);
    this.sessions.set(key, session); // the last is the one that was asked for last
    while (this.sessions.size > MOST_SESSIONS) this.end(this.sessions.keys().next().value!);
    return session.remote;
  }

  private end(key: string): void {
    void this.sessions.get(key)?.worker.terminate();
    this.sessions.delete(key);
  }
  private endIdle(): void {
    const before = Date.now() - IDLE;
    for (const [key, { askedAt }] of this.sessions) if (askedAt < before) this.end(key);
  }
  close(window: string, shot: number): void {
    this.end(`${window} ${shot}`);
  }
  async closeAll(): Promise<void> {
    clearInterval(this.sweep);
    await Promise.all([...this.sessions.values()].map(({ worker }) => worker.terminate()));
  }
}
