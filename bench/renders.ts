// Whole renders and proofs of LH-010: rays with and without shading, threads, reading and writing.
import { zlibSync } from 'fflate';
import { readExr, writeExr } from '@dusting/core/formats';
import { hashUnit } from '@dusting/core/math';
import {
  compileScene,
  filmStatistics,
  frameOf,
  PathTracer,
  planChunks,
  proofPicture,
  raysIn,
  renderChunk,
  renderHere,
} from '@dusting/core/render';
import { importShot } from '@dusting/core/scene';
import { ALL_RAYS, emptyHit, openRayQuery, sharedBuffer } from '@dusting/core/trace';
import { buildLh010 } from '@dusting/demo';
import { RenderPool } from '@dusting/threads';
import { line, measure, million } from './measure.ts';

export async function benchRenders(): Promise<void> {
  const { document, blobs } = await importShot(await buildLh010());
  const settings = { ...document.final, width: 128, height: 72, pixelSamples: 4 };
  const scene = compileScene(document, settings, (id) => blobs.get(id)!.bytes, sharedBuffer);
  const query = openRayQuery(scene.rays);
  const hit = emptyHit();
  const RAYS = 200_000;
  const rays = Float64Array.from({ length: RAYS * 6 }, (_, i) => hashUnit(i * 31) - 0.5);
  const every = (act: (o: number) => void) => {
    for (let i = 0; i < RAYS; i++) act(i * 6);
  };
  const aim = (o: number, call: (ox: number, oy: number, oz: number, dx: number, dy: number, dz: number) => void) =>
    // from the camera's side of the sill through the rows of jars
    call(rays[o] * 0.6, 0.06 + rays[o + 1] * 0.1, 0.6, rays[o + 3] * 0.5, rays[o + 4] * 0.2, -1);

  const [closest, any] = await measure([
    () => every((o) => aim(o, (...r) => query.closestHit(...r, 0, Infinity, ALL_RAYS, 0, 0, hit))),
    () => every((o) => aim(o, (...r) => query.anyHit(...r, 0, Infinity, ALL_RAYS, 0))),
  ]);
  const film = renderHere(scene, settings, frameOf(settings));
  const picture = proofPicture(film, settings, { groups: [], objects: [], surfaces: [] });
  const bytes = writeExr(picture);
  const raw = new Uint8Array(picture.channels.reduce((sum, c) => sum + c.data.byteLength, 0));
  const tracer = new PathTracer(scene, settings);
  const tile = { region: { x: 48, y: 30, width: 32, height: 32 }, sampleStart: 0, sampleCount: 4 };
  const counted = renderChunk(tracer, tile);
  const traced = raysIn(filmStatistics(counted, 1));

  const pools = [new RenderPool(1), new RenderPool(2)];
  const plan = planChunks(frameOf(settings), { ...settings, pixelSamples: 16 });
  const onPool = (pool: RenderPool) => () =>
    Promise.all(plan.map((part) => pool.render('lh', { scene, settings, extras: [] }, part)));
  const [one, two, chunk, write, read, deflate] = await measure([
    onPool(pools[0]),
    onPool(pools[1]),
    () => renderChunk(tracer, tile),
    () => writeExr(picture),
    () => readExr(bytes),
    () => zlibSync(raw, { level: 1 }),
  ]);

  console.log(`\nLH-010, ${scene.triangles} triangles\n`);
  line('any hit : closest hit, rays a second', closest / any, `${million(RAYS / any)} : ${million(RAYS / closest)}`);
  line(
    'rays of whole paths : bare closest hit',
    traced / chunk / (RAYS / closest),
    `${million(traced / chunk)} a thread, shading included`,
  );
  line('2 threads : 1 thread, whole render', one / two, `${two.toFixed(2)} s : ${one.toFixed(2)} s`);
  line('writing a proof : deflate alone', write / deflate, `${(raw.length / write / 1e6).toFixed(0)} MB/s`);
  line(
    'reading a proof : writing it',
    read / write,
    `${(raw.length / read / 1e6).toFixed(0)} MB/s, ${(bytes.length / raw.length).toFixed(2)} of the raw size`,
  );
  for (const pool of pools) await pool.close();
}
