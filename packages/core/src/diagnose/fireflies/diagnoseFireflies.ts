// Fireflies: which pixels, which paths made them, and what each cure would leave and cost.
import { InputError } from '../../formats/index.ts';
import { cropPlane, findChannel, intersectRegions, type Picture, type Region } from '../../image/index.ts';
import { tailIndex } from '../../math/index.ts';
import { layerLuminance, PathTracer, SPLIT_KINDS } from '../../render/index.ts';
import type { Cause, Diagnosis, DiagnosisContext, SceneAccess } from '../contract.ts';
import type { Evidence } from '../evidence.ts';
import { effectOf, type Remedy } from '../remedy.ts';
import type { Estimate } from '../units.ts';
import { clustersOf, type Cluster, type Explained } from './clusters.ts';
import { confirmFireflies } from './confirmFireflies.ts';
import { findFireflies, saysSamples, type Firefly } from './findFireflies.ts';
import { FIREFLY_CAUSES, skyMean, storyOf } from './fireflyCauses.ts';
import {
  clampCurves,
  clusterTable,
  fireflyMap,
  fireflyPaths,
  fireflyPixels,
  tailHistogram,
} from './fireflyEvidence.ts';
import { cureTable } from './cureTable.ts';
import { cureWishes } from './cureWishes.ts';
import { clampRemedy, moreSamplesRemedy, targetOf } from './fireflyRemedies.ts';
import { guiltyPath, type Clamp } from './guiltyPath.ts';
import { leftWithMore } from './moreSamples.ts';
import { meanOf } from './regionMean.ts';
import { effectsOf, rehearse, stageOf, type Rehearsed } from './rehearse.ts';
import { words } from './words.ts';

/** So many fireflies are replayed, the brightest first. */
const REPLAYED = 200;
/** So many pixels are looked at again with other samples. */
const CONFIRMED = 400;
/** Clusters that the summary names hold at least this share of the fireflies. */
const NAMED = 0.2;
/** Camera samples of the render without clamps. */
const OPENED = 120_000;
const TAIL = 0.01;

/** @throws InputError where the picture has no beauty layer, or the region lies outside it */
export async function diagnoseFireflies(context: DiagnosisContext): Promise<Diagnosis> {
  const { picture, report, scene, settings, signal } = context;
  const region = intersectRegions(context.region, picture.dataWindow);
  if (!region) throw new InputError('the region lies outside the picture');
  if (!layerLuminance(picture, 'beauty')) throw new InputError(words.noBeauty);
  const pixels = region.width * region.height;
  const measures = saysSamples(picture);
  const compiled = scene && measures ? await scene.compiled() : null;
  const tracer = compiled && new PathTracer(compiled, settings);
  const candidates = findFireflies(picture, region);
  report(0.1, words.lookAgain);
  const fireflies = tracer
    ? [...(await confirmFireflies(tracer, candidates.slice(0, CONFIRMED), context)), ...candidates.slice(CONFIRMED)]
    : candidates;
  const sentences = [fireflies.length === 0 ? words.none(pixels) : words.found(fireflies.length, pixels)];
  const bad = notNumbers(picture, region);
  const evidence: Evidence[] = [];
  let causes: Cause[] = [];
  let remedies: Remedy[] = [];
  const measured: Record<string, number> = { fireflies: fireflies.length, pixels };
  if (fireflies.length > 0) {
    const [first] = fireflies;
    sentences.push(words.brightest(first.x, first.y, first.luminance / Math.max(first.around, 1e-6)));
    report(0.2, words.replay);
    const explained = tracer ? explainEach(tracer, scene!, fireflies, skyMean(compiled!), settings.clamp, signal) : [];
    const clusters = clustersOf(explained);
    const named = clusters.slice(0, 2).filter((c) => c.count >= NAMED * explained.length);
    if (named.length > 0) sentences.push(words.clusters(named, explained.length, fireflies.length));
    if (clusters.length > 0) evidence.push(clusterTable(clusters, explained));
    evidence.push(fireflyMap(fireflies, explained, region), fireflyPixels(fireflies, explained, !!tracer));
    if (clusters.length > 0) evidence.push(fireflyPaths(clusters, explained, scene!.document));
    causes = causesOf(clusters, explained.length);
    if (measures) {
      const index = tailOf(picture, region);
      if (index) {
        measured.tailIndex = index.value;
        sentences.push(words.tail(index));
      }
      const { pixelSamples } = settings;
      sentences.push(words.more(pixelSamples, 4 * pixelSamples, leftWithMore(fireflies, 4), fireflies.length));
      evidence.push(tailHistogram(picture, region, meanOf(picture, region).value));
      // what trials count is not looked at again: the present number is that of the same count
      const cures = await curesOf(context, region, candidates, explained);
      remedies = cures.remedies;
      sentences.push(...cures.sentences);
      evidence.push(...cures.evidence);
    }
  }
  if (!measures) sentences.push(words.uncertain);
  if (tracer && candidates.length > CONFIRMED) sentences.push(words.confirmed(CONFIRMED));
  if (bad > 0) sentences.push(words.notNumbers(bad));
  if (!scene) sentences.push(words.noScene);
  return { kind: 'fireflies', region, summary: sentences.join(' '), causes, evidence, remedies, measured };
}

/** What would help, what does not, and the curve of clamps. */
async function curesOf(context: DiagnosisContext, region: Region, candidates: Firefly[], explained: Explained[]) {
  const { picture, report, scene, seconds, settings } = context;
  const now = candidates.length;
  const sentences: string[] = [];
  const evidence: Evidence[] = [];
  // what takes the cause away comes before what hides it
  const all: Remedy[] = [];
  if (scene && explained.length > 0) {
    report(0.3, words.openTitle);
    const opened = await renderOpen(context, scene, region);
    evidence.push(clampCurves(explained, opened, settings.clamp));
    const clamps = clampRemedy(context, opened, explained, now, meanOf(picture, region).value);
    const wishes = await cureWishes(context, scene, await scene.compiled(), explained);
    const stage = stageOf(context, candidates);
    const rehearsed: Rehearsed[] = [];
    for (const wish of [...wishes, ...clamps]) {
      report(0.4 + (0.6 * rehearsed.length) / (wishes.length + clamps.length), words.rehearse(wish.title));
      rehearsed.push({ title: wish.title, after: await rehearse(context, scene, stage, wish) });
    }
    wishes.forEach((wish, i) => all.push({ ...wish, effects: effectsOf(context, stage, rehearsed[i].after, candidates, targetOf(now)) })); // prettier-ignore
    all.push(...clamps);
    if (stage.before.noise > 0 && stage.before.rays > 0) evidence.push(cureTable(stage, rehearsed, settings, seconds));
  } else if (scene) sentences.push(words.foreign);
  all.push(moreSamplesRemedy(context, candidates, now));
  const left = (remedy: Remedy) => effectOf(remedy, 'fireflies')!.value;
  const remedies = all.filter((r) => left(r) < now);
  if (all.length > 1 && remedies.length === 0) sentences.push(words.noCure);
  return { sentences, evidence, remedies };
}

function explainEach(
  tracer: PathTracer,
  { document }: SceneAccess,
  fireflies: Firefly[],
  sky: number,
  clamp: Clamp,
  signal: AbortSignal,
): Explained[] {
  return fireflies.slice(0, REPLAYED).flatMap((firefly) => {
    signal.throwIfAborted();
    const path = guiltyPath(tracer, firefly, clamp);
    return path ? [{ firefly, path, story: storyOf(path, document, sky) }] : [];
  });
}

function causesOf(clusters: Cluster[], all: number): Cause[] {
  return FIREFLY_CAUSES.map((cause) => {
    const own = clusters.filter(({ story }) => story.cause === cause);
    return {
      id: cause,
      title: words.cause(cause),
      share: own.reduce((sum, { count }) => sum + count, 0) / (all || 1),
      about: own[0]?.story.about ?? [],
      evidence: ['clusters', 'map', 'paths'],
    };
  })
    .filter(({ share }) => share > 0)
    .sort((a, b) => b.share - a.share);
}

/** Index of the tail of the brightest samples (Hill 1975); four in five lie within 1.28 of its deviations, index / sqrt(k). */
function tailOf(picture: Picture, region: Region): Estimate | null {
  const values = cropPlane(picture, findChannel(picture, 'brightest', 'Y')!.data, region);
  // an emitter that the camera sees is as bright in every sample
  for (const layer of ['emission', 'background']) {
    const seen = layerLuminance(picture, layer);
    if (seen) cropPlane(picture, seen, region).forEach((v, i) => v > 0 && (values[i] = 0));
  }
  const value = tailIndex(values, TAIL);
  const doubt = (1.28 * value) / Math.sqrt(TAIL * values.length);
  return Number.isFinite(value) ? { value, low: Math.max(0, value - doubt), high: value + doubt } : null;
}

function notNumbers(picture: Picture, region: Region): number {
  const beauty = cropPlane(picture, layerLuminance(picture, 'beauty')!, region);
  return beauty.reduce((n, v) => n + (Number.isFinite(v) ? 0 : 1), 0);
}

/** The region without clamps, and with an account of its light by brightness. */
function renderOpen({ settings, use }: DiagnosisContext, scene: SceneAccess, region: Region) {
  const splits = Math.max(...SPLIT_KINDS.map((kind) => settings[`${kind}Samples`]));
  const pixelSamples = Math.max(2, Math.min(settings.pixelSamples, Math.ceil(OPENED / (region.width * region.height * splits)))); // prettier-ignore
  const set = (path: string, value: number) => ({ op: 'replace' as const, path: `/${use}/${path}`, value });
  const patch = [set('clamp/direct', 0), set('clamp/indirect', 0), set('pixelSamples', pixelSamples), set('adaptive/limit', 0)]; // prettier-ignore
  return scene.render({ title: words.openTitle, region, patch, extras: ['brightness'] });
}
