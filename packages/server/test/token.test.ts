// Shared use: nothing of the interface answers without the token (RFC 9110, 15.5.2), however its address is spelt.
// Express matches routes without regard to case and to a trailing slash, so the check must not be stricter than that.
import { expect } from 'chai';
import type { AddressInfo } from 'node:net';
import { createApp } from '../src/app.ts';
import type { Context } from '../src/api/context.ts';

const TOKEN = 'a token of the test';

describe('the access token', () => {
  const config = { host: '0.0.0.0', port: 0, webRoot: '/nowhere', token: TOKEN };
  const server = createApp({} as Context, config).app.listen(0, '127.0.0.1');
  const ask = async (path: string, init?: RequestInit) => {
    const { port } = server.address() as AddressInfo;
    return (await fetch(`http://127.0.0.1:${port}${path}`, init)).status;
  };
  after(() => server.close());

  const spellings = ['/api/shots', '/API/shots', '/Api/Shots/', '/aPi/health', '/api', '/api/', '/api/%2e%2e/api/shots', '/api//shots', '/API/events']; // prettier-ignore
  for (const path of spellings)
    it(`is asked for at ${path}`, async () => {
      for (const method of ['GET', 'POST', 'DELETE', 'PATCH', 'OPTIONS'])
        expect(await ask(path, { method }), method).to.equal(401);
      expect(await ask(`${path}?token=wrong`)).to.equal(401);
    });

  it('an encoded prefix is not an address of the interface', async () => {
    expect(await ask('/%61pi/health')).to.equal(404);
  });

  it('is taken from the header or the address, and only whole', async () => {
    const header = (authorization: string) => ({ headers: { authorization } });
    expect(await ask('/API/health', header(`Bearer ${TOKEN}`))).to.equal(200);
    expect(await ask(`/api/health?token=${encodeURIComponent(TOKEN)}`)).to.equal(200);
    expect(await ask('/api/health', header('Bearer a token'))).to.equal(401);
    expect(await ask('/api/health', header('Bearer '))).to.equal(401);
    expect(await ask('/api/health', header(`Basic ${TOKEN}`))).to.equal(401);
    expect(await ask('/api/health?token=a&token=b')).to.equal(401);
    expect(await ask('/api/nothing', header(`Bearer ${TOKEN}`))).to.equal(404);
  });
});
