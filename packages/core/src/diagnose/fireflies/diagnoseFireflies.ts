// Fireflies: which pixels, which paths made them, and what each cure would leave and cost.
import { InputError } from '../../formats/index.ts';
import { cropPlane, findChannel, intersectRegions, type Picture, type Region } from '../../image/index.ts';
import { tailIndex } from '../../math/index.ts';
import { layerLuminance, PathTracer } from '../../render/index.ts';
import { meanRadiance } from '../../shade/index.ts';
import type { Cause, Diagnosis, DiagnosisContext, SceneAccess } from '../contract.ts';
import type { Evidence } from '../evidence.ts';
import type { Remedy } from '../remedy.ts';
import type { Estimate } from '../units.ts';
import { brightSamples } from './brightSamples.ts';
import { clustersOf, type Cluster, type Explained } from './clusters.ts';
import { confirmFireflies } from './confirmFireflies.ts';
import { brightestFirst, findFireflies, saysSamples, type Firefly } from './findFireflies.ts';
import { HIDDEN_FIREFLIES, RARE } from './fireflyDefaults.ts';
import { FIREFLY_CAUSES, storyOf } from './fireflyCauses.ts';
import { clusterTable, fireflyMap, fireflyPaths, fireflyPixels, tailHistogram } from './fireflyEvidence.ts';
import { curesOf } from './cures.ts';
import { guiltyPath } from './guiltyPath.ts';
import { leftWithMore } from './moreSamples.ts';
import { meanOf } from './regionMean.ts';
import { shownBeside } from './shownBeside.ts';
import { words } from './words.ts';

/** So many fireflies are replayed, the brightest first. */
const REPLAYED = 200;
/** So many pixels are looked at again with other samples, and so many that their surroundings hide. */
const CONFIRMED = 400;
const HIDDEN = 100;
/** Clusters that the summary names hold at least this share of the fireflies. */
const NAMED = 0.2;
/** After so many of them whoever cancels is heard. */
const AT_ONCE = 8;
const TAIL = 0.01;

/** @throws InputError where the picture has no beauty layer, or the region lies outside it */
export async function diagnoseFireflies(context: DiagnosisContext): Promise<Diagnosis> {
  const { picture, report, scene, settings } = context;
  const region = intersectRegions(context.region, picture.dataWindow);
  if (!region) throw new InputError('the region lies outside the picture');
  if (!layerLuminance(picture, 'beauty')) throw new InputError(words.noBeauty);
  const pixels = region.width * region.height;
  const measures = saysSamples(picture);
  const compiled = scene && measures ? await scene.compiled() : null;
  const tracer = compiled && new PathTracer(compiled, settings);
  const standing = findFireflies(picture, region);
  // what other samples say of a pixel is more than what other frames do
  const neighbours = tracer ? [] : await context.neighbours();
  const lasting = new Set(shownBeside(standing, neighbours));
  const candidates = standing.filter((of) => !lasting.has(of));
  report(0.1, words.lookAgain);
  const fireflies = tracer ? await confirmed(tracer, candidates, context, region) : candidates;
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
    const sky = compiled?.environment ? meanRadiance(compiled.environment) : 0;
    const explained = tracer ? await explainEach(tracer, scene!, fireflies, sky, context) : [];
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
  if (!measures)
    sentences.push(neighbours.length > 0 ? words.beside(neighbours.length, lasting.size) : words.uncertain);
  if (tracer && candidates.length > CONFIRMED) sentences.push(words.confirmed(CONFIRMED));
  if (bad > 0) sentences.push(words.notNumbers(bad));
  if (!scene) sentences.push(words.noScene);
  return { kind: 'fireflies', region, summary: sentences.join('\n'), causes, evidence, remedies, measured };
}

/** Those that a second look confirms, and those that it finds where noise around hides them. */
async function confirmed(
  tracer: PathTracer,
  candidates: Firefly[],
  context: DiagnosisContext,
  region: Region,
): Promise<Firefly[]> {
  const placeOf = ({ x, y }: Firefly) => `${x} ${y}`;
  const known = new Set(candidates.map(placeOf));
  const hidden = findFireflies(context.picture, region, HIDDEN_FIREFLIES).filter((of) => !known.has(placeOf(of)));
  const found = [
    ...(await confirmFireflies(tracer, candidates.slice(0, CONFIRMED), 1, context)),
    ...(await confirmFireflies(tracer, hidden.slice(0, HIDDEN), RARE, context)),
  ];
  return [...found.sort(brightestFirst), ...candidates.slice(CONFIRMED)];
}

async function explainEach(
  tracer: PathTracer,
  { document }: SceneAccess,
  fireflies: Firefly[],
  sky: number,
  { pause, settings, signal }: DiagnosisContext,
): Promise<Explained[]> {
  const explained: Explained[] = [];
  for (const [i, firefly] of fireflies.slice(0, REPLAYED).entries()) {
    if (i % AT_ONCE === 0) await pause();
    signal.throwIfAborted();
    const path = guiltyPath(tracer, firefly, settings.clamp);
    if (!path) continue;
    const samples = brightSamples(tracer, firefly, settings.clamp);
    if (samples.length > 0) path.samples = samples;
    explained.push({ firefly, path, story: storyOf(path, document, sky) });
  }
  return explained;
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
