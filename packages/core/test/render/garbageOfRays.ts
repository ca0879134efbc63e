// Run in a process of its own by garbage.test.ts: other tests leave the engine with other guesses about the path loop. Prints
// the bytes that each ray leaves to the garbage collector, on matt surfaces and through glass.
import { Session } from 'node:inspector/promises';
import { addSamples, emptyFilm, filmStatistics, frameOf, PathTracer, type Film } from '@dusting/core/render';
import { compileTest, GLASS, GLOW, MATT, slab, sphere, square, type TestScene } from '../scenes.ts';

const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
const base: TestScene = {
  objects: [
    { mesh: square(8), surface: { ...MATT, base_color: [0.7, 0.7, 0.7] } },
    { mesh: sphere(1, 48), surface: { ...MATT, base_color: [0.6, 0.5, 0.4] }, transform: at(0, 0, 1) },
    { mesh: square(1), surface: { ...GLOW, emission_luminance: 5 }, transform: [1, 0, 0, 2, 0, -1, 0, 0, 0, 0, -1, 4] },
  ],
  lights: [{ kind: 'sphere', radius: 0.3, strength: 10, transform: at(-2, 1, 4) }],
  environment: { color: [0.3, 0.4, 0.5] },
  view: 5,
  settings: { width: 64, height: 64 },
};
const glass: TestScene = {
  ...base,
  objects: [...base.objects, { mesh: slab(3, 2.2, 2.4), surface: GLASS }, { mesh: sphere(0.6, 48), surface: { ...GLASS, specular_roughness: 0.2 }, transform: at(1, 1, 3) }],
}; // prettier-ignore

interface HeapNode {
  selfSize: number;
  children: HeapNode[];
}
const sizeOf = (node: HeapNode): number => node.children.reduce((sum, child) => sum + sizeOf(child), node.selfSize);

const raysOf = (film: Film) => Object.values(filmStatistics(film, 1).rays).reduce((sum, n) => sum + n, 0);

async function bytesOfRay(scene: TestScene): Promise<number> {
  const { compiled, settings } = compileTest(scene);
  const tracer = new PathTracer(compiled, settings);
  const film = emptyFilm(frameOf(settings));
  const render = () => addSamples(tracer, film, 0, 16, () => 0);
  for (let i = 0; i < 3; i++) render(); // until the engine has compiled it
  const before = raysOf(film);
  const session = new Session();
  session.connect();
  const options = {
    samplingInterval: 2048,
    includeObjectsCollectedByMajorGC: true,
    includeObjectsCollectedByMinorGC: true,
  };
  await session.post('HeapProfiler.startSampling', options);
  render();
  const { profile } = await session.post('HeapProfiler.stopSampling');
  session.disconnect();
  const rays = raysOf(film) - before;
  return sizeOf(profile.head) / rays;
}

process.stdout.write(JSON.stringify({ matt: await bytesOfRay(base), glass: await bytesOfRay(glass) }));
