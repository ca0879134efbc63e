// Run in a process of its own, since flags of V8 are those of a process: prints the time of a pixel sample in microseconds.
import { quantile } from '@dusting/core/math';
import { compileScene, frameOf, PathTracer, renderChunk } from '@dusting/core/render';
import { importShot } from '@dusting/core/scene';
import { buildLh010, buildLh030 } from '@dusting/demo';
import { closedRoom } from './share.ts';

const SIZE = { width: 128, height: 72 };
const SAMPLES = 4;

const [, , name] = process.argv;
const room = name.startsWith('LH') ? null : closedRoom();
const shot = room ?? (await importShot(await (name === 'LH-030' ? buildLh030() : buildLh010())));
const settings = { ...shot.document.final, ...SIZE };
const scene = compileScene(shot.document, settings, (id) => room?.blobs.get(id) ?? (shot.blobs.get(id) as { bytes: Uint8Array }).bytes); // prettier-ignore
const times: number[] = [];
for (let seed = 1; seed <= 10; seed++) {
  const tracer = new PathTracer(scene, { ...settings, seed });
  const started = process.cpuUsage().user;
  renderChunk(tracer, { region: frameOf(settings), sampleStart: 0, sampleCount: SAMPLES });
  times.push((process.cpuUsage().user - started) / (SIZE.width * SIZE.height * SAMPLES));
}
// the first ones are compiled on the way
process.stdout.write(String(quantile(times.slice(3), 0.5)));
