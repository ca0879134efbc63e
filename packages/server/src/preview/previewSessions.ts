import type { Worker } from 'node:worker_threads';
import type { Remote } from 'comlink';
import { spawn } from '@dusting/threads';
import { Missing } from '../errors.ts';
import type { StageThread } from './stageThread.ts';

/** So many previews are computed at a time: the one that was not asked for longest gives way. */
const MOST_SESSIONS = 2;
/** Milliseconds after which one that nobody asks for ends. */
const IDLE = 60_000;

interface Session {
  remote: Remote<StageThread>;
  worker: Worker;
  askedAt: number;
  /** Rejects once it has ended, so that no question to it waits for ever. */
  ended: Promise<never>;
  end(): void;
}

/** Previews that the server computes, one for each window and shot. */
export class PreviewSessions {
  private readonly sessions = new Map<string, Session>();
  private readonly sweep: ReturnType<typeof setInterval>;

  constructor(private readonly url: string) {
    this.sweep = setInterval(() => this.endIdle(), IDLE / 4);
    this.sweep.unref();
  }

  /**
   * Asks the preview of a window.
   * @param start whether one is started where there is none
   * @returns undefined where there is none @throws Missing where it ends before it has answered
   */
  async ask<T>(
    { window, shot, start }: { window: string; shot: number; start: boolean },
    question: (stage: Remote<StageThread>) => Promise<T>,
  ): Promise<T | undefined> {
    const key = `${window} ${shot}`;
    let session = this.sessions.get(key);
    if (!session && !start) return undefined;
    session ??= this.start(shot);
    session.askedAt = Date.now();
    this.sessions.delete(key);
    this.sessions.set(key, session); // the last is the one that was asked for last
    while (this.sessions.size > MOST_SESSIONS) this.end(this.sessions.keys().next().value!);
    return Promise.race([question(session.remote), session.ended]);
  }

  private start(shot: number): Session {
    const thread = spawn<StageThread>(new URL('./stageThread.ts', import.meta.url), { shot, url: this.url });
    let end!: () => void;
    const ended = new Promise<never>((_, reject) => {
      end = () => {
        void thread.worker.terminate();
        reject(new Missing('The preview has ended.'));
      };
    });
    ended.catch(() => {}); // nobody may be asking
    thread.worker.once('error', () => end());
    return { ...thread, ended, end, askedAt: 0 };
  }

  private end(key: string): void {
    this.sessions.get(key)?.end();
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
