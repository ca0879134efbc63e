// The chunks in a real database: claimed once, given back, merged in their order, cancelled whole.
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect } from 'chai';
import type { SceneMemory } from '@dusting/core/render';
import { readExr } from '@dusting/core/formats';
import { FINAL_DEFAULTS, importShot } from '@dusting/core/scene';
import { FILM, packFilm, planChunks, type Chunk } from '@dusting/core/render';
import type { Region } from '@dusting/core/image';
import { buildLh010 } from '@dusting/demo';
import { sql } from 'drizzle-orm';
import { DATA } from '../application.ts';
import { preparePostgres, waitForPort } from '../../scripts/lib/postgres.mjs';
import { connect, migrateDatabase, type Connection } from '../../packages/server/src/db/connect.ts';
import { listen, type Notice } from '../../packages/server/src/db/notices.ts';
import { loadBlob, saveBlob, storeOf } from '../../packages/server/src/store/blobStore.ts';
import {
  addProof,
  cancelProof,
  getProof,
  picturesSince,
  progressOf,
} from '../../packages/server/src/store/proofStore.ts';
import { addRevision, addShot, getShot, listRevisions, saveSlip } from '../../packages/server/src/store/shotStore.ts';
import { Assemblies } from '../../packages/server/src/node/assemblies.ts';
import { removeProof, removeShot } from '../../packages/server/src/store/removal.ts';
import { addDefect, changeDefect, listDefects } from '../../packages/server/src/store/defectStore.ts';
import {
  chunksOfBand,
  claimAssembly,
  claimChunk,
  claimMerge,
  doneAbove,
  failProof,
  filmsAt,
  finishChunk,
  giveBackProof,
  releaseClaims,
  reportAlive,
  claimFirstLook,
  saveFirstLook,
  startProof,
  unfinished,
} from '../../packages/server/src/store/workStore.ts';

describe('shots and work in the database', () => {
  let connection: Connection;
  let child: ReturnType<Awaited<ReturnType<typeof preparePostgres>>['start']>;
  let url: string;
  let shot: number;
  before(async () => {
    const postgres = await preparePostgres(join(DATA, 'queue'));
    child = postgres.start();
    url = postgres.url;
    await waitForPort(postgres.port, 60);
    connection = connect(url, 8);
    await migrateDatabase(connection.db);
    await connection.db.execute(sql`truncate shots, blobs, nodes cascade`);
    shot = await addShot(connection.db, await importShot(await buildLh010()));
  });
  after(async () => {
    await connection?.pool.end();
    child?.kill('SIGINT');
    if (child) await once(child, 'exit');
  });
  const newProof = async (width = 96) => {
    const { document, revision } = await getShot(connection.db, shot);
    const settings = { ...document.final, width, height: 64, pixelSamples: 4 };
    const region = { x: 0, y: 0, width, height: 64 };
    const plan = planChunks(region, { ...FINAL_DEFAULTS, pixelSamples: 4 });
    const id = await addProof(
      connection.db,
      { shot, kind: 'proof', revision, patch: [], use: 'final', settings, region },
      plan,
    );
    return { id, plan };
  };
  const film = (value: number) => ({
    film: new Uint8Array(new Float32Array([value]).buffer),
    picture: new Uint8Array(4),
    milliseconds: value,
  });

  it('blobs larger than a piece come back, and the same bytes are stored once', async () => {
    const bytes = Uint8Array.from({ length: 2_500_000 }, (_, i) => (i * 31) % 251);
    const id = await saveBlob(connection.db, bytes, 'x/y');
    expect(await saveBlob(connection.db, bytes, 'x/y')).to.equal(id);
    expect(Buffer.compare(Buffer.from(await loadBlob(connection.db, id)), Buffer.from(bytes))).to.equal(0);
    const store = storeOf(connection.db);
    const into = new Uint8Array(await store.length(id));
    const wanted = new Uint8Array(bytes.length);
    // within a piece, across the border of two, and to the end
    const ranges: [number, number][] = [[5, 70], [1_048_570, 1_048_580], [2_499_000, 2_500_000]]; // prettier-ignore
    for (const [start, end] of ranges) wanted.set(bytes.subarray(start, end), start);
    await store.read(id, ranges, into);
    expect(Buffer.compare(Buffer.from(into), Buffer.from(wanted)), 'ranges alone').to.equal(0);
  });

  it('many claimers at once never get the same chunk, and everything is handed out', async () => {
    const { id, plan } = await newProof();
    const claims = await Promise.all(
      Array.from({ length: plan.length + 5 }, (_, i) => claimChunk(connection.db, `n${i % 3}`)),
    );
    const places = claims.filter((c) => c !== null).map((c) => c!.place);
    expect(new Set(places).size).to.equal(plan.length);
    expect(await claimChunk(connection.db, 'late')).to.equal(null);
    await cancelProof(connection.db, id);
  });

  it('what a dead or restarted node had claimed is given back; what lives is left alone', async () => {
    const { id } = await newProof();
    const { db } = connection;
    await reportAlive(db, 'alive', 2);
    await reportAlive(db, 'silent', 2);
    await db.execute(sql`update nodes set seen_at = now() - interval '1 minute' where id = 'silent'`);
    const [mine, lost] = [await claimChunk(db, 'alive'), await claimChunk(db, 'silent')];
    await releaseClaims(db);
    expect((await claimChunk(db, 'alive'))!.place).to.equal(lost!.place);
    await releaseClaims(db, 'alive');
    expect((await claimChunk(db, 'other'))!.place).to.equal(mine!.place);
    await cancelProof(db, id);
  });

  it('a proof is merged once all its chunks are done, in the order of the plan', async () => {
    const { db } = connection;
    const { id, plan } = await newProof();
    expect(await claimFirstLook(db, 'n')).to.equal(id);
    await giveBackProof(db, id, 'm'); // not its own
    expect(await claimFirstLook(db, 'm'), 'only one node makes its coarse picture').to.equal(null);
    await giveBackProof(db, id, 'n'); // it was lost with the database, say
    expect(await claimFirstLook(db, 'n')).to.equal(id);
    await startProof(db, id);
    const claims = [];
    for (let c = await claimChunk(db, 'n'); c; c = await claimChunk(db, 'n')) claims.push(c);
    expect(await claimMerge(db, 'n')).to.equal(null);
    const proof = { id, shot, diagnosis: null };
    for (const { place } of claims.reverse()) await finishChunk(db, proof, place, film(place));
    await finishChunk(db, proof, claims[0].place, film(99)); // done twice: the first one stands
    expect((await progressOf(db, [id])).get(id)).to.equal(1);
    expect((await picturesSince(db, id, 0)).length).to.equal(plan.length);
    expect(await claimMerge(db, 'n'), 'its coarse picture is not there yet').to.equal(null);
    await saveFirstLook(db, { id, shot }, { coarse: new Uint8Array(2), memory: {} as SceneMemory, textures: [], log: [] }); // prettier-ignore
    expect(await claimMerge(db, 'n')).to.equal(id);
    expect(await claimMerge(db, 'm'), 'claimed once').to.equal(null);
    await giveBackProof(db, id, 'n');
    expect(await claimMerge(db, 'n'), 'after the merge was lost').to.equal(id);
    // of each band, in the order of the plan
    for (const y of [0, 32]) {
      const places = (await chunksOfBand(db, id, y)).map(({ place }) => place);
      const films = await filmsAt(db, id, places);
      const order = places.map((place) => new Float32Array(films.get(place)!.buffer)[0]);
      expect(order).to.deep.equal(plan.flatMap((chunk, i) => (chunk.region.y === y ? [i] : [])));
    }
    await failProof(db, id, 'for a test');
    expect(await getProof(db, id)).to.include({ state: 'failed', error: 'for a test' });
  });

  it('a proof that is still rendered is put together by one node, and by another once that has fallen silent', async () => {
    const { db } = connection;
    const { id, plan } = await newProof();
    const proof = { id, shot, diagnosis: null };
    await startProof(db, id);
    await reportAlive(db, 'second', 1);
    expect(await claimAssembly(db, id, 'first'), 'its coarse picture comes first').to.equal(false);
    await saveFirstLook(db, { id, shot }, { coarse: new Uint8Array(2), memory: {} as SceneMemory, textures: [], log: [] }); // prettier-ignore
    const [upper, lower] = [0, 32].map((y) => plan.flatMap(({ region }, place) => (region.y === y ? [place] : [])));
    expect(await doneAbove(db, id)).to.equal(0);
    for (const place of upper) await finishChunk(db, proof, place, film(1));
    expect(await doneAbove(db, id), 'the upper band is whole').to.equal(32);
    expect([await claimAssembly(db, id, 'first'), await claimAssembly(db, id, 'first')]).to.deep.equal([true, true]);
    expect(await claimAssembly(db, id, 'second')).to.equal(false);
    for (const place of lower) await finishChunk(db, proof, place, film(1));
    expect(await doneAbove(db, id)).to.equal(Infinity);
    expect(await claimMerge(db, 'second'), 'the first one has begun with it').to.equal(null);
    await reportAlive(db, 'first', 1);
    await db.execute(sql`update nodes set seen_at = now() - interval '1 minute' where id = 'first'`);
    await releaseClaims(db);
    expect(await claimMerge(db, 'second')).to.equal(id);
    expect(await claimAssembly(db, id, 'first'), 'it is late').to.equal(false);
    expect(await unfinished(db, [id])).to.deep.equal([id]);
    expect([await failProof(db, id, 'for a test'), await failProof(db, id, 'again')]).to.deep.equal([true, false]);
    expect(await unfinished(db, [id])).to.deep.equal([]);
  });

  it('a node that puts more proofs together than it can hold loses none, and each is as if it had been alone', async () => {
    const { db } = connection;
    const node = 'holder';
    const assemblies = new Assemblies(db, node);
    const filmOf = (region: Region, value: number) => packFilm({ region, stride: FILM.stride, data: new Float64Array(region.width * region.height * FILM.stride).fill(value) }); // prettier-ignore
    try {
      const made = [];
      for (let k = 0; k < 4; k++) {
        const { id, plan } = await newProof(64);
        await startProof(db, id);
        await saveFirstLook(db, { id, shot }, { coarse: new Uint8Array(2), memory: {} as SceneMemory, textures: [], log: [] }); // prettier-ignore
        const proof = await getProof(db, id);
        const render = async (claim: Chunk & { place: number }) => {
          const { numbers, picture } = filmOf(claim.region, claim.sampleCount);
          await finishChunk(db, proof, claim.place, { film: numbers, picture: new Uint8Array(picture.buffer), milliseconds: 1 }); // prettier-ignore
          assemblies.take(proof, { ...claim, proof: id }, numbers);
        };
        const places = plan.map((chunk, place) => ({ ...chunk, place }));
        for (const claim of places.filter(({ region }) => region.y === 0)) await render(claim);
        expect(assemblies.next(), 'its upper band is whole').to.equal(id);
        await assemblies.add(id);
        expect(assemblies.next()).to.equal(null);
        made.push({ id, rest: () => Promise.all(places.filter(({ region }) => region.y > 0).map(render)) });
      }
      await cancelProof(db, made[3].id); // the last one that is held
      await assemblies.review();
      const [files, early]: string[][] = [[], []];
      for (const { id, rest } of made.slice(0, 3)) {
        await rest();
        expect(await claimMerge(db, 'other'), 'it is the node that began it').to.equal(null);
        expect(await claimMerge(db, node)).to.equal(id);
        await assemblies.finish(id, 1);
        const { blob, log, state } = await getProof(db, id);
        expect(state).to.equal('done');
        expect(await chunksOfBand(db, id, 0), 'nothing is left of its chunks').to.deep.equal([]);
        const { channels } = readExr(await loadBlob(db, blob!));
        expect(channels.find(({ name }) => name.startsWith('samples.'))!.data.every((n) => n === 4)).to.equal(true); // prettier-ignore
        files.push(JSON.stringify(channels.map(({ data, name }) => [name, data[0], data.at(-1)])));
        early.push(/(\d) of 2 bands before the last ray/.exec(log.map(({ text }) => text).join())![1]);
      }
      expect(early, 'two are held: the first ones had to make room').to.deep.equal(['0', '0', '1']);
      expect(new Set(files).size, 'all of them were made of the same films').to.equal(1);
    } finally {
      await assemblies.close();
    }
  });

  it('1 and 3 render nodes give the same picture to the bit', async () => {
    const { db } = connection;
    const pictures: string[] = [];
    for (const count of [1, 3]) {
      const { id } = await newProof(64);
      const nodes = Array.from({ length: count }, (_, i) =>
        spawn(process.execPath, ['packages/server/bin/node.mjs'], {
          env: { ...process.env, DUSTING_DATABASE_URL: url, DUSTING_NODE: `node-${count}-${i}`, DUSTING_THREADS: '1' },
          stdio: 'inherit',
        }),
      );
      try {
        let proof = await getProof(db, id);
        while (proof.state !== 'done') {
          expect(proof.state).to.not.equal('failed');
          await new Promise((resolve) => setTimeout(resolve, 100));
          proof = await getProof(db, id);
        }
        if (count === 1)
          expect(proof.log.map(({ text }) => text).join(), 'begun while the rest was rendered').to.contain('1 of 2 bands before the last ray'); // prettier-ignore
        const { channels } = readExr(await loadBlob(db, proof.blob!));
        const hash = createHash('sha256');
        for (const { name, data } of channels) if (!/^(time|kindTime)\./.test(name)) hash.update(name).update(new Uint8Array(data.buffer, data.byteOffset, data.byteLength)); // prettier-ignore
        pictures.push(hash.digest('hex'));
      } finally {
        for (const node of nodes) node.kill('SIGKILL');
        await Promise.all(nodes.map((node) => node.exitCode ?? once(node, 'exit')));
      }
    }
    expect(new Set(pictures).size).to.equal(1);
  });

  it('progress weighs chunks by their samples', async () => {
    const { db } = connection;
    const { id, plan } = await newProof(64);
    const first = plan.filter((c) => c.sampleStart === 0).length;
    for (let i = 0; i < first; i++)
      await finishChunk(db, { id, shot, diagnosis: null }, (await claimChunk(db, 'n'))!.place, film(1));
    expect((await progressOf(db, [id])).get(id), 'one of four samples').to.be.closeTo(0.25, 1e-9);
    const claim = (await claimChunk(db, 'n'))!;
    await cancelProof(db, id);
    await finishChunk(db, { id, shot, diagnosis: null }, claim.place, film(1));
    expect(await chunksOfBand(db, id, claim.region.y), 'nothing comes of a chunk that is still rendered').to.deep.equal(
      [],
    );
    expect((await getProof(db, id)).state).to.equal('cancelled');
  });

  it('kept changes make revisions, and listeners hear of them', async () => {
    const { db } = connection;
    const heard: Notice[] = [];
    const stop = listen(url, (notice) => heard.push(notice));
    await new Promise((resolve) => setTimeout(resolve, 300));
    const here = { window: 'here', edits: 0 };
    expect(await saveSlip(db, shot, [{ op: 'replace', path: '/final/depth/total', value: 48 }], here)).to.equal(1);
    let late = '';
    const there = { window: 'there', edits: 0 };
    await saveSlip(db, shot, [], there).catch((error: Error) => (late = error.message));
    expect(late, 'an edit of another window is not lost').to.contain('Another window');
    expect(await addRevision(db, shot, (await getShot(db, shot)).slip, 'deeper', { ...here, edits: 1 })).to.equal(2);
    const now = await getShot(db, shot);
    expect([now.edits, now.editedBy]).to.deep.equal([2, 'here']);
    expect((await listRevisions(db, shot))[0].changes).to.deep.equal(['final: total depth 8 to 48 events']);
    expect([now.revision, now.slip, now.document.final.depth.total]).to.deep.equal([2, [], 48]);
    expect((await listRevisions(db, shot)).map((r) => r.reason)).to.deep.equal(['deeper', 'Imported']);
    let refused = '';
    await addRevision(db, shot, [{ op: 'replace', path: '/final/seed', value: -5 }], 'no', { ...here, edits: 2 }).catch(
      (error: Error) => (refused = error.message),
    );
    expect(refused).to.contain('at least 0');
    expect((await getShot(db, shot)).revision, 'nothing half done').to.equal(2);
    for (let i = 0; i < 40 && heard.length < 2; i++) await new Promise((resolve) => setTimeout(resolve, 50));
    expect(heard).to.deep.include({ type: 'shot', shot });
    await stop();
  });

  it('defects are numbered, change their state, and can be removed', async () => {
    const { db } = connection;
    const region = { x: 1, y: 2, width: 3, height: 4 };
    const made = [];
    for (const kind of ['glass', 'noise'] as const)
      made.push(
        await addDefect(db, { shot, kind, region, frame: { width: 400, height: 225 }, note: '', seenOn: null }),
      );
    expect(made.map((d) => d.number)).to.deep.equal([1, 2]);
    await changeDefect(db, made[0].id, { state: 'fixed' });
    await changeDefect(db, made[1].id, { removed: true });
    expect((await listDefects(db, [shot])).map((d) => [d.kind, d.state])).to.deep.equal([['glass', 'fixed']]);
  });

  it('numbers of proofs are taken one by one, and none is given twice, whatever is deleted', async () => {
    const { db } = connection;
    const made = await Promise.all(Array.from({ length: 6 }, () => newProof(64)));
    const numbers = await Promise.all(made.map(async ({ id }) => (await getProof(db, id)).number));
    const [least, last] = [Math.min(...numbers), Math.max(...numbers)];
    expect(numbers.toSorted((a, b) => a - b)).to.deep.equal([0, 1, 2, 3, 4, 5].map((i) => least + i));
    for (const { id } of made) await removeProof(db, id);
    const { id } = await newProof(64);
    expect((await getProof(db, id)).number).to.equal(last + 1);
    await removeProof(db, id);
  });

  it('sweeps and numbers of older versions are carried over', async () => {
    const old = [
      `create schema old; set local search_path to old;
       create table sweeps (use text, axes jsonb); create table shots (id int, name text);
       create table proofs (of_shot int, kind text, number int)`,
      `insert into sweeps values ('final', '[{"path":"depth/total","values":[1,2]},{"path":"seed","values":[3]}]')`,
      `insert into shots values (1, 'sill'), (2, 'shelf')`,
      `insert into proofs values (1, 'proof', 1), (1, 'proof', 3), (1, 'trial', 2)`,
    ];
    await connection.db.transaction(async (tx) => {
      const run = (text: string) => tx.execute<Record<string, unknown>>(sql.raw(text));
      for (const text of old) await run(text);
      for (const name of ['0009_sweep_paths', '0010_numbers'])
        await run(await readFile(new URL(`../../packages/server/migrations/${name}.sql`, import.meta.url), 'utf8'));
      const { rows: sweeps } = await run('select axes from sweeps');
      expect(sweeps[0].axes).to.deep.equal([{ path: '/final/depth/total', values: [1, 2] }, { path: '/final/seed', values: [3] }]); // prettier-ignore
      const { rows: shots } = await run('select numbers from shots order by id');
      expect(shots.map(({ numbers }) => numbers)).to.deep.equal([{ proof: 3, trial: 2 }, {}]);
      await run('drop schema old cascade');
    });
  });

  it('what is deleted frees the blobs that nothing else refers to, and only those', async () => {
    const { db } = connection;
    const count = async () => Number((await db.execute<{ n: string }>(sql`select count(*) n from blobs`)).rows[0].n);
    const { id } = await newProof(64);
    const blob = await saveBlob(db, Uint8Array.of(1, 2, 3, 4), 'image/x-exr');
    await db.execute(sql`update proofs set state = 'done', blob = ${blob} where id = ${id}`);
    const twin = await newProof(64);
    await db.execute(sql`update proofs set blob = ${blob}, before = ${id} where id = ${twin.id}`);
    expect(await removeProof(db, id), 'the other one still needs it').to.equal(0);
    expect((await getProof(db, twin.id)).before).to.equal(null);
    expect(await removeProof(db, twin.id)).to.equal(4);
    // a second shot of the same scene shares its meshes
    const imported = await importShot(await buildLh010());
    imported.document.name = 'twin';
    const other = await addShot(db, imported);
    const before = await count();
    expect(await removeShot(db, other)).to.equal(0);
    expect(await count()).to.equal(before);
    await db.execute(sql`update proofs set state = 'merging' where id = ${(await newProof(64)).id}`);
    expect(await removeShot(db, shot).catch((error: Error) => error.message)).to.contain('put together');
    await db.execute(sql`update proofs set state = 'failed' where of_shot = ${shot}`);
    expect(await removeShot(db, shot)).to.be.above(100_000);
    expect(await removeShot(db, shot).catch((error: Error) => error.message)).to.contain('There is no shot');
  });
});
