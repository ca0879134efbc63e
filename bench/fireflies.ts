// Fireflies: how many are found of those that a reference says, what finding and replaying them takes, and what the account of
// light by brightness costs a render. On LH-020.
import { lightness, luminance } from '@dusting/core/color';
import { confirmFireflies, findFireflies, HIDDEN_FIREFLIES, RARE } from '@dusting/core/diagnose';
import type { Picture } from '@dusting/core/image';
import { compileScene, FILM, filmNames, frameOf, PathTracer, proofPicture, renderHere, type FilmExtra } from '@dusting/core/render'; // prettier-ignore
import { importShot, type RenderSettings } from '@dusting/core/scene';
import { buildLh020 } from '@dusting/demo';
import { line, measure, milliseconds } from './measure.ts';

const SIZE = { width: 120, height: 68 };
const SAMPLES = 16;
const REFERENCE = 512;
const LARGE = { width: 1920, height: 1080 };
const REPLAYED = 200;
const RENDERS = 128;

export async function benchFireflies(): Promise<void> {
  const { document, blobs } = await importShot(await buildLh020());
  const base: RenderSettings = { ...document.final, ...SIZE, pixelSamples: SAMPLES };
  const scene = compileScene(document, base, (id) => blobs.get(id)!.bytes);
  const names = filmNames(document);
  const render = (settings: RenderSettings, extras: FilmExtra[] = []) => renderHere(scene, settings, frameOf(settings), undefined, extras); // prettier-ignore
  const picture = proofPicture(render(base), base, names);
  const found = findFireflies(picture, frameOf(base));

  const reference = luminances(proofPicture(render({ ...base, pixelSamples: REFERENCE, seed: 99 }), base, names));
  const truth = new Set(luminances(picture).flatMap((y, i) => (isFarOff(y, reference[i]) ? [i] : [])));
  const looking = performance.now();
  const context = { pause: async () => {}, signal: new AbortController().signal };
  const tracer = new PathTracer(scene, base);
  const known = new Set(found.map(placeOf));
  const hidden = findFireflies(picture, frameOf(base), HIDDEN_FIREFLIES).filter((of) => !known.has(placeOf(of)));
  const second = [
    ...(await confirmFireflies(tracer, found, 1, context)),
    ...(await confirmFireflies(tracer, hidden, RARE, context)),
  ];
  const looked = performance.now() - looking;
  // what is so bright in more of such renders is noise of few samples
  const rare = new Set([...truth].filter((i) => shareOfRenders(tracer, i, reference[i]) <= 1 / 20));
  const right = found.filter((of) => rare.has(placeOf(of))).length;
  line('fireflies that are some : found (precision)', right / found.length, `${found.length} found`);
  line(
    'fireflies that are found : there (recall)',
    right / rare.size,
    `${rare.size} there, by ${REFERENCE} samples and ${RENDERS} renders`,
  );

  const sure = second.filter((of) => rare.has(placeOf(of))).length;
  line(
    'the same after a second look: precision',
    sure / second.length,
    `${second.length} of ${found.length} and ${hidden.length} hidden ones, ${looked.toFixed(0)} ms`,
  );
  line('the same after a second look: recall', sure / rare.size, `${sure} of ${rare.size}`);
  const bright = second.filter((of) => truth.has(placeOf(of))).length;
  line('of all that are twice too bright: precision', bright / second.length, `${bright} of ${second.length}`);
  line('of all that are twice too bright: recall', bright / truth.size, `${bright} of ${truth.size}`);

  const large = tiled(picture);
  const started = performance.now();
  const many = findFireflies(large, large.dataWindow).length;
  const finding = performance.now() - started;
  line('finding at 1920 x 1080 : 1 s', finding / 1000, `${finding.toFixed(0)} ms, ${many} found`);
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

/** Far too bright: twice what it should be, and seen at a glance. */
const isFarOff = (y: number, should: number) => y > 2 * should && lightness(y) - lightness(should) > 8;

const placeOf = ({ x, y }: { x: number; y: number }) => y * SIZE.width + x;

/** Of renders of a pixel with other seeds, those that are far too bright. */
function shareOfRenders(tracer: PathTracer, pixel: number, should: number): number {
  const data = new Float64Array(FILM.stride);
  let bright = 0;
  for (let k = 0; k < RENDERS; k++) {
    data.fill(0);
    // a set of points that nothing else uses
    tracer.renderPixel(pixel % SIZE.width, Math.floor(pixel / SIZE.width), k * SAMPLES, SAMPLES, data, 0, () => 0, 5);
    if (isFarOff(luminance(data[0], data[1], data[2]) / SAMPLES, should)) bright++;
  }
  return bright / RENDERS;
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
