// The interface of the server by itself, where scenes are edited: files, revisions, other windows and previews.
import { createHash } from 'node:crypto';
import { raysIn, type RenderStatistics } from '@dusting/core/render';
import { expect } from 'chai';
import { encode } from 'fast-png';
import { ISOLATION_DEFAULTS } from '@dusting/core/scene';
import type { Application } from '../../scripts/lib/application.mjs';
import { startWithDemo } from '../application.ts';

describe('the interface to scenes', () => {
  let application: Application;
  let shot: number;
  before(async () => {
    application = await startWithDemo('scenes');
    shot = (await (await ask('GET', 'shots')).json())[0].id;
  });
  after(() => application?.stop());
  const ask = (method: string, path: string, body?: unknown, window = 'one') =>
    fetch(`${application.url}/api/${path}`, { method, headers: { 'content-type': 'application/json', 'x-window': window }, body: body === undefined ? undefined : JSON.stringify(body) }); // prettier-ignore
  const detailOf = async (answer: Response) => ((await answer.json()) as { detail: string }).detail;
  const now = async () => (await ask('GET', `shots/${shot}`)).json();
  const depth = (value: number) => ({ op: 'replace', path: '/surfaces/clear-honey/transmission_depth', value });

  it('gives files by what is in them, and takes in pictures', async () => {
    const { document } = await now();
    const { blob } = document.meshes[document.objects['jar-4'].mesh];
    const file = await ask('GET', `blobs/${blob}`);
    expect(createHash('sha256').update(Buffer.from(await file.arrayBuffer())).digest('hex')).to.equal(blob); // prettier-ignore
    expect((await ask('GET', `blobs/${'0'.repeat(64)}`)).status).to.equal(404);
    const bring = (name: string, bytes: Uint8Array) => {
      const form = new FormData();
      form.append('files', new Blob([Uint8Array.from(bytes)]), name);
      return fetch(`${application.url}/api/pictures`, { method: 'POST', body: form });
    };
    const png = encode({ width: 3, height: 2, channels: 3, data: new Uint8Array(18) });
    const taken = await (await bring('comb.png', png)).json();
    expect(taken).to.deep.equal({ name: 'comb.png', width: 3, height: 2, blob: createHash('sha256').update(png).digest('hex') }); // prettier-ignore
    const refused = await bring('comb.png', png.slice(0, 40));
    expect([refused.status, await detailOf(refused)]).to.deep.include(422);
  });

  it('an edit that did not know of another is refused, and nothing of it is done', async () => {
    const { edits } = await now();
    expect(await (await ask('PUT', `shots/${shot}/slip`, { patch: [depth(0.02)], edits })).json()).to.deep.equal({ edits: edits + 1 }); // prettier-ignore
    const late = await ask('PUT', `shots/${shot}/slip`, { patch: [], edits }, 'two');
    expect(late.status).to.equal(409);
    expect(await detailOf(late)).to.contain('Another window');
    expect(await now()).to.deep.include({ slip: [depth(0.02)], edits: edits + 1, editedBy: 'one' });
    const wrong = await ask('PUT', `shots/${shot}/slip`, { patch: [depth(-1)], edits: edits + 1 });
    expect([wrong.status, await detailOf(wrong)]).to.deep.equal([422, 'the change slip: surfaces.clear-honey.transmission_depth is -1; it must be at least 0']); // prettier-ignore
    const gone = { op: 'replace', path: '/lights/lantern/linked', value: ['jar-4', 'jar-99'] };
    const link = await ask('PUT', `shots/${shot}/slip`, { patch: [gone], edits: edits + 1 });
    expect(await detailOf(link), 'a link to what is not there').to.contain(
      'refers to "jar-99", which is not in the shot',
    );
  });

  it('keeps the slip as a revision that says what it changed, with a note; two can be compared', async () => {
    const { edits } = await now();
    expect((await ask('POST', `shots/${shot}/revisions`, { reason: '', edits: edits - 1 })).status).to.equal(409);
    expect(await (await ask('POST', `shots/${shot}/revisions`, { reason: '', edits })).json()).to.deep.equal({
      revision: 2,
    });
    expect((await ask('POST', `shots/${shot}/revisions`, { reason: '', edits: edits + 1 })).status, 'nothing to keep').to.equal(400); // prettier-ignore
    await ask('PATCH', `shots/${shot}/revisions/2`, { note: 'warmer', was: '' });
    expect((await ask('PATCH', `shots/${shot}/revisions/2`, { note: 'colder', was: '' })).status).to.equal(409);
    const { revisions, slip } = await now();
    const words = 'clear honey: transmission depth 0.035 to 0.02 m';
    expect(revisions[0]).to.deep.include({ number: 2, note: 'warmer', changes: [words] });
    expect(slip).to.deep.equal([]);
    const compared = async (from: number, to: number) => (await ask('GET', `shots/${shot}/changes?from=${from}&to=${to}`)).json(); // prettier-ignore
    expect(await compared(1, 2)).to.deep.equal([words]);
    expect(await compared(2, 2)).to.deep.equal([]);
    expect((await ask('GET', `shots/${shot}/changes?from=1&to=9`)).status).to.equal(404);
    const first = await (await ask('GET', `shots/${shot}/revisions/1`)).json();
    expect(first.surfaces['clear-honey'].transmission_depth).to.equal(0.035);
    expect((await ask('PATCH', `shots/${shot}/revisions/9`, { note: '', was: '' })).status).to.equal(404);
  });

  it('computes a preview for the window that asks for it, and for no other', async () => {
    expect((await ask('GET', `shots/${shot}/preview/picture?after=0`)).status, 'nothing was asked for').to.equal(404);
    const wish = {
      patch: [depth(0.03)],
      use: 'preview',
      isolation: ISOLATION_DEFAULTS,
      samples: 1,
      interest: null,
      denoised: false,
    };
    expect((await ask('PUT', `shots/${shot}/preview`, { number: 1, revision: 2, wish })).status).to.equal(200);
    let report = { serial: 0, width: 0, height: 0, wish: 0, done: false, objectIds: [] as string[] };
    let bytes = new ArrayBuffer(0);
    while (!report.done) {
      const answer = await ask('GET', `shots/${shot}/preview/picture?after=${report.serial}`);
      if (answer.status === 204) continue;
      report = JSON.parse(decodeURIComponent(answer.headers.get('x-preview')!));
      bytes = await answer.arrayBuffer();
    }
    const pixels = report.width * report.height;
    expect([report.wish, report.width, report.height, bytes.byteLength]).to.deep.equal([1, 200, 113, pixels * 14]);
    const seen = new Set(new Uint32Array(bytes, 0, pixels));
    expect(seen.has(report.objectIds.indexOf('jar-4') + 1)).to.equal(true);
    expect((await ask('GET', `shots/${shot}/preview/picture?after=0`, undefined, 'two')).status).to.equal(404);
    const bad = { ...wish, samples: 0 };
    expect((await ask('PUT', `shots/${shot}/preview`, { number: 2, revision: 2, wish: bad })).status).to.equal(400);
    expect((await ask('DELETE', `shots/${shot}/preview`)).status).to.equal(204);
    expect((await ask('GET', `shots/${shot}/preview/picture?after=0`)).status).to.equal(404);
  });

  it('keeps what is harmless in a log, for the shot or for the house', async () => {
    const say = (body: object) => ask('POST', `shots/${shot}/harmless`, body);
    expect((await say({ key: 'warning wide', reason: ' ', house: false })).status, 'without a reason').to.equal(400);
    const { id } = await (await say({ key: 'warning wide', reason: 'seen from afar', house: false })).json();
    await say({ key: 'warning old', reason: 'known', house: true });
    const { harmless } = await now();
    expect(harmless.map((h: { key: string; shot: number | null }) => [h.key, h.shot])).to.deep.equal([['warning wide', shot], ['warning old', null]]); // prettier-ignore
    expect((await ask('DELETE', `shots/${shot}/harmless/${id}`)).status).to.equal(204);
    expect((await ask('DELETE', `shots/${shot}/harmless/${id}`)).status).to.equal(404);
    expect((await now()).harmless).to.have.length(1);
  });

  it('keeps patterns for the logs of the house, and refuses what is none', async () => {
    const add = (expression: string, fact = 'time') => ask('POST', `shots/${shot}/log-patterns`, { fact, expression });
    const refused = [await add('no group'), await add('a('), await add('x', 'mood')];
    expect(refused.map((r) => r.status)).to.deep.equal([422, 422, 400]);
    const { id } = await (await add('bees home after ([\\d.]+ s)')).json();
    expect((await add('queenless', 'error')).status).to.equal(201);
    expect((await now()).logPatterns.map((p: { fact: string }) => p.fact)).to.deep.equal(['time', 'error']);
    expect((await ask('DELETE', `shots/${shot}/log-patterns/${id}`)).status).to.equal(204);
    expect((await ask('DELETE', `shots/${shot}/log-patterns/${id}`)).status).to.equal(404);
  });

  it('a plan needs a pilot of what the shot is now, and keeps it as long as counts alone change', async () => {
    const bounds = { leastPixelSamples: 9, mostPixelSamples: 4096, mostSplits: 64 };
    const wish = { use: 'preview', region: null, share: 0.95, bounds };
    const plan = (change = {}) => ask('POST', `shots/${shot}/plan`, { ...wish, ...change });
    expect((await plan()).status).to.equal(404);
    const region = { x: 40, y: 60, width: 32, height: 16 };
    const { id } = await (
      await ask('POST', `shots/${shot}/proofs`, { kind: 'diagnostic', purpose: 'pilot', use: 'preview', region })
    ).json();
    while ((await now()).proofs.find((p: { id: number }) => p.id === id).state !== 'done')
      await new Promise((resolve) => setTimeout(resolve, 300));
    const found = await (await plan()).json();
    expect([found.pilot, found.plan.options[0].id, found.plan.options[1].id]).to.deep.equal([id, 'present', 'plan']);
    expect(found.plan.rests.checked, 'there is no proof to hold it against').to.equal(false);
    expect((await plan({ use: 'final' })).status, 'of other settings').to.equal(404);
    expect((await plan({ bounds: { ...bounds, leastPixelSamples: 5000 } })).status).to.equal(400);
    expect((await plan({ region: { x: 150, y: 90, width: 8, height: 8 } })).status, 'outside of it').to.equal(422);
    const save = async (patch: object[]) => ask('PUT', `shots/${shot}/slip`, { patch, edits: (await now()).edits });
    await save([{ op: 'replace', path: '/preview/pixelSamples', value: 32 }]);
    expect((await plan()).status, 'counts alone').to.equal(200);
    await save([depth(0.011)]);
    expect((await plan()).status, 'another honey').to.equal(404);
    await save([]);
  });

  it('checks a sweep before it begins; stopping keeps what is done, deleting frees it', async () => {
    const region = { x: 0, y: 0, width: 8, height: 8 };
    const sweep = (axes: object[]) => ask('POST', `shots/${shot}/sweeps`, { use: 'preview', region, axes });
    const axis = (path: string, ...values: number[]) => ({ path, values });
    for (const axes of [
      [axis('/preview/seed', 1)],
      [axis('/preview/pixelSamples', 0, 1)],
      [axis('/preview/seed', 1, 2), axis('/preview/seed', 1, 2)],
      [axis('/preview/seedling', 1, 2)],
      [axis('/surfaces/not-there/specular_roughness', 0, 1)],
    ])
      expect((await sweep(axes)).status, JSON.stringify(axes)).to.equal(422);
    expect((await now()).sweeps, 'nothing half done').to.deep.equal([]);
    const { id } = await (await sweep([axis('/preview/pixelSamples', 2, 60_000)])).json();
    const trials = async () =>
      (await now()).sweeps[0].trials as { state: string; settings: { pixelSamples: number } }[];
    while ((await trials())[0].state !== 'done') await new Promise((resolve) => setTimeout(resolve, 300));
    await ask('POST', `sweeps/${id}/cancel`);
    expect((await trials()).map((t) => t.settings.pixelSamples)).to.deep.equal([2]);
    expect((await (await ask('DELETE', `sweeps/${id}`)).json()).freed).to.be.greaterThan(0);
    expect((await now()).sweeps).to.deep.equal([]);
    expect((await ask('DELETE', `sweeps/${id}`)).status).to.equal(404);
  });

  it('sweeps over what can be chosen, and says how far each is from the most expensive', async () => {
    const region = { x: 40, y: 60, width: 16, height: 16 };
    const axes = [
      { path: '/preview/clearShadows', values: ['off', 'tinted'] },
      { path: '/preview/pixelSamples', values: [2, 16] },
    ];
    const wrong = [{ path: '/preview/clearShadows', values: ['off', 'sometimes'] }];
    expect((await ask('POST', `shots/${shot}/sweeps`, { use: 'preview', region, axes: wrong })).status).to.equal(422);
    const { id } = await (await ask('POST', `shots/${shot}/sweeps`, { use: 'preview', region, axes })).json();
    const trials = async () =>
      (await now()).sweeps[0].trials as { id: number; state: string; statistics: RenderStatistics }[];
    while ((await trials()).some((t) => t.state !== 'done')) await new Promise((resolve) => setTimeout(resolve, 300));
    const { apart, reference } = await (await ask('GET', `sweeps/${id}/apart`)).json();
    const rays = new Map((await trials()).map((trial) => [trial.id, raysIn(trial.statistics)]));
    expect(rays.get(reference)).to.equal(Math.max(...rays.values()));
    expect(apart).to.have.length(4);
    for (const { deltaE, proof } of apart) expect(deltaE > 0).to.equal(proof !== reference);
    await ask('DELETE', `sweeps/${id}`);
  });

  it('tells which proofs show something else than the present revision', async () => {
    const made = await (await ask('POST', `shots/${shot}/proofs`, { kind: 'proof', use: 'preview', region: { x: 0, y: 0, width: 8, height: 8 } })).json(); // prettier-ignore
    const outdated = async () => (await ask('GET', `shots/${shot}/outdated`)).json();
    expect(await outdated()).to.deep.equal([]);
    await ask('POST', `shots/${shot}/revert`, { revision: 1, edits: (await now()).edits });
    expect(await outdated()).to.deep.include({ proof: made.id, changes: ['clear honey: transmission depth 0.02 to 0.035 m'] }); // prettier-ignore
  });
});
