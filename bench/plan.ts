// The sampling plan on scenes made by chance: what is foretold against what is measured, and the plan against a search by
// brute force. Pictures are small; each number is one render, so noise of the measure is in it.
import { readNoiseData } from '@dusting/core/predict';
import { DEMO_SHOTS } from '@dusting/demo';
import { bestCounts, countsOf, pilotSettings, samplingModel, samplingPlan, type Counts, type SamplingModel } from '@dusting/core/plan'; // prettier-ignore
import { compileScene, emptyFilm, filmNames, filmStatistics, frameOf, mergeFilm, PathTracer, planChunks, proofPicture, renderChunk, type CompiledScene, type FilmNames } from '@dusting/core/render'; // prettier-ignore
import { importShot, type RenderSettings } from '@dusting/core/scene';
import { compileTest } from '../packages/core/test/scenes.ts';
import { line } from './measure.ts';
import { randomScene } from './randomScenes.ts';

const SCENES = 10;
const SIZE = { width: 96, height: 72 };
const PILOT = { pixelSamples: 16, diffuseSamples: 8, specularSamples: 8, transmissionSamples: 8, volumeSamples: 1, lightSamples: 8 }; // prettier-ignore
const DEMO_SIZE = { width: 160, height: 90 };
/** Of the brute force. */
const SEARCHED = 3;
const SMALL = { width: 48, height: 36 };
const SPLITS = [1, 4, 16];
const PIXELS = 12;
/** Of the short renders, that are rendered as told. */
const LIKELY = 12;
const ROUNDS = 5;
const OPTIONS = { stops: 1, share: 0.95 };

const clock = () => performance.now();

function renderTimed(scene: CompiledScene, settings: RenderSettings) {
  const region = frameOf(settings);
  const tracer = new PathTracer(scene, settings);
  const film = emptyFilm(region);
  for (const chunk of planChunks(region, settings)) mergeFilm(film, renderChunk(tracer, chunk, clock));
  const { noise, pixelSeconds } = filmStatistics(film, OPTIONS.stops);
  return { film, noise, seconds: pixelSeconds };
}

function pilotOf(scene: CompiledScene, settings: RenderSettings): SamplingModel {
  const piloted = { ...settings, ...PILOT };
  const { film } = renderTimed(scene, piloted);
  const picture = proofPicture(film, piloted, { groups: [], objects: [], surfaces: [] });
  return samplingModel(picture, piloted, frameOf(piloted), OPTIONS);
}

/** A scene as the application plans it: from a pilot, held against a proof of now; then the plan is rendered. */
function planned(
  name: string,
  present: RenderSettings,
  pilotBy: RenderSettings,
  { compiled, names, part, stops }: { compiled: CompiledScene; names: FilmNames; part: number; stops: number },
): void {
  const rendered = (settings: RenderSettings) => {
    const { film, noise, seconds } = renderTimed(compiled, settings);
    return { picture: proofPicture(film, settings, names), settings, seconds, noise };
  };
  const [pilot, now] = [rendered(pilotBy), rendered(present)];
  const limit = part * now.noise;
  const { options } = samplingPlan({ pilot, measured: now, timed: [now, pilot], present, use: 'final', region: frameOf(present), limit, stops }); // prettier-ignore
  const { counts, noise, seconds } = options.find((o) => o.id === 'plan')!;
  const after = rendered({ ...present, ...counts });
  line(`${name}: noise, foretold : measured`, noise.value / after.noise, `${after.noise.toFixed(2)} L* for ${limit.toFixed(2)}`); // prettier-ignore
  line(`${name}: time, foretold : measured`, seconds.value / after.seconds, `${after.seconds.toFixed(1)} s, the pilot ${pilot.seconds.toFixed(1)} s`); // prettier-ignore
  // what more pixel samples alone would take to the same noise
  const { power } = readNoiseData(now.picture, frameOf(present), stops);
  const plain = now.seconds * (now.noise / after.noise) ** (2 / power);
  line(`${name}: time, pixel samples alone : plan`, plain / after.seconds, Object.values(counts).join(' '));
}

export async function benchPlan(): Promise<void> {
  for (const { build, name } of DEMO_SHOTS) {
    const { blobs, document } = await importShot(await build());
    const present = { ...document.final, ...DEMO_SIZE };
    const compiled = compileScene(document, present, (id) => blobs.get(id)!.bytes);
    planned(name, present, pilotSettings(present), { compiled, names: filmNames(document), part: 0.6, stops: document.noise.stops }); // prettier-ignore
  }
  for (let seed = 0; seed < SCENES; seed++) {
    const { compiled, settings } = compileTest(randomScene(seed, SIZE.width, SIZE.height));
    const names = { groups: [], objects: [], surfaces: [] };
    planned(`scene ${seed}`, { ...settings, pixelSamples: 64 }, { ...settings, ...PILOT }, { compiled, names, part: 0.7, stops: OPTIONS.stops }); // prettier-ignore
  }
  for (let seed = 0; seed < SEARCHED; seed++) bruteForce(seed);
}

/**
 * Every combination of splits, its pixel samples predicted from a short render, which makes few splits look better than they
 * are; the best of these rendered as told; and the best of those, in turn with the plan, several times.
 */
function bruteForce(seed: number): void {
  const { compiled, settings } = compileTest(randomScene(seed, SMALL.width, SMALL.height));
  const model = pilotOf(compiled, settings);
  const limit = 0.7 * renderTimed(compiled, { ...settings, pixelSamples: 64 }).noise;
  /** Seconds to the limit. */
  const measured = (counts: Counts, round = 1) => {
    const { noise, seconds } = renderTimed(compiled, { ...settings, ...counts, seed: round });
    return seconds * (noise / limit) ** 2;
  };
  const needed = (splits: Counts) => {
    const { noise, seconds } = renderTimed(compiled, { ...settings, ...splits, pixelSamples: PIXELS });
    const pixelSamples = Math.max(9, Math.ceil(PIXELS * (noise / limit) ** 2));
    return { counts: { ...splits, pixelSamples }, seconds: (seconds / PIXELS) * pixelSamples };
  };
  let tried: Counts[] = [countsOf(settings)];
  for (const kind of model.kinds)
    tried = tried.flatMap((c) => SPLITS.map((count) => ({ ...c, [`${kind}Samples`]: count })));
  const quickest = (found: { counts: Counts; seconds: number }[], most: number) =>
    found.sort((a, b) => a.seconds - b.seconds).slice(0, most).map(({ counts }) => counts); // prettier-ignore
  const likely = quickest(tried.map(needed), LIKELY).map((counts) => ({ counts, seconds: measured(counts) }));
  const rivals = [bestCounts(model, { noise: limit }), ...quickest(likely, 3)];
  const spent = rivals.map(() => 0);
  for (let round = 2; round < 2 + ROUNDS; round++)
    for (const [i, counts] of rivals.entries()) spent[i] += measured(counts, round);
  const [plan, ...others] = spent;
  const best = others.indexOf(Math.min(...others));
  line(`scene ${seed}: time, plan : best of ${tried.length} by brute force`, plan / others[best], `${Object.values(rivals[0]).join(' ')} : ${Object.values(rivals[1 + best]).join(' ')}`); // prettier-ignore
}
