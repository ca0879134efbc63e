// Where the time of a render goes: the kernel, the rest of the path loop, collecting garbage. By the engine's own sampling
// profiler, on matt balls of half a million triangles in a closed room with a small bright window, and on LH-010.
import { Session } from 'node:inspector/promises';
import { compileScene, frameOf, PathTracer, renderChunk, type CompiledScene } from '@dusting/core/render';
import { importShot, type RenderSettings } from '@dusting/core/scene';
import { buildLh010 } from '@dusting/demo';
import { makeShot, pitted, quad } from './scenes.ts';

const MATT = { specular_weight: 0, base_color: [0.7, 0.7, 0.7] };

export function closedRoom(): ReturnType<typeof makeShot> {
  const wall = (m: number[]) => ({ mesh: quad(8), surface: { name: 'plaster', ...MATT }, transform: m });
  return makeShot(
    {
      floor: wall([1, 0, 0, 0, 0, 1, 0, -1.2, 0, 0, 1, 2]),
      ceiling: wall([1, 0, 0, 0, 0, -1, 0, 3, 0, 0, -1, 2]),
      back: wall([1, 0, 0, 0, 0, 0, -1, 1, 0, 1, 0, -2]),
      front: wall([1, 0, 0, 0, 0, 0, 1, 1, 0, -1, 0, 6.5]),
      left: wall([0, 1, 0, -3.5, 1, 0, 0, 1, 0, 0, -1, 2]),
      right: wall([0, -1, 0, 3.5, 1, 0, 0, 1, 0, 0, 1, 2]),
      first: { mesh: pitted(354, true), surface: { name: 'clay', ...MATT }, transform: [1.2, 0, 0, -1.3, 0, 1.2, 0, 0, 0, 0, 1.2, 0] },
      second: { mesh: pitted(354, true), surface: { name: 'clay', ...MATT }, transform: [1.2, 0, 0, 1.3, 0, 1.2, 0, 0, 0, 0, 1.2, 0] },
    }, // prettier-ignore
    { window: { kind: 'rectangle', width: 0.8, height: 0.8, strength: 40, transform: [0, 0, 1, 3.4, 0, 1, 0, 1, -1, 0, 0, 2] } }, // prettier-ignore
    { final: { depth: { diffuse: 4, specular: 4, transmission: 8, volume: 4, total: 12 } } },
  );
}

export async function benchShare(): Promise<void> {
  const room = closedRoom();
  const lh = await importShot(await buildLh010());
  console.log('\nwhere the time of a render goes\n');
  const small = { width: 128, height: 72 };
  const settings = { ...room.document.final, ...small };
  await share('matt balls in a closed room', compileScene(room.document, settings, (id) => room.blobs.get(id)!), settings); // prettier-ignore
  const jars = { ...lh.document.final, ...small };
  await share(
    'LH-010',
    compileScene(lh.document, jars, (id) => lh.blobs.get(id)!.bytes),
    jars,
  );
}

async function share(name: string, scene: CompiledScene, settings: RenderSettings): Promise<void> {
  const tracer = new PathTracer(scene, settings);
  const chunk = { region: frameOf(settings), sampleStart: 0, sampleCount: 8 };
  renderChunk(tracer, chunk); // warm
  const session = new Session();
  session.connect();
  await session.post('Profiler.enable');
  await session.post('Profiler.setSamplingInterval', { interval: 200 });
  await session.post('Profiler.start');
  renderChunk(tracer, chunk);
  const { profile } = await session.post('Profiler.stop');
  session.disconnect();
  const names = new Map(profile.nodes.map((node) => [node.id, node.callFrame.functionName]));
  const times = { kernel: 0, garbage: 0, rest: 0 };
  profile.samples!.forEach((id, i) => {
    const of = names.get(id)!;
    const part = of.startsWith('wasm-function') ? 'kernel' : of === '(garbage collector)' ? 'garbage' : 'rest';
    times[part] += profile.timeDeltas![i];
  });
  const all = times.kernel + times.garbage + times.rest;
  const percent = (part: number) => `${((100 * part) / all).toFixed(0)} %`;
  console.log(
    `${name.padEnd(48)} kernel ${percent(times.kernel)}, path loop ${percent(times.rest)}, collecting ${percent(times.garbage)}`,
  );
}
