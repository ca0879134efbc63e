// What each part of the sampling pays: error times time without it over that with it.
import {
  compileScene,
  FILM,
  frameOf,
  PathTracer,
  renderChunk,
  renderHere,
  STRATEGIES,
  type CompiledScene,
  type Strategies,
} from '@dusting/core/render';
import { lightness } from '@dusting/core/color';
import { quantile } from '@dusting/core/math';
import { importShot, type RenderSettings, type ShotDocument } from '@dusting/core/scene';
import { buildLh010 } from '@dusting/demo';
import { line } from './measure.ts';
import { makeShot, pitted, pittedShot, quad } from './scenes.ts';

type Shot = { document: ShotDocument; read: (id: string) => Uint8Array };

const luminances = (data: Float32Array | Float64Array) => {
  const out = new Float64Array(data.length / FILM.stride);
  for (let i = 0; i < out.length; i++) {
    const at = i * FILM.stride;
    out[i] = (0.2126 * data[at] + 0.7152 * data[at + 1] + 0.0722 * data[at + 2]) / data[at + FILM.samples];
  }
  return out;
};

const BLOCK = 8;

/** What a noise limit is about: the mean squared error in L* of the 8 x 8 block that 95 % of the others do not exceed. */
function lightnessError(picture: Float64Array, reference: Float64Array, width: number): number {
  const blocks = new Map<number, number>();
  picture.forEach((y, i) => {
    const block = Math.floor(Math.floor(i / width) / BLOCK) * width + Math.floor((i % width) / BLOCK);
    const square = (lightness(y) - lightness(reference[i])) ** 2;
    blocks.set(block, (blocks.get(block) ?? 0) + square / BLOCK / BLOCK);
  });
  return quantile([...blocks.values()], 0.95);
}

interface Measured {
  /** Mean squared error in luminance, and the error in L*. */
  error: number;
  visible: number;
  seconds: number;
}

/** Errors of renders against the reference; the least seconds of three rounds, taken in turn. */
function compareErrors(
  runs: { scene: CompiledScene; settings: RenderSettings; strategies?: Partial<Strategies> }[],
  reference: Float64Array,
): Measured[] {
  const results = runs.map(() => ({ seconds: Infinity }) as Measured);
  for (let round = 0; round < 3; round++)
    runs.forEach(({ scene, settings, strategies }, r) => {
      const started = performance.now();
      const film = renderHere(scene, settings, frameOf(settings), { ...STRATEGIES, ...strategies });
      const result = results[r];
      result.seconds = Math.min(result.seconds, (performance.now() - started) / 1000);
      if (round > 0) return;
      const picture = luminances(film.data);
      result.visible = lightnessError(picture, reference, settings.width);
      result.error = picture.reduce((sum, y, i) => sum + (y - reference[i]) ** 2 / picture.length, 0);
    });
  return results;
}

export async function benchSampling(): Promise<void> {
  const lh = await importShot(await buildLh010());
  const lamps = pittedShot(60, 2);
  const glow = makeShot(
    {
      floor: { mesh: quad(8), surface: {}, transform: [1, 0, 0, 0, 0, 1, 0, -1, 0, 0, 1, 0] },
      ball: { mesh: pitted(40), surface: {} },
      panel: {
        mesh: quad(0.6),
        surface: { emission_luminance: 20 },
        transform: [1, 0, 0, 2, 0, -1, 0, 3, 0, 0, -1, 0],
      },
    },
    {},
  );
  const fog = makeShot(
    {
      floor: { mesh: quad(20), surface: {}, transform: [1, 0, 0, 0, 0, 1, 0, -1.2, 0, 0, 1, 0] },
      ball: { mesh: pitted(60), surface: {} },
      haze: {
        mesh: pitted(12),
        surface: {
          transmission_weight: 1,
          specular_ior: 1,
          transmission_depth: 10,
          transmission_scatter: [0.8, 0.8, 0.8],
        },
        transform: [5, 0, 0, 0, 0, 5, 0, 0, 0, 0, 5, 0],
      },
    },
    { lamp: { kind: 'sphere', radius: 0.1, strength: 300, transform: [1, 0, 0, 1.4, 0, 1, 0, 1.4, 0, 0, 1, 0.5] } },
  );
  const hall = makeShot(
    {
      floor: { mesh: quad(40), surface: {}, transform: [1, 0, 0, 0, 0, 1, 0, -1.2, 0, 0, 1, 0] },
      ball: { mesh: pitted(60), surface: {} },
    },
    Object.fromEntries(
      Array.from({ length: 64 }, (_, i) => [
        `lamp-${i}`,
        { kind: 'sphere' as const, radius: 0.05, strength: 60, transform: [1, 0, 0, 4 * Math.cos(i), 0, 1, 0, 0.5 + (i % 5) * 0.5, 0, 0, 1, 4 * Math.sin(i)] }, // prettier-ignore
      ]),
    ),
  );
  const shots: [string, Shot][] = [
    ['a ball in fog', { document: fog.document, read: (id) => fog.blobs.get(id)! }],
    ['a ball among 64 lamps', { document: hall.document, read: (id) => hall.blobs.get(id)! }],
    ['LH-010', { document: lh.document, read: (id) => lh.blobs.get(id)!.bytes }],
    ['two balls, a lamp and a sky', { document: lamps.document, read: (id) => lamps.blobs.get(id)! }],
    ['a ball and a glowing panel', { document: glow.document, read: (id) => glow.blobs.get(id)! }],
  ];
  for (const [name, { document, read }] of shots) {
    const small = { ...document.final, width: 64, height: 40, pixelSamples: 48 };
    const scene = compileScene(document, small, read);
    const reference = luminances(renderHere(scene, { ...small, pixelSamples: 1024, seed: 77 }, frameOf(small)).data);
    const [even, independent, asked, met] = compareErrors(
      [
        { scene, settings: small },
        { scene, settings: small, strategies: { evenPoints: false } },
        { scene, settings: small, strategies: { lights: 'asked' } },
        { scene, settings: small, strategies: { lights: 'met' } },
      ],
      reference,
    );
    // to the error that even sampling reaches, with up to four times its samples where they are needed
    const limit = Math.sqrt(even.visible);
    const adaptive = { ...small, pixelSamples: 4 * small.pixelSamples, adaptive: { limit, least: 16 } };
    const [again, adapted] = compareErrors(
      [
        { scene, settings: small },
        { scene, settings: adaptive },
      ],
      reference,
    );
    const pays = (without: Measured, of: Measured, error: 'error' | 'visible') =>
      (without[error] * without.seconds) / (of[error] * of.seconds);
    const times = (a: Measured, b: Measured) => `${a.seconds.toFixed(1)} s : ${b.seconds.toFixed(1)} s`;
    console.log(`\n${name}\n`);
    line('independent points : ours, error x time', pays(independent, even, 'error'), times(independent, even));
    line('even : adaptive, visible error x time', pays(again, adapted, 'visible'), times(again, adapted));
    line('lights met : asked and met, error x time', pays(met, even, 'error'), times(met, even));
    line('lights asked : asked and met, error x time', pays(asked, even, 'error'), times(asked, even));
  }
  console.log('\ncost of many lamps\n');
  const tile = { region: { x: 40, y: 20, width: 32, height: 32 }, sampleStart: 0, sampleCount: 8 };
  const seconds = [8, 64, 512].map((count) => {
    const { document, blobs } = pittedShot(60, 2);
    const lamps = Object.fromEntries(
      Array.from({ length: count }, (_, i) => [
        `lamp-${i}`,
        { ...document.lights.lamp, kind: 'point' as const, strength: 500 / count, transform: [1, 0, 0, 6 * Math.cos(i), 0, 1, 0, 3 + (i % 5) * 0.3, 0, 0, 1, 6 * Math.sin(i)] }, // prettier-ignore
      ]),
    );
    const shot = { ...document, lights: lamps };
    const tracer = new PathTracer(
      compileScene(shot, shot.final, (id) => blobs.get(id)!),
      shot.final,
    );
    renderChunk(tracer, tile);
    const started = performance.now();
    renderChunk(tracer, tile);
    return (performance.now() - started) / 1000;
  });
  line(
    '512 lamps : 64 lamps, time',
    seconds[2] / seconds[1],
    `${seconds[2].toFixed(2)} s : ${seconds[1].toFixed(2)} s`,
  );
  line('64 lamps : 8 lamps, time', seconds[1] / seconds[0], `${seconds[1].toFixed(2)} s : ${seconds[0].toFixed(2)} s`);
}
