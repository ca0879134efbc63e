// npm run bench: each line is a ratio of two things measured in one run, alternating, so that a noisy machine hits both.
import { zlibSync } from 'fflate';
import { readExr, writeExr } from '@dusting/core/formats';
import { hashUnit } from '@dusting/core/math';
import {
  compileScene,
  filmStatistics,
  frameOf,
  PathTracer,
  proofPicture,
  renderChunk,
  renderHere,
} from '@dusting/core/render';
import { importShot } from '@dusting/core/scene';
import { emptyHit, plainBuffer, PlainRayQuery, buildRayScene, sharedBuffer } from '@dusting/core/trace';
import { buildLh010 } from '@dusting/demo';
import { renderOnThreads } from '@dusting/threads';

const ROUNDS = 5;
type Task = () => unknown;

/** Median seconds of each task over the rounds, run in turn. */
async function measure(tasks: Task[]): Promise<number[]> {
  const times = tasks.map(() => [] as number[]);
  for (const task of tasks) await task(); // warm
  for (let round = 0; round < ROUNDS; round++)
    for (const [i, task] of tasks.entries()) {
      const started = performance.now();
      await task();
      times[i].push((performance.now() - started) / 1000);
    }
  return times.map((t) => t.sort((a, b) => a - b)[ROUNDS >> 1]);
}

const { document, blobs } = await importShot(await buildLh010());
const settings = { ...document.final, width: 128, height: 72, pixelSamples: 4 };
const scene = compileScene(document, settings, (id) => blobs.get(id)!.bytes, sharedBuffer);
const query = new PlainRayQuery(scene.rays);
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
  () => every((o) => aim(o, (...r) => query.closestHit(...r, 0, Infinity, hit))),
  () => every((o) => aim(o, (...r) => query.anyHit(...r, 0, Infinity))),
]);
const mesh = { positions: scene.positions, indices: scene.indices };
const film = renderHere(scene, settings, frameOf(settings));
const picture = proofPicture(film, settings);
const bytes = writeExr(picture);
const raw = new Uint8Array(picture.channels.reduce((sum, c) => sum + c.data.byteLength, 0));
const tracer = new PathTracer(scene, query, settings);
const tile = { region: { x: 48, y: 30, width: 32, height: 32 }, sampleStart: 0, sampleCount: 4 };
const counted = renderChunk(tracer, tile);
const traced = Object.values(filmStatistics(counted, 1).rays).reduce((sum, n) => sum + n, 0);

const [one, two, chunk, build, write, read, deflate] = await measure([
  () => renderOnThreads(scene, settings, frameOf(settings), { threads: 1 }),
  () => renderOnThreads(scene, settings, frameOf(settings), { threads: 2 }),
  () => renderChunk(tracer, tile),
  () => buildRayScene([mesh], [{ mesh: 0, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0] }], plainBuffer),
  () => writeExr(picture),
  () => readExr(bytes),
  () => zlibSync(raw, { level: 1 }),
]);

const line = (name: string, ratio: number, detail: string) =>
  console.log(`${name.padEnd(44)} ${ratio.toFixed(2).padStart(7)}   ${detail}`);
const million = (n: number) => `${(n / 1e6).toFixed(2)} million/s`;
console.log(`ratio of medians over ${ROUNDS} rounds in one run; LH-010, ${scene.triangles} triangles\n`);
line('any hit : closest hit, rays a second', closest / any, `${million(RAYS / any)} : ${million(RAYS / closest)}`);
line(
  'rays of whole paths : bare closest hit',
  traced / chunk / (RAYS / closest),
  `${million(traced / chunk)} a thread, shading included`,
);
line(
  '2 threads : 1 thread, whole render',
  one / two,
  `${two.toFixed(2)} s : ${one.toFixed(2)} s, start of the threads included`,
);
line(
  'hierarchy build : tracing as many rays',
  build / ((scene.indices.length / 3) * (closest / RAYS)),
  `${million(scene.indices.length / 3 / build)} triangles`,
);
line('writing a proof : deflate alone', write / deflate, `${(raw.length / write / 1e6).toFixed(0)} MB/s`);
line(
  'reading a proof : writing it',
  read / write,
  `${(raw.length / read / 1e6).toFixed(0)} MB/s, ${(bytes.length / raw.length).toFixed(2)} of the raw size`,
);
