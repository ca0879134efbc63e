// RFC 9457 problem details; the statuses of HTTP semantics (RFC 9110).
import { tmpdir } from 'node:os';
import { expect } from 'chai';
import express from 'express';
import type { AddressInfo } from 'node:net';
import { InputError } from '@dusting/core/formats';
import { DefectBody, DefectChange, parse, ProofBody, ProofChange, SlipBody } from '../src/api/body.ts';
import { databaseUrl, serverConfig } from '../src/config.ts';
import { isLostConnection } from '../src/db/connect.ts';
import { hasNoRoom } from '../src/db/hasNoRoom.ts';
import { BadRequest, Conflict, Missing } from '../src/errors.ts';
import { coarseRegion, shrinkPicture } from '../src/node/coarse.ts';
import { problemHandler } from '../src/problems.ts';
import { fromHalf } from '@dusting/core/formats';

describe('requests', () => {
  it('errors are answered as problem details that say what to do', async () => {
    const app = express();
    const errors: Record<string, Error> = {
      input: new InputError('it is cut off', 'a.glb'),
      bad: new BadRequest('no'),
      missing: new Missing('There is no shot 9.'),
      gone: Object.assign(new Error('removed'), { name: 'Missing' }), // as it comes from a thread
      conflict: new Conflict('taken'),
      lost: Object.assign(new Error('x'), { code: 'ECONNREFUSED' }),
      // PostgreSQL, appendix A: disk_full, character_not_in_repertoire
      full: new Error('query', { cause: Object.assign(new Error('x'), { code: '53100', severity: 'ERROR' }) }),
      nul: new Error('query', { cause: Object.assign(new Error('x'), { code: '22021', severity: 'ERROR' }) }),
    };
    app.get('/:kind', (request) => {
      throw errors[request.params.kind];
    });
    app.use(problemHandler);
    const server = app.listen(0, '127.0.0.1');
    await new Promise((resolve) => server.once('listening', resolve));
    const { port } = server.address() as AddressInfo;
    const ask = async (kind: string) => {
      const answer = await fetch(`http://127.0.0.1:${port}/${kind}`);
      expect(answer.headers.get('content-type')).to.contain('application/problem+json');
      return (await answer.json()) as { status: number; detail: string };
    };
    try {
      expect(await ask('input')).to.include({ status: 422, detail: 'a.glb: it is cut off', place: 'a.glb' });
      expect(await ask('missing')).to.include({ status: 404, detail: 'There is no shot 9.' });
      expect((await ask('gone')).status).to.equal(404);
      expect((await ask('bad')).status).to.equal(400);
      expect((await ask('conflict')).status).to.equal(409);
      expect((await ask('lost')).detail).to.contain('nothing is lost');
      expect(await ask('full')).to.include({ status: 507 });
      expect((await ask('nul')).status).to.equal(400);
    } finally {
      server.close();
    }
  });

  it('bodies are checked against their schema', () => {
    expect(parse(SlipBody, { patch: [{ op: 'replace', path: '/a', value: 1 }], edits: 0 }).patch).to.have.length(1);
    const refused = (act: () => unknown, words: RegExp) => expect(act).to.throw(BadRequest, words);
    refused(() => parse(SlipBody, { patch: [{ op: 'test', path: '/a' }], edits: 0 }), /patch\.0\.op/);
    // found by 13,333 mutated requests: nothing to change was an error of the database
    refused(() => parse(DefectChange, {}), /fewer than 1|must NOT have/);
    refused(() => parse(ProofChange, {}), /fewer than 1|must NOT have/);
    refused(
      () => parse(ProofBody, { kind: 'proof', use: 'final', region: { x: 0, y: 0, width: 0, height: 1 } }),
      /region/,
    );
    refused(() => parse(ProofBody, { kind: 'proof', use: 'final', region: null, force: true }), /no setting "force"/);
    refused(
      () => parse(DefectBody, { kind: 'weather', proof: 1, region: { x: 0, y: 0, width: 1, height: 1 } }),
      /kind/,
    );
    refused(() => parse(DefectBody, 'text'), /must be an object/);
  });

  it('the server does not open itself to others without a token', () => {
    const { DUSTING_HOST, DUSTING_TOKEN, DUSTING_DATABASE_URL } = process.env;
    try {
      delete process.env.DUSTING_TOKEN;
      process.env.DUSTING_HOST = '0.0.0.0';
      expect(() => serverConfig()).to.throw('DUSTING_TOKEN');
      process.env.DUSTING_TOKEN = 'secret';
      expect(serverConfig().token).to.equal('secret');
      delete process.env.DUSTING_DATABASE_URL;
      expect(() => databaseUrl()).to.throw('DUSTING_DATABASE_URL');
    } finally {
      for (const [name, value] of Object.entries({ DUSTING_HOST, DUSTING_TOKEN, DUSTING_DATABASE_URL }))
        if (value === undefined) delete process.env[name];
        else process.env[name] = value;
    }
  });

  it('a lost database is not taken for a fault', () => {
    expect(isLostConnection(Object.assign(new Error('x'), { code: '57P01' }))).to.equal(true);
    expect(isLostConnection(new Error('outer', { cause: new Error('Connection terminated unexpectedly') }))).to.equal(
      true,
    );
    expect(isLostConnection(new Error('relation does not exist'))).to.equal(false);
    expect(isLostConnection(null)).to.equal(false);
  });

  it('a disk without room is known: that of proc(5) has none', () => {
    expect([hasNoRoom('/proc'), hasNoRoom(tmpdir()), hasNoRoom(''), hasNoRoom('/nowhere')]).to.deep.equal([true, false, false, false]); // prettier-ignore
  });

  it('the small picture holds the means of its pixels', () => {
    const region = { x: 6, y: 3, width: 5, height: 4 };
    expect(coarseRegion(region)).to.deep.equal({ x: 1, y: 0, width: 2, height: 1 });
    const plane = (value: (i: number) => number) => Float32Array.from({ length: 20 }, (_, i) => value(i));
    const channels = [...'RGB'].map((name, k) => ({ name, type: 'float' as const, data: plane((i) => (k === 0 ? i % 5 : 0)) })); // prettier-ignore
    const picture = { width: 5, height: 4, dataWindow: region, displayWindow: region, channels, metadata: {} };
    const halves = new Uint16Array(shrinkPicture(picture).buffer);
    expect([...halves].map(fromHalf)).to.deep.equal([1.5, 0, 0, 4, 0, 0]);
  });
});
