// Whatever a client sends is answered, and never as a fault of the server (RFC 9110, 15.6.1: 500 says that the server met
// what it did not expect). What is sent follows from its number alone: DUSTING_MUTATIONS=100000 runs so many, DUSTING_RACES=1000
// that many races of each pair.
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { expect } from 'chai';
import { eq, sql } from 'drizzle-orm';
import { encode } from 'fast-png';
import { writeExr } from '@dusting/core/formats';
import { blobsOf, FINAL_DEFAULTS } from '@dusting/core/scene';
import { hashPair, hashUnit } from '@dusting/core/math';
import { createApp } from '../../packages/server/src/app.ts';
import { connect, type Connection } from '../../packages/server/src/db/connect.ts';
import { blobs, proofs, revisions, shots } from '../../packages/server/src/db/schema.ts';
import { saveBlob } from '../../packages/server/src/store/blobStore.ts';
import { removeLeftBlobs } from '../../packages/server/src/store/removal.ts';
import { addProof } from '../../packages/server/src/store/proofStore.ts';
import { routesOf } from '../../packages/server/test/routesOf.ts';
import { bundle } from '../../scripts/lib/bundle.mjs';
import { freePort, preparePostgres, waitForPort } from '../../scripts/lib/postgres.mjs';
import { demoFolder } from '../application.ts';

const COUNT = Number(process.env.DUSTING_MUTATIONS ?? 1500);
const RACES_OF_EACH = Number(process.env.DUSTING_RACES ?? 30);
const AT_ONCE = 12;

/** The server alone, on a database with the demo shots: nothing that is sent to render takes the processors. */
describe('reliability', function () {
  this.timeout(Math.max(300_000, 30 * COUNT, 3000 * RACES_OF_EACH));
  const port = { value: 0 };
  const children: ChildProcess[] = [];
  let connection: Connection;
  let said = '';
  before(async () => {
    const postgres = await preparePostgres(demoFolder('reliability'));
    children.push(postgres.start());
    await waitForPort(postgres.port, 60);
    port.value = await freePort();
    const [main] = await bundle('packages/server', ['main']);
    const env = { ...process.env, DUSTING_DEMO: 'off', DUSTING_DATABASE_URL: postgres.url, DUSTING_PORT: String(port.value) }; // prettier-ignore
    const server = spawn(process.execPath, [main], { env, stdio: ['ignore', 'ignore', 'pipe', 'ipc'] });
    server.stderr!.setEncoding('utf8').on('data', (text) => (said += text));
    children.unshift(server);
    await once(server, 'message');
    connection = connect(postgres.url, 2);
  });
  after(async () => {
    await connection?.pool.end();
    for (const child of children) {
      if (child.exitCode !== null) continue;
      child.kill('SIGINT');
      const late = setTimeout(() => child.kill('SIGKILL'), 10_000);
      const [, signal] = await once(child, 'exit');
      clearTimeout(late);
      expect(signal, 'ended when it was asked to').not.to.equal('SIGKILL');
    }
  });
  const ask = (method: string, path: string, body?: unknown, window = 'w') =>
    fetch(`http://127.0.0.1:${port.value}/api${path}`, {
      method,
      headers: { 'x-window': window, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
      body: body === undefined ? undefined : JSON.stringify(body),
    });

  it(`${COUNT} mutated requests and files: none is answered with 500`, async () => {
    const routes = routesOf(
      createApp({} as never, { host: '', port: 0, webRoot: '/', token: null, importScale: 1 }).app,
    );
    const known = routes.filter(({ method, path }) => path !== '/events' && !(method === 'DELETE' && path === '/shots/:shot')); // prettier-ignore
    expect(known.length).to.be.greaterThan(50);
    const counts = new Map<number | string, number>();
    const faults: string[] = [];
    let next = 0;
    const worker = async () => {
      while (next < COUNT) {
        const mutation = mutationOf(next++, known);
        const number = next;
        const signal = AbortSignal.timeout(30_000);
        const status = await fetch(`http://127.0.0.1:${port.value}/api${mutation.path}`, {
          ...mutation.init,
          signal,
        }).then(
          (answer) => answer.status,
          (error: Error) => error.name,
        );
        counts.set(status, (counts.get(status) ?? 0) + 1);
        // 507 is a full disk
        if (typeof status === 'string' || (status >= 500 && status !== 507))
          faults.push(`${number}: ${mutation.init.method} ${mutation.path.slice(0, 200)} ${status}`);
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, worker));
    expect(faults, said.slice(0, 2000)).to.deep.equal([]);
    // they reach what is behind the checks, too
    expect([...counts.keys()]).to.include.members([200, 201, 400, 404, 409, 422]);
    expect((await ask('GET', '/health')).status).to.equal(200);
  });

  const [WIDE, HIGH] = [6000, 4000];
  /** What takes seconds to read. */
  const LARGE: Record<string, () => FormData> = {
    scene: () => {
      const lines = Array.from({ length: 400_000 }, (_, i) => `v ${i} ${i % 7} 0`);
      const faces = Array.from({ length: 400_000 - 2 }, (_, i) => `f ${i + 1} ${i + 2} ${i + 3}`);
      const camera = { name: 'a', kind: 'perspective', transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0] };
      const settings = { cameras: { a: camera }, environment: { color: [1, 1, 1], strength: 1 } };
      return form({ 'large.obj': [...lines, ...faces].join('\n'), 'large.json': JSON.stringify(settings) });
    },
    frame: () => {
      const head = `#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${HIGH} +X ${WIDE}\n`;
      const run = Array.from({ length: WIDE / 120 }, () => [248, 90]).flat();
      const row = [2, 2, WIDE >> 8, WIDE & 255, ...run, ...run, ...run, ...run];
      return form({
        'large.hdr': Buffer.concat([Buffer.from(head), Buffer.alloc(row.length * HIGH, Buffer.from(row))]),
      });
    },
  };
  const form = (files: Record<string, BlobPart>) => {
    const made = new FormData();
    for (const [name, content] of Object.entries(files)) made.append('files', new Blob([content]), name);
    return made;
  };
  /** Collects what the event stream says of the imports of a window, until it is given up. */
  async function follow(window: string, stages: string[], signal: AbortSignal): Promise<void> {
    try {
      const { body } = await fetch(`http://127.0.0.1:${port.value}/api/events`, { signal });
      let text = '';
      for await (const part of body!.pipeThrough(new TextDecoderStream())) {
        text += part;
        const notices = [...text.matchAll(/data:(\{.*"stage".*\})/g)].map(([, data]) => JSON.parse(data));
        stages.splice(0, Infinity, ...notices.filter((n) => n.window === window).map((n) => n.stage));
      }
    } catch {
      // given up
    }
  }
  for (const [what, make] of Object.entries(LARGE))
    it(`a large ${what} leaves the request thread alone, and ends with whoever asked`, async () => {
      const gone = new AbortController();
      const window = `importing a ${what}`;
      const stages: string[] = [];
      void follow(window, stages, gone.signal);
      const sent = fetch(`http://127.0.0.1:${port.value}/api/shots`, { method: 'POST', headers: { 'x-window': window }, body: make(), signal: gone.signal }); // prettier-ignore
      const waits: number[] = [];
      let open = true;
      void sent.then(
        () => (open = false),
        () => (open = false),
      );
      while (open) {
        const from = performance.now();
        expect((await ask('GET', '/health')).status).to.equal(200);
        waits.push(performance.now() - from);
        // it has begun to read
        if (waits.length > 60 && stages.length > 0) gone.abort();
      }
      expect(gone.signal.aborted, 'given up, not done').to.equal(true);
      expect(waits.length, 'answers meanwhile').to.be.greaterThan(20);
      expect(stages[0]).to.match(what === 'scene' ? /^reading large\.obj$/ : /^frame 1 of 1$/);
      const names = (await (await ask('GET', '/shots')).json()).map(({ name }: { name: string }) => name);
      expect(names).not.to.include('large');
    });

  it('blobs that nothing refers to go after a day, those of revisions, slips and proofs stay', async () => {
    const { db } = connection;
    const text = (name: string) => new TextEncoder().encode(name);
    const [left, young, pending] = [await saveBlob(db, text('left'), 'a/b'), await saveBlob(db, text('young'), 'a/b'), await saveBlob(db, text('pending'), 'a/b')]; // prettier-ignore
    const [{ id, slip }] = await db.select().from(shots);
    await db.update(shots).set({ slip: [{ op: 'add', path: '/textures/a', value: { blob: pending } }] as never }).where(eq(shots.id, id)); // prettier-ignore
    await db.update(blobs).set({ createdAt: sql`now() - interval '2 days'` });
    await saveBlob(db, text('young'), 'a/b'); // chosen again
    const count = await db.$count(blobs);
    expect(await removeLeftBlobs(db)).to.be.at.least(4);
    const there = new Set((await db.select({ id: blobs.id }).from(blobs)).map((blob) => blob.id));
    expect([left, young, pending].map((blob) => there.has(blob))).to.deep.equal([false, true, true]);
    const documents = await db.select({ document: revisions.document }).from(revisions);
    for (const { document } of documents) for (const blob of blobsOf(document)) expect(there.has(blob)).to.equal(true);
    expect(there.size).to.be.below(count);
    await db.update(shots).set({ slip }).where(eq(shots.id, id));
  });

  describe('two windows at once', () => {
    const shot = 1;
    const patch = (value: number) => [{ op: 'replace', path: '/final/seed', value }];
    async function now() {
      const [{ edits, revision, slip }] = await connection.db.select().from(shots).where(eq(shots.id, shot));
      const count = await connection.db.$count(revisions, eq(revisions.shot, shot));
      return { edits, revision, slip, count };
    }
    /** A trial of a change of the seed, which has finished unless another state is given. */
    async function trial(value: number, state: (typeof proofs.$inferInsert)['state'] = 'done'): Promise<number> {
      const { revision } = await now();
      const region = { x: 0, y: 0, width: 8, height: 8 };
      const made = { shot, kind: 'trial', revision, patch: patch(value) as never, use: 'final', settings: { ...FINAL_DEFAULTS, seed: value }, region } as const; // prettier-ignore
      const id = await addProof(connection.db, made, []);
      await connection.db.update(proofs).set({ state }).where(eq(proofs.id, id));
      return id;
    }
    const keep = (id: number, edits: number, window: string) => ask('POST', `/proofs/${id}/decision`, { keep: true, reason: 'x', edits }, window); // prettier-ignore
    const saveSlip = (edits: number, window: string) => ask('PUT', `/shots/${shot}/slip`, { patch: patch(100_000), edits }, window); // prettier-ignore
    const revert = (edits: number, window: string) => ask('POST', `/shots/${shot}/revert`, { revision: 1, edits }, window); // prettier-ignore
    const RACES: Record<string, (a: number, b: number, edits: number) => [Promise<Response>, Promise<Response>]> = {
      'keeping a trial twice': (a, _, edits) => [keep(a, edits, 'one'), keep(a, edits, 'two')],
      'keeping two trials': (a, b, edits) => [keep(a, edits, 'one'), keep(b, edits, 'two')],
      'keeping a trial and changing the slip': (a, _, edits) => [keep(a, edits, 'one'), saveSlip(edits, 'two')],
      'going back and changing the slip': (_, __, edits) => [revert(edits, 'one'), saveSlip(edits, 'two')],
      'going back and keeping a trial': (a, _, edits) => [revert(edits, 'one'), keep(a, edits, 'two')],
    };
    for (const [name, race] of Object.entries(RACES))
      it(`${name}: one goes first and the other is refused, ${RACES_OF_EACH} times`, async () => {
        for (let i = 0; i < RACES_OF_EACH; i++) {
          // there is something to go back from
          if (name.startsWith('going back')) await keep(await trial(5000 + i), (await now()).edits, 'one');
          const [a, b] = [await trial(2 * i + 7), await trial(2 * i + 8)];
          const start = await now();
          const answers = await Promise.all(race(a, b, start.edits));
          const made = answers.filter(({ status }) => status < 300);
          expect(answers.filter(({ status }) => status === 409), `${i}`).to.have.length(1); // prettier-ignore
          expect(made).to.have.length(1);
          const end = await now();
          const isRevision = !made[0].url.endsWith('/slip');
          expect(end.count - start.count).to.equal(isRevision ? 1 : 0);
          expect(end.edits).to.equal(start.edits + 1);
          expect(end.slip).to.deep.equal(isRevision ? [] : patch(100_000));
        }
      });

    it('what has not finished cannot be kept', async () => {
      const { edits } = await now();
      for (const state of ['queued', 'rendering', 'cancelled', 'failed'] as const) {
        const answer = await keep(await trial(3, state), edits, 'one');
        expect(answer.status).to.equal(409);
        expect((await answer.json()).detail).to.contain(state);
      }
    });
  });
});

/** Values that programs stumble over. */
const ODD: unknown[] = [null, true, -1, 0, 1.5, 2 ** 31, 2 ** 53, 1e308, '', 'a', '\0', 'a\u0000b', '\ud800', '名前', 'x'.repeat(5000), [], {}, [[]], '__proto__', 'constructor', 'NaN', '1; drop table shots', '../../etc/passwd', Array(50).fill(0)]; // prettier-ignore
const ODD_IDS = ['1', '2', '3', '0', '-1', '2147483648', '9e99', 'abc', '%00', '%ff', '..%2f', '1.5', 'constructor', '__proto__', 'x'.repeat(3000), '%E5%90%8D', '1%0d%0aa:b']; // prettier-ignore
const REGION = { x: 0, y: 0, width: 8, height: 8 };
/** A body of each kind that fits, by the end of the address. */
const BODIES: [RegExp, object][] = [
  [/slip$/, { patch: [{ op: 'replace', path: '/final/seed', value: 3 }], edits: 0 }],
  [/revisions$/, { reason: 'a', edits: 0 }],
  [/revisions\/:revision$/, { note: 'a', was: '' }],
  [/revert$/, { revision: 1, edits: 0 }],
  [/mapping$/, { mapping: { '': 'beauty' }, was: {} }],
  [/proofs$/, { kind: 'proof', use: 'preview', region: REGION }],
  [/decision$/, { keep: true, reason: 'a', edits: 0 }],
  [/proofs\/:proof$/, { note: 'a', was: '', pinned: true }],
  [/defects$/, { kind: 'noise', region: REGION, proof: 1 }],
  [/defects\/:defect$/, { state: 'fixed', note: 'a' }],
  [/diagnosis$/, { proof: 1, again: true }],
  [/reference$/, { proof: 1 }],
  [/prediction$/, { use: 'final', proof: 1, region: REGION }],
  [/sweeps$/, { use: 'final', region: REGION, axes: [{ path: '/final/pixelSamples', values: [1, 2] }] }],
  [/plan$/, { use: 'final', region: null, share: 0.9, bounds: { leastPixelSamples: 1, mostPixelSamples: 64, mostSplits: 4 } }], // prettier-ignore
  [/harmless$/, { key: 'a', reason: 'b', house: true }],
  [/log-patterns$/, { fact: 'time', expression: '(\\d+)' }],
  [/interest$/, { interest: REGION }],
  [/pause$/, { on: true }],
  [/preview$/, { number: 1, revision: 1, wish: { patch: [], use: 'preview', isolation: { lights: null, muted: [], objects: null, grey: false, noTextures: false, flat: false, bounces: null, noBackground: false }, samples: 1, interest: null, denoised: false } }], // prettier-ignore
];

/** Numbers that follow from the mutation's own. */
function dice(seed: number) {
  let n = 0;
  const roll = (below: number) => Math.floor(hashUnit(hashPair(seed, n++)) * below);
  return { roll, pick: <T>(list: readonly T[]): T => list[roll(list.length)] };
}
type Dice = ReturnType<typeof dice>;

function mutationOf(seed: number, routes: { method: string; path: string }[]): { path: string; init: RequestInit } {
  const random = dice(seed);
  const { method, path } = random.pick(routes);
  const usual = () => random.roll(3) > 0;
  const address = path.replace(/:\w+/g, () => (usual() ? random.pick(ODD_IDS.slice(0, 3)) : random.pick(ODD_IDS)));
  const query = random.roll(3) === 0 ? `?${['x', 'y', 'width', 'height', 'proof', 'from', 'to', 'after', 'before', 'layer'].map((k) => `${k}=${random.pick(ODD_IDS)}`).join('&')}` : ''; // prettier-ignore
  if (method === 'GET' || method === 'DELETE') return { path: address + query, init: { method } };
  if (/\/(shots|frames|pictures)$/.test(path)) return { path: address, init: { method, ...formOf(random) } };
  const [, body = {}] = BODIES.find(([end]) => end.test(path)) ?? [];
  return { path: address + query, init: { method, ...bodyOf(random, body) } };
}

function bodyOf(random: Dice, fits: object): RequestInit {
  const headers = { 'content-type': 'application/json' };
  switch (random.roll(8)) {
    case 0:
      return { headers, body: JSON.stringify(fits) };
    case 1:
      return { headers, body: JSON.stringify(fits).slice(0, random.roll(30)) };
    case 2:
      return { headers, body: '['.repeat(5000) + ']'.repeat(5000) };
    case 3:
      return { headers: { 'content-type': random.pick(['text/plain', 'application/xml', 'application/json; charset=x', '']) }, body: 'a' }; // prettier-ignore
    case 4:
      return { headers, body: JSON.stringify(random.pick(ODD)) };
    default:
      return { headers, body: JSON.stringify(changed(random, structuredClone(fits))) };
  }
}

/** One value of a body, at any depth, becomes an odd one. */
function changed(random: Dice, value: object): object {
  const key = random.pick(Object.keys(value)) as never;
  const inner = value[key] as unknown;
  if (inner && typeof inner === 'object' && Object.keys(inner).length > 0 && random.roll(2)) changed(random, inner);
  else if (random.roll(6) === 0) delete value[key];
  else Object.assign(value, { [key]: random.pick(ODD) });
  return value;
}

const text = (t: string) => new TextEncoder().encode(t);
const picture = { width: 2, height: 2, dataWindow: { ...REGION, width: 2, height: 2 }, displayWindow: { ...REGION, width: 2, height: 2 }, channels: [...'RGB', '深度.Z'].map((name) => ({ name, type: 'float' as const, data: Float32Array.of(1, 2, 3, 4) })), metadata: {} }; // prettier-ignore
const GLTF = { asset: { version: '2.0' }, scene: 0, scenes: [{ nodes: [0, 1] }], nodes: [{ mesh: 0 }, { camera: 0 }], cameras: [{ type: 'perspective', perspective: { yfov: 1, znear: 0.1 } }], materials: [{ emissiveFactor: [1, 1, 1] }], meshes: [{ primitives: [{ attributes: { POSITION: 0 }, material: 0 }] }], accessors: [{ bufferView: 0, componentType: 5126, type: 'VEC3', count: 3, min: [0, 0, 0], max: [1, 1, 0] }], bufferViews: [{ buffer: 0, byteLength: 36 }], buffers: [{ byteLength: 36, uri: `data:application/octet-stream;base64,${Buffer.from(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0).buffer).toString('base64')}` }] }; // prettier-ignore
const FILES: [string, (random: Dice) => Uint8Array][] = [
  ['a.gltf', (random) => text(JSON.stringify(random.roll(4) ? changed(random, structuredClone(GLTF)) : GLTF))],
  ['a.obj', () => text('mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl \0\nf 1 2 3\n')],
  ['a.mtl', () => text('newmtl \0\nKd 1 0 0\n')],
  ['a.png', () => new Uint8Array(encode({ width: 2, height: 2, data: new Uint8Array(12), channels: 3, depth: 8 }))],
  ['a.exr', () => writeExr(picture)],
  ['a.json', (random) => text(JSON.stringify(changed(random, { environment: { strength: 1 }, final: { width: 8 } })))],
  ['a.log', () => Uint8Array.from(Buffer.from('\ufeffwarning: \0 nothing\n', 'utf16le'))],
  ['a.txt', () => text('error \0 here')],
];

/** A form with files, some of them damaged, or a form that is damaged itself. */
function formOf(random: Dice): RequestInit {
  if (random.roll(5) === 0) {
    const headers = { 'content-type': random.pick(['multipart/form-data', 'multipart/form-data; boundary=a']) };
    return { headers, body: random.pick(['', '--a', '--a\r\ncontent-disposition: form-data; name="files"; filename="a.exr"\r\n\r\nabc', '--b--']) }; // prettier-ignore
  }
  const form = new FormData();
  for (let i = 0; i <= random.roll(3); i++) {
    const [name, make] = random.pick(FILES);
    const bytes = make(random).slice();
    for (let k = 0; k < random.roll(4); k++) bytes[random.roll(bytes.length)] = random.roll(256);
    form.append('files', new Blob([bytes]), random.roll(6) ? name : `${random.pick(['x'.repeat(4000), '名', '\0'])}${name}`); // prettier-ignore
  }
  form.append('name', String(random.pick(ODD)));
  return { body: form };
}
