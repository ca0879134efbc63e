import { createHash, createHmac, timingSafeEqual } from 'node:crypto';
import express, { Router, type CookieOptions, type Request, type RequestHandler } from 'express';
import { Type } from '@sinclair/typebox';
import { parse } from './api/body.ts';
import { Refused } from './errors.ts';

const SessionBody = Type.Object({ token: Type.String({ maxLength: 1000 }) }, { additionalProperties: false });
/** Attempts of one address that may wait for their answer at the same time. */
const MOST_WAITING = 20;
/** Addresses whose wrong tokens are remembered. */
const MOST_ADDRESSES = 1000;
const LONGEST_WAIT = 10_000;

/** What happens at the nth wrong token in a row from an address, before it is answered. */
export type OnWrong = (address: string, count: number) => Promise<void>;
const noteAndWait: OnWrong = (address, count) => {
  process.stderr.write(`Wrong access token from ${address} (${count} in a row)\n`);
  return new Promise((resolve) => setTimeout(resolve, Math.min(LONGEST_WAIT, 500 * 2 ** (count - 1))));
};

/**
 * Lets requests pass that bring the access token: in the header (RFC 6750), or as the cookie of a session that was
 * opened with it. The cookie holds a value derived from the token, never the token: it outlives a server that starts
 * again, and ends with the token. Event streams and downloads bring it by themselves; no script can read it.
 */
export function access(token: string, port: number, onWrong: OnWrong = noteAndWait): Router {
  const name = `dusting-${port}`; // cookies do not tell ports apart
  const value = createHmac('sha256', token).update('session').digest('hex');
  const options: CookieOptions = { httpOnly: true, sameSite: 'strict', path: '/' };
  const attempts = new Attempts(token, onWrong);
  const router = Router();

  router.post('/session', express.json({ limit: '4kb' }), async (request, response) => {
    await attempts.check(request, parse(SessionBody, request.body).token);
    response.cookie(name, value, options).json({ open: true });
  });
  router.delete('/session', (_request, response) => void response.clearCookie(name, options).json({ open: false }));
  router.use(async (request, _response, next) => {
    const bearer = /^Bearer (.*)$/.exec(request.get('authorization') ?? '')?.[1];
    if (bearer !== undefined) await attempts.check(request, bearer);
    else if (!isSame(cookieOf(request, name), value)) throw new Refused('An access token is needed.', 401);
    next();
  });
  return router;
}

/** Checks tokens, those of one address one after the other: many at once are no faster than one. */
class Attempts {
  private readonly addresses = new Map<string, { wrong: number; waiting: number; last: Promise<unknown> }>();
  constructor(
    private readonly token: string,
    private readonly onWrong: OnWrong,
  ) {}

  /** @throws Refused, after a while, where the token is wrong */
  async check(request: Request, given: string): Promise<void> {
    const address = request.socket.remoteAddress ?? '';
    const right = isSame(given, this.token);
    const known = this.addresses.get(address);
    if (!known && right) return;
    const at = known ?? { wrong: 0, waiting: 0, last: Promise.resolve() };
    if (at.waiting >= MOST_WAITING) throw new Refused('Too many wrong tokens: wait a minute, then try again.', 429);
    if (!known && this.addresses.size >= MOST_ADDRESSES)
      this.addresses.delete(this.addresses.keys().next().value as string);
    this.addresses.set(address, at);
    at.waiting++;
    const turn = at.last.then(async () => {
      at.waiting--;
      if (right) return void this.addresses.delete(address);
      await this.onWrong(address, ++at.wrong);
      throw new Refused('This is not the access token of this server.', 401);
    });
    at.last = turn.catch(() => {});
    return turn;
  }
}

/** Refuses pages of other sites, and names of this machine that others have made up where it answers itself alone. */
export function onlyOwnPages(shared: boolean): RequestHandler {
  const local = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;
  return (request, _response, next) => {
    const host = request.get('host') ?? '';
    if (!shared && !local.test(host)) throw new Refused('This server answers on this machine only.', 403);
    const origin = request.get('origin');
    if (origin !== undefined && origin.replace(/^https?:\/\//, '') !== host)
      throw new Refused('Requests of other pages are refused.', 403);
    next();
  };
}

/** Compares digests, so that the time taken says nothing of what was right. */
function isSame(given: string | undefined, wanted: string): boolean {
  const digest = (text: string) => createHash('sha256').update(text).digest();
  return given !== undefined && timingSafeEqual(digest(given), digest(wanted));
}

function cookieOf(request: Request, name: string): string | undefined {
  const cookies = (request.get('cookie') ?? '').split(';').map((pair) => pair.trim());
  return cookies.find((pair) => pair.startsWith(`${name}=`))?.slice(name.length + 1);
}
