// Run by against.ts in a process of its own: renders tiles as the threads do, of two states of the project in turn, and prints
// the time of a pixel sample of both, in microseconds of the processor.
import type { CompiledScene } from '@dusting/core/render';
import type { ImportFile } from '@dusting/core/scene';
import type { closedRoom } from './share.ts';

type Render = typeof import('@dusting/core/render');
type Tile = (x: number, y: number) => number;

const SIZE = { width: 640, height: 360 };
const SIDE = 32;
/** As the first passes of a render that is watched. */
const PASSES = [
  { sampleStart: 0, sampleCount: 1 },
  { sampleStart: 1, sampleCount: 3 },
];
/** One tile in so many is rendered in each round, others in the next. */
const EVERY = 4;
const ROUNDS = 3;

/** A function that renders one tile with the code of a checkout, and returns the microseconds it took. */
async function tilesOf(checkout: string, name: string): Promise<Tile> {
  const render = (await import(`${checkout}/packages/core/src/render/index.ts`)) as Render;
  const { importShot } = (await import(`${checkout}/packages/core/src/scene/index.ts`)) as typeof import('@dusting/core/scene'); // prettier-ignore
  const demo = (await import(`${checkout}/packages/demo/src/index.ts`)) as Record<string, () => Promise<ImportFile[]>>;
  const { closedRoom: room } = (await import(`${checkout}/bench/share.ts`)) as { closedRoom: typeof closedRoom };
  const made = name.startsWith('LH') ? null : room();
  const shot = made ?? (await importShot(await demo[`build${name.replace('LH-', 'Lh')}`]()));
  const settings = { ...shot.document.final, ...SIZE };
  const read = (id: string) => (made ? made.blobs.get(id)! : (shot.blobs.get(id) as { bytes: Uint8Array }).bytes);
  const scene: CompiledScene = render.compileScene(shot.document, settings, read);
  const tracer = new render.PathTracer(scene, settings);
  const clock = () => performance.now();
  const film = render.emptyFilm({ x: 0, y: 0, width: SIDE, height: SIDE }, tracer.stride);
  return (x, y) => {
    const region = { x, y, width: Math.min(SIDE, SIZE.width - x), height: Math.min(SIDE, SIZE.height - y) };
    const started = process.cpuUsage().user;
    for (const pass of PASSES) {
      const chunk = { region, ...pass };
      // older states set memory aside for every tile
      if (!('reuseFilm' in render)) (render as Render).renderChunk(tracer, chunk, clock);
      else render.packFilm(render.renderInto(render.reuseFilm(film, region), tracer, chunk, clock));
    }
    return process.cpuUsage().user - started;
  };
}

const [, , other, name] = process.argv;
const sides = [await tilesOf(other, name), await tilesOf(process.cwd(), name)];
const times = [0, 0];
let samples = 0;
for (let round = 0; round < ROUNDS; round++) {
  let tile = 0;
  for (let y = 0; y < SIZE.height; y += SIDE)
    for (let x = 0; x < SIZE.width; x += SIDE) {
      if (tile++ % EVERY !== round) continue;
      for (const side of tile % (2 * EVERY) < EVERY ? [0, 1] : [1, 0]) {
        const took = sides[side](x, y);
        // in the first round much of the code is compiled
        if (round > 0) times[side] += took;
      }
      if (round > 0) samples += 4 * Math.min(SIDE, SIZE.width - x) * Math.min(SIDE, SIZE.height - y);
    }
}
process.stdout.write(times.map((time) => time / samples).join(' '));
process.exit(0);
