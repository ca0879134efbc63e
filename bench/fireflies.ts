// Fireflies: how many are found of those that a reference says, what finding and replaying them takes, and what the account of
// light by brightness costs a render. On LH-020.
import { lightness, luminance } from '@dusting/core/color';
import { confirmFireflies, findFireflies } from '@dusting/core/diagnose';
import type { Picture } from '@dusting/core/image';
import { compileScene, filmNames, frameOf, PathTracer, proofPicture, renderHere, type FilmExtra } from '@dusting/core/render'; // prettier-ignore
import { importShot, type RenderSettings } from '@dusting/core/scene';
import { buildLh020 } from '@dusting/demo';
import { line, measure, milliseconds } from './measure.ts';

const SIZE = { width: 120, height: 68 };
const SAMPLES = 16;
const REFERENCE = 512;
const LARGE = { width: 1920, height: 1080 };
const REPLAYED = 200;

export async function benchFireflies(): Promise<void> {
  const { document, blobs } = await importShot(await buildLh020());
  const base: RenderSettings = { ...document.final, ...SIZE, pixelSamples: SAMPLES };
  const scene = compileScene(document, base, (id) => blobs.get(id)!.bytes);
  const names = filmNames(document);
  const render = (settings: RenderSettings, extras: FilmExtra[] = []) => renderHere(scene, settings, frameOf(settings), undefined, extras); // prettier-ignore
  const picture = proofPicture(render(base), base, names);
  const found = findFireflies(picture, frameOf(base));

  const reference = luminances(proofPicture(render({ ...base, pixelSamples: REFERENCE, seed: 99 }), base, names));
  // far too bright: twice what it should be, and seen at a glance
  const truth = new Set(
    luminances(picture).flatMap((y, i) =>
      y > 2 * reference[i] && lightness(y) - lightness(reference[i]) > 8 ? [i] : [],
    ),
  );
  const looking = performance.now();
  const context = { pause: async () => {}, signal: new AbortController().signal };
  const second = await confirmFireflies(new PathTracer(scene, base), found, context);
  const looked = performance.now() - looking;
  const right = found.filter(({ x, y }) => truth.has(y * SIZE.width + x)).length;
  line('fireflies that are some : found (precision)', right / found.length, `${found.length} found`);
  line('fireflies that are found : there (recall)', right / truth.size, `${truth.size} there, by ${REFERENCE} samples`);

  const sure = second.filter(({ x, y }) => truth.has(y * SIZE.width + x)).length;
  line(
    'the same after a second look: precision',
    sure / second.length,
    `${second.length} of ${found.length}, ${looked.toFixed(0)} ms`,
  );
  line('the same after a second look: recall', sure / truth.size, `${sure} of ${truth.size}`);

  const large = tiled(picture);
  const started = performance.now();
  const many = findFireflies(large, large.dataWindow).length;
  const finding = performance.now() - started;
  line('finding at 1920 x 1080 : 1 s', finding / 1000, `${finding.toFixed(0)} ms, ${many} found`);
  const tracer = new PathTracer(scene, base);
  const replaying = performance.now();
  for (let k = 0; k < REPLAYED; k++) {
    const { sample, x, y } = found[k % found.length];
    tracer.replay(x, y, sample!.index);
  }
  const took = performance.now() - replaying;
  line(`replaying ${REPLAYED} samples : 3 s`, took / 3000, `${took.toFixed(0)} ms`);
  const [plain, light, paths] = await measure([() => render(base), () => render(base, ['light']), () => render(base, ['paths'])]); // prettier-ignore
  line('rendering with an account of light : without', light / plain, milliseconds(plain));
  line('rendering with an account of paths : without', paths / plain, milliseconds(plain));
}

const luminances = ({ channels }: Picture) => {
  const [r, g, b] = ['R', 'G', 'B'].map((name) => channels.find((c) => c.name === name)!.data);
  return Array.from(r, (v, i) => luminance(v, g[i], b[i]));
};

/** The same picture again and again, as large as a frame of film. */
function tiled(picture: Picture): Picture {
  const { height, width } = LARGE;
  const frame = { x: 0, y: 0, width, height };
  const channels = picture.channels.map((c) => ({
    ...c,
    data: Float32Array.from({ length: width * height }, (_, i) => c.data[(Math.floor(i / width) % picture.height) * picture.width + ((i % width) % picture.width)]), // prettier-ignore
  }));
  return { ...picture, ...LARGE, dataWindow: frame, displayWindow: frame, channels };
}
