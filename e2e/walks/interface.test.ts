// The interface of the server by itself: what it gives for pictures, and that it refuses what does not fit with a reason.
import { expect } from 'chai';
import { decode as decodePng } from 'fast-png';
import { makeIdMattes, packIdMattes } from '../../packages/core/test/mattes.ts';
import { PLAIN_SPACE, readExr, readTexture, writeExr } from '@dusting/core/formats';
import { findChannel, type Picture } from '@dusting/core/image';
import type { Application } from '../../scripts/lib/application.mjs';
import { startWithDemo } from '../application.ts';

const [WIDTH, HEIGHT] = [24, 16];
/** A frame whose pixels begin at 4, 2 of it: red grows to the right, the comb covers the left half. */
function frame(blue: number): Uint8Array {
  const displayWindow = { x: 0, y: 0, width: 32, height: 20 };
  const dataWindow = { x: 4, y: 2, width: WIDTH, height: HEIGHT };
  const plane = (value: (x: number, y: number) => number) =>
    new Float32Array(WIDTH * HEIGHT).map((_, i) => value(i % WIDTH, Math.floor(i / WIDTH)));
  const mattes = packIdMattes(
    makeIdMattes('objects', ['comb', 'skep'], [
      { number: Int32Array.from(plane((x) => (x < 12 ? 0 : 1))), coverage: plane(() => 0.75) },
      { number: Int32Array.from(plane((x) => (x < 12 ? 1 : -1))), coverage: plane((x) => (x < 12 ? 0.25 : 0)) },
    ]),
  ); // prettier-ignore
  const channels: Picture['channels'] = [
    { name: 'R', type: 'float', data: plane((x) => x / 32) },
    { name: 'G', type: 'float', data: plane(() => 0.25) },
    { name: 'B', type: 'float', data: plane(() => blue) },
    { name: 'zdepth.Z', type: 'float', data: plane((_, y) => y + 1) },
    ...mattes.channels,
  ];
  return writeExr({ width: WIDTH, height: HEIGHT, dataWindow, displayWindow, channels, metadata: mattes.metadata });
}

describe('the interface', () => {
  let application: Application;
  /** Of the frames that are brought in. */
  let shotId: number;
  before(async () => {
    application = await startWithDemo('interface');
  });
  after(() => application?.stop());
  const get = (path: string) => fetch(`${application.url}/api/${path}`);
  const bytesOf = async (path: string) => {
    const answer = await get(path);
    expect(answer.status, path).to.equal(200);
    return new Uint8Array(await answer.arrayBuffer());
  };
  const json = async (path: string) => {
    const answer = await get(path);
    expect(answer.status, path).to.equal(200);
    return answer.json();
  };
  const send = (method: string, path: string, body: unknown) =>
    fetch(`${application.url}/api/${path}`, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }); // prettier-ignore
  const bringIn = (path: string, files: [name: string, bytes: Uint8Array][], name = '') => {
    const form = new FormData();
    for (const [file, bytes] of files) form.append('files', new Blob([Uint8Array.from(bytes)]), file);
    form.append('name', name);
    return fetch(`${application.url}/api/${path}`, { method: 'POST', body: form });
  };
  /** Refused with this status, and words that say why. */
  const refused = async (answer: Response, status: number, words: RegExp) => {
    expect(answer.headers.get('content-type')).to.contain('application/problem+json');
    const problem = (await answer.json()) as { status: number; detail: string };
    expect(problem.detail).to.match(words);
    expect([answer.status, problem.status]).to.deep.equal([status, status]);
  };
  const text = new TextEncoder();

  it('takes frames in with their layers, and refuses what is no frame', async () => {
    const answer = await bringIn('shots', [['comb.0001.exr', frame(0.5)], ['comb.0002.exr', frame(0.25)]], 'comb'); // prettier-ignore
    expect(answer.status).to.equal(201);
    shotId = ((await answer.json()) as { id: number }).id;
    const shot = await json(`shots/${shotId}`);
    expect(shot.proofs.map((p: { frame: number }) => p.frame)).to.deep.equal([1, 2]);
    expect(shot.proofs[0].region).to.deep.equal({ x: 4, y: 2, width: WIDTH, height: HEIGHT });
    expect(shot.document.final).to.include({ width: 32, height: 20 });
    expect(shot.mapping).to.include({ '': 'beauty', zdepth: 'depth' });
    await refused(await bringIn('shots', []), 400, /No file arrived/);
    await refused(await bringIn('shots', [['comb.0001.exr', frame(1)]], 'comb'), 409, /a shot called comb already/);
    await refused(await bringIn('shots', [['a.exr', frame(1)], ['a.csv', text.encode('1,2')]]), 400, /a\.csv is neither a picture .* nor a log/); // prettier-ignore
    await refused(await bringIn(`shots/${shotId}/frames`, [['a.log', text.encode('note')]]), 400, /No frame arrived/);
    await refused(await bringIn(`shots/${shotId}/frames`, [['a.png', text.encode('no picture')]]), 422, /a\.png/);
    await refused(await bringIn('shots/1/frames', [['a.exr', frame(1)]]), 400, /has a scene/);
    expect((await json(`shots/${shotId}`)).proofs, 'nothing is half done').to.have.length(2);
  });

  it('gives layers as halves, and what covers a pixel of the frame by name', async () => {
    const layers = await json('proofs/1/layers');
    expect(layers.map((l: { name: string }) => l.name)).to.deep.equal(['beauty', 'depth', 'matte.objects.comb', 'matte.objects.skep']); // prettier-ignore
    const depth = await get('proofs/1/layers/depth');
    expect(JSON.parse(depth.headers.get('x-picture')!)).to.deep.equal({
      width: WIDTH,
      height: HEIGHT,
      channels: ['Z'],
    });
    expect(depth.headers.get('cache-control'), 'what layers are may change').to.equal(null);
    const skep = new Uint16Array(await (await get('proofs/1/layers/matte.objects.skep')).arrayBuffer());
    expect([skep[0], skep[WIDTH - 1]]).to.deep.equal([0x3400, 0x3a00]); // 0.25 and 0.75
    await refused(await get('proofs/1/layers/matte.objects.lantern'), 404, /no layer matte\.objects\.lantern/);
    const { layers: read, names } = await json('proofs/1/pixel?x=6&y=5');
    expect(read.find((l: { layer: string }) => l.layer === 'beauty').values).to.deep.equal([2 / 32, 0.25, 0.5]);
    expect(read.find((l: { layer: string }) => l.layer === 'depth').values).to.deep.equal([4]);
    expect(names).to.deep.equal([{ kind: 'objects', names: [{ name: 'comb', share: 0.75 }, { name: 'skep', share: 0.25 }] }]); // prettier-ignore
    await refused(await get('proofs/1/pixel?x=3&y=5'), 404, /no such pixel/);
    await refused(await get('proofs/1/pixel?x=6&y=19'), 404, /no such pixel/);
    await refused(await get('proofs/1/pixel?x=six&y=5'), 400, /x must be a whole number/);
  });

  it('reads a region without statistics, and tells its noise from the picture', async () => {
    const reading = await json('proofs/1/region?x=0&y=0&width=8&height=6');
    expect(reading.region).to.deep.equal({ x: 4, y: 2, width: 4, height: 4 });
    expect(reading.mean).to.deep.equal([1.5 / 32, 0.25, 0.5]);
    expect(reading.statistics).to.equal(null);
    // a ramp without noise
    expect(reading.estimated).to.deep.equal({ value: 0, low: 0, high: 0 });
    await refused(await get('proofs/1/region?x=0&y=0&width=4&height=2'), 400, /outside/);
    const region = { x: 5, y: 3, width: 4, height: 4 };
    const defect = (await (await send('POST', `shots/${shotId}/defects`, { kind: 'noise', region, proof: 1 })).json()) as { id: number }; // prettier-ignore
    expect((await send('POST', `defects/${defect.id}/diagnosis`, { proof: 1 })).status).to.equal(202);
    const known = () => json(`defects/${defect.id}/diagnosis?proof=1`);
    let found = await known();
    while (found.state === 'running') found = await known();
    expect(found.result.summary).to.contain('estimated from the picture alone');
    expect(found.outOfDate).to.deep.equal([]);
    await refused(await send('POST', `shots/${shotId}/proofs`, { kind: 'proof', use: 'final', region: null }), 400, /no scene to render/); // prettier-ignore
  });

  it('takes out a layer, the region, all layers and the numbers', async () => {
    const part = 'x=6&y=4&width=3&height=2';
    const exr = readExr(await bytesOf(`proofs/1/export/exr?layer=depth&${part}`));
    expect(exr.dataWindow).to.deep.equal({ x: 6, y: 4, width: 3, height: 2 });
    expect(exr.displayWindow).to.deep.equal({ x: 0, y: 0, width: 32, height: 20 });
    expect([...findChannel(exr, 'depth', 'Z')!.data]).to.deep.equal([3, 3, 3, 4, 4, 4]);
    const all = readExr(await bytesOf(`proofs/1/export/layers?${part}`));
    expect(all.channels).to.have.length(8);
    expect(
      Object.keys(all.metadata).some((k) => k.endsWith('/manifest')),
      'the names of mattes stay',
    ).to.equal(true);
    const repaired = readExr(await bytesOf(`proofs/1/export/repaired?${part}`));
    expect(repaired.dataWindow).to.deep.equal({ x: 6, y: 4, width: 3, height: 2 });
    expect(repaired.channels.map((c) => c.name))
      .to.include('repaired.Y')
      .and.have.length(9);
    const png = decodePng(await bytesOf(`proofs/1/export/png16?transform=raw&stops=1&${part}`));
    expect([...png.data.slice(0, 3)]).to.deep.equal([4 / 32, 0.5, 1].map((v) => Math.round(65535 * v)));
    const hdr = readTexture(await bytesOf(`proofs/1/export/hdr?${part}`), 'a.hdr', PLAIN_SPACE);
    expect([...hdr.texels.slice(0, 3)]).to.deep.equal([2 / 32, 0.25, 0.5]);
    const answer = await get(`proofs/1/table?${part}`);
    expect(answer.headers.get('content-disposition')).to.contain('comb_P1_numbers_6-4_3x2.csv');
    const rows = (await answer.text()).trim().split('\r\n');
    expect(rows.find((r) => r.startsWith('depth,Z'))).to.match(/^depth,Z,3\.5,3,4,0\.547722\d*,,0$/);
    await refused(await get('proofs/1/export/jpeg'), 400, /exr, layers, repaired, hdr, png16/);
    await refused(await get('proofs/1/export/png16?transform=filmic'), 400, /srgb, rec709/);
    await refused(await get('proofs/1/export/png16?stops=many'), 400, /stops are a number/);
    await refused(await get('proofs/1/export/exr?layer=albedo'), 422, /not in it/);
    await refused(await get('proofs/1/export/exr?x=0&y=0&width=2&height=2'), 422, /outside/);
    await refused(await get('proofs/1/table?x=0&y=0&width=2&height=2'), 400, /outside/);
    await refused(await get('proofs/99/table'), 404, /no proof with the id 99/);
  });

  it('compares frames, pixel by pixel where asked', async () => {
    const { differences, changes, before } = await json('compare?before=1&after=2&x=4&y=2&width=4&height=4');
    // blue differs by 1/4 in one of three channels
    expect(differences.rmse).to.be.closeTo(Math.sqrt(0.25 ** 2 / 3), 1e-6);
    expect(differences.deltaE).to.be.above(1);
    expect(changes).to.deep.equal([]);
    expect(before.statistics).to.equal(null);
    const same = await json('compare?before=1&after=1');
    expect(same.differences).to.include({ rmse: 0, relative: 0, deltaE: 0 });
    const map = new Uint16Array((await bytesOf('compare/map/deltaE?before=1&after=2')).buffer);
    expect(map).to.have.length(WIDTH * HEIGHT);
    expect(
      map.every((h) => h > 0x3c00),
      'each is above 1',
    ).to.equal(true);
    const alike = new Uint16Array((await bytesOf('compare/map/similarity?before=2&after=2')).buffer);
    expect(alike.every((h) => h === 0x3c00)).to.equal(true);
    expect((await json('compare?before=1&after=2&layer=depth')).differences, 'a layer without colours').to.equal(null);
    await refused(await get('compare/map/deltaE?before=1&after=2&layer=depth'), 400, /no colours in this layer/);
    await refused(await get('compare/map/hue?before=1&after=2'), 400, /deltaE and of similarity/);
    await refused(await get('compare?before=1'), 400, /after must be a whole number/);
  });

  it('keeps notes, pins and a reference, and lets the reference go with its proof', async () => {
    expect((await send('PATCH', 'proofs/1', { note: 'warmer', was: '', pinned: true })).status).to.equal(200);
    await refused(await send('PATCH', 'proofs/1', { note: 'colder', was: '' }), 409, /It says: warmer/);
    await refused(await send('PATCH', 'proofs/1', {}), 400, /./);
    await refused(await send('PATCH', 'proofs/1', { note: 'x'.repeat(2001) }), 400, /note/);
    await refused(await send('PATCH', 'proofs/1', { state: 'done' }), 400, /no setting "state"/);
    await refused(await send('PATCH', 'proofs/99', { pinned: true }), 404, /no proof/);
    expect((await json(`shots/${shotId}`)).proofs[0]).to.include({ note: 'warmer', pinned: true });
    expect(await json(`shots/${shotId}/apart`), 'without a reference').to.deep.equal([]);
    await refused(await send('PUT', 'shots/1/reference', { proof: 1 }), 400, /another shot/);
    expect((await send('PUT', `shots/${shotId}/reference`, { proof: 1 })).status).to.equal(200);
    const [apart, ...rest] = await json(`shots/${shotId}/apart`);
    expect(rest).to.deep.equal([]);
    expect(apart.proof).to.equal(2);
    expect(apart.rmse).to.be.closeTo(Math.sqrt(0.25 ** 2 / 3), 1e-6);
    expect((await fetch(`${application.url}/api/proofs/1`, { method: 'DELETE' })).status).to.equal(200);
    const after = await json(`shots/${shotId}`);
    expect([after.reference, after.proofs.length]).to.deep.equal([null, 1]);
  });

  it('says what layers are when asked, each role once', async () => {
    const before = (await json(`shots/${shotId}`)).mapping;
    const map = (mapping: object, was = before) => send('PUT', `shots/${shotId}/mapping`, { mapping, was });
    await refused(await map({ '': 'beauty', zdepth: 'beauty' }), 422, /cannot both be beauty/);
    await refused(await map({ zdepth: 'depth' }), 422, /no layer is the beauty picture/);
    await refused(await map({ '': 'sparkle' }), 400, /./);
    await refused(await send('PUT', 'shots/1/mapping', { mapping: { '': 'beauty' }, was: {} }), 400, /rendered shot/);
    expect((await json(`shots/${shotId}`)).mapping).to.deep.equal(before);
    await refused(await map({ '': 'beauty', zdepth: 'data' }, { '': 'beauty' }), 409, /Another window/);
    expect((await map({ '': 'beauty', zdepth: 'data' })).status).to.equal(200);
    expect((await json('proofs/2/layers')).map((l: { name: string }) => l.name)).to.include('source.zdepth');
    const { layers, sum } = await json('proofs/2/sources');
    expect(
      layers.map((l: { name: string }) => l.name),
      'ids are not to be looked at',
    ).to.deep.equal(['', 'zdepth']);
    expect(sum).to.equal(null);
    // known from now on, in another shot
    const other = (await (await bringIn('shots', [['hive.exr', frame(1)]], 'hive')).json()) as { id: number };
    expect((await json(`shots/${other.id}`)).mapping.zdepth).to.equal('data');
  });
});
