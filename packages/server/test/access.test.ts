// Shared use: nothing of the interface answers without the token (RFC 9110, 15.5.2), however its address is spelt.
// Express matches routes without regard to case and to a trailing slash, so the check must not be stricter than that.
// Cookies: RFC 6265bis (HttpOnly, SameSite). Header: RFC 6750.
import { expect } from 'chai';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import express, { type Express } from 'express';
import { access } from '../src/access.ts';
import { createApp } from '../src/app.ts';
import type { Context } from '../src/api/context.ts';
import { problemHandler } from '../src/problems.ts';
import { routesOf } from './routesOf.ts';

const TOKEN = 'a token of the test';
const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'];

/** What an application answers, at an address of this machine. */
function serve(app: Express) {
  const server = app.listen(0, '127.0.0.1');
  after(() => server.close());
  return async (path: string, init: RequestInit = {}) => {
    if (!server.listening) await once(server, 'listening');
    return fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}${path}`, init);
  };
}
const json = (body: unknown): RequestInit => ({ method: 'POST', body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }); // prettier-ignore
const config = { host: '0.0.0.0', port: 4180, webRoot: '/nowhere', token: TOKEN, importScale: 1 };

describe('the access token', () => {
  const app = createApp({} as Context, config).app;
  const ask = serve(app);
  const status = async (path: string, init?: RequestInit) => (await ask(path, init)).status;

  it('is asked for by every route, in odd spellings and for methods that a route does not have', async function () {
    this.timeout(30_000);
    const all = routesOf(app).map(({ path }) => `/api${path.replace(/:\w+/g, '1')}`);
    const routes = [...new Set(all)].filter((path) => path !== '/api/session');
    expect(routes.length).to.be.greaterThan(50);
    const spell = [
      (p: string) => p,
      (p: string) => p.toUpperCase(),
      (p: string) => `${p}/`,
      (p: string) => p.replace('/api/', '/api//'),
      (p: string) => p.replace('/api/', '/aPi/%2e/'),
      (p: string) => `/api/x/..%2f..${p.slice(4)}`,
    ];
    const wrong: string[] = [];
    for (const path of routes)
      for (const spelt of spell.map((s) => s(path)))
        for (const method of METHODS) {
          const seen = await status(spelt, { method });
          if (seen !== 401) wrong.push(`${method} ${spelt}: ${seen}`);
        }
    expect(wrong).to.deep.equal([]);
  });

  it('is asked for below the interface, whatever stands there', async () => {
    for (const path of ['/api', '/api/', '/API/nothing', '/api/%2e%2e/api/shots', '/api/shots?token=a'])
      expect(await status(path), path).to.equal(401);
    // an encoded prefix is no address of the interface
    expect(await status('/%61pi/health')).to.equal(404);
  });

  it('is taken from the header, and only whole', async () => {
    const header = (authorization: string) => ({ headers: { authorization } });
    expect(await status('/API/health', header(`Bearer ${TOKEN}`))).to.equal(200);
    expect(await status('/api/nothing', header(`Bearer ${TOKEN}`))).to.equal(404);
    expect(await status('/api/health', header(`Basic ${TOKEN}`))).to.equal(401);
    // never from the address: it would stand in every log on the way
    expect(await status(`/api/health?token=${encodeURIComponent(TOKEN)}`)).to.equal(401);
  });

  it('opens a session, whose cookie no script reads and no other site sends; it ends when it is closed', async () => {
    const opened = await ask('/api/session', json({ token: TOKEN }));
    expect(opened.status).to.equal(200);
    const [cookie, ...attributes] = opened.headers.get('set-cookie')!.split('; ');
    expect(attributes).to.include.members(['HttpOnly', 'SameSite=Strict', 'Path=/']);
    expect(cookie).not.to.contain(TOKEN);
    expect(await status('/api/health', { headers: { cookie: `a=b; ${cookie}; c=d` } })).to.equal(200);
    expect(await status('/api/health', { headers: { cookie: `${cookie}0` } })).to.equal(401);
    const closed = await ask('/api/session', { method: 'DELETE' });
    expect(closed.headers.get('set-cookie')).to.match(/^dusting-4180=;.*1970/);
  });

  it('what is no token is refused with the reason', async () => {
    expect(await status('/api/session', json({}))).to.equal(400);
    expect(await status('/api/session', json({ token: ['a'] }))).to.equal(400);
    expect(await status('/api/session', json({ token: 'a'.repeat(5000) }))).to.equal(413);
  });
});

describe('wrong tokens', () => {
  const waits: { count: number; go: () => void }[] = [];
  const app = express();
  app.use(access(TOKEN, 1, (_address, count) => new Promise((go) => waits.push({ count, go }))));
  app.use((_request, response) => void response.send('in'));
  app.use(problemHandler);
  const ask = serve(app);
  const untilWaiting = async () => {
    while (waits.length === 0) await new Promise((resolve) => setImmediate(resolve));
    return waits.shift()!;
  };

  it('are answered one after the other, each after a longer wait, until a right one comes', async () => {
    const order: string[] = [];
    const send = (token: string, name: string) =>
      ask('/', { headers: { authorization: `Bearer ${token}` } }).then(({ status }) => order.push(`${name} ${status}`));
    const first = send('wrong', 'first');
    const one = await untilWaiting();
    const second = send('wrong', 'second');
    one.go();
    await first;
    const two = await untilWaiting();
    expect([one.count, two.count]).to.deep.equal([1, 2]);
    const third = send(TOKEN, 'third');
    two.go();
    await Promise.all([second, third]);
    expect(order).to.deep.equal(['first 401', 'second 401', 'third 200']);
    const again = send('wrong', 'again');
    const { count, go } = await untilWaiting();
    expect(count).to.equal(1);
    go();
    await again;
  });

  it('do not pile up', async () => {
    const seen: number[] = [];
    const all = Array.from({ length: 30 }, async () => {
      seen.push((await ask('/session', json({ token: 'wrong' }))).status);
    });
    const pass = () => new Promise((resolve) => setImmediate(resolve));
    // one is being answered and 20 wait
    while (seen.length < 9) await pass();
    expect(seen).to.deep.equal(Array(9).fill(429));
    for (; seen.length < 30; await pass()) waits.shift()?.go();
    await Promise.all(all);
    expect(seen.slice(9)).to.deep.equal(Array(21).fill(401));
  });
});

describe('pages of others', () => {
  const alone = serve(createApp({} as Context, { ...config, token: null }).app);
  it('are refused, those of another port of this machine as well', async () => {
    const url = (await alone('/api/health')).url;
    const own = new URL(url).origin;
    const from = async (origin: string) => (await alone('/api/health', { headers: { origin } })).status;
    expect(await from(own)).to.equal(200);
    for (const origin of [
      'http://localhost:3000',
      'http://127.0.0.1',
      'http://example.com',
      'null',
      'http://127.0.0.1.example.com',
      '',
    ])
      // prettier-ignore
      expect(await from(origin), origin).to.equal(403);
  });
});
