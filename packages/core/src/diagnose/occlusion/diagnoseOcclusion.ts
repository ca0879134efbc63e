// An occlusion layer that is black, empty, grainy, or dark around glass: which distance suits it, what stops its rays, and what
// each remedy makes of it.
//
// All of it follows from one set of rays that are followed without a limit (occlusionSketch.ts): the layer of any distance and
// falloff is computed from their hit distances, so that every remedy is predicted without a render. The causes are ranked by
// how far their remedy moves the layer.
import { lightness } from '../../color/index.ts';
import { InputError } from '../../formats/index.ts';
import { cropPlane, findChannel, intersectRegions } from '../../image/index.ts';
import { quantile } from '../../math/index.ts';
import { objectSize, type CompiledScene } from '../../render/index.ts';
import type { Cause, Diagnosis, DiagnosisContext } from '../contract.ts';
import type { Effect, Remedy } from '../remedy.ts';
import { blockersOf } from './blockers.ts';
import { clearEvidence, hiddenBehind } from './clearEvidence.ts';
import { chooseDistance } from './distanceChoice.ts';
import { doubleDarkening } from './doubleDarkening.ts';
import { flatSides } from './flatSides.ts';
import { inSurfaces } from './inSurfaces.ts';
import { layerDial } from './layerDial.ts';
import { evenness, noiseOf, overall, slopeAt } from './layerNoise.ts';
import { distanceInPixels, facetedObjects, middleOffset } from './layerScale.ts';
import { readFrameLayer } from './layerReading.ts';
import { clearSentences, occlusionCauses, type OcclusionCause } from './occlusionCauses.ts';
import { blockerTable, checksOf, distanceHistogram, distanceSheet, noiseCurve, noiseMapOf, objectTable, opennessCurves, seenObjects, sourceOf } from './occlusionEvidence.ts'; // prettier-ignore
import { meanOpenness, occlusionPlane, surfacePixels } from './occlusionPlane.ts';
import { OCCLUSION_DEFAULTS } from './occlusionDefaults.ts';
import { layerOf, occlusionSketch, readLayer, stoppedShare, type LayerWish, type OcclusionSketch } from './occlusionSketch.ts'; // prettier-ignore
import { words } from './words.ts';

const { visible } = OCCLUSION_DEFAULTS;
/** The mean of a rendered layer lies this close to that of the sketch: filters and the pixels between. No source. */
const OPENNESS_RANGE = 0.03;
/** Evidence of each kind of cause. */
const SHOWN_BY: Record<string, string[]> = { clear: ['clear', 'contrast', 'blockers', 'checks'], hidden: ['blockers', 'checks'], noise: ['noiseByRays', 'noise', 'checks'], facets: ['objects', 'checks'], flat: ['sides', 'turns'] }; // prettier-ignore

/** @throws InputError where the region lies outside the picture, or frames have no occlusion layer */
export async function diagnoseOcclusion(context: DiagnosisContext): Promise<Diagnosis> {
  const { picture, report, scene, settings, use } = context;
  const region = intersectRegions(context.region, picture.dataWindow);
  if (!region) throw new InputError(words.outside);
  if (!scene) return readFrameLayer(picture, region);
  report(0, words.probing);
  const compiled = await scene.compiled();
  const sketch = await occlusionSketch(compiled, settings, region, context.pause, (share) => report(share, words.probing)); // prettier-ignore
  const measured: Record<string, number> = { looks: sketch.object.length, seen: sketch.seen.length };
  const done = (sentences: string[], rest: Partial<Diagnosis> = {}): Diagnosis => ({ kind: 'occlusion', region, summary: sentences.join('\n'), causes: [], evidence: [], remedies: [], measured, ...rest }); // prettier-ignore
  if (sketch.seen.length === 0) return done([words.nothingSeen(sketch.object.length)]);
  const { clearSurfaces, distance, falloff, samples } = settings.occlusion;
  const wish: LayerWish = { clearSurfaces, distance, falloff };
  const blockers = blockersOf(sketch, wish, scene.document, compiled.objectIds);
  const clearTexts = clearSurfaces ? clearSentences(blockers, hiddenBehind(sketch, scene.document, compiled.objectIds)) : []; // prettier-ignore
  // a distance is judged by what it does to surfaces, and not to the glass before them
  const judged: LayerWish = { ...wish, clearSurfaces: clearSurfaces && clearTexts.length === 0 };
  const choice = chooseDistance(sketch, judged);
  // nothing is lit in a clay look
  const flat = settings.clay ? null : flatSides(compiled, scene.document, context, { wish, samples });
  const own = flat?.cause ? [flat.cause] : [];
  if (!choice) {
    const remedies = remediesOf(own, ({ remedy }) => remedy.effects ?? []);
    return done([words.nothingMet, ...own.map(({ text }) => text)], { causes: causesOf(own.map((cause) => ({ cause, share: null }))), evidence: flat?.evidence ?? [], remedies }); // prettier-ignore
  }

  const layer = layerOf(sketch, wish);
  const now = readLayer(sketch, layer);
  const rays = samples * settings.pixelSamples;
  const noiseNow = noiseOf(sketch, layer, wish, Math.max(1, rays)).map((v) => v * evenness(Math.max(1, rays)).value);
  const measuredNoise = layerNoise(picture, region);
  const noise = measuredNoise ?? overall(sketch, noiseNow);
  const closed = stoppedShare(sketch, Infinity);
  const stopped = stoppedShare(sketch, distance || Infinity);
  const size = middleSize(compiled, sketch);
  // a distance at which the layer can be read: without a limit in a room all of it is black
  const reads = distance > 0 && distance <= choice.to ? distance : choice.best;
  const faceted = facetedObjects(sketch, reads).map((of) => ({ ...of, id: compiled.objectIds[of.object], name: scene.document.objects[compiled.objectIds[of.object]].name })); // prettier-ignore
  const surfaces = inSurfaces(picture, region, scene.document, compiled.objectIds);
  const pixels = distanceInPixels(sketch, compiled, distance);
  const causes = occlusionCauses({ inSurfaces: surfaces, clay: settings.clay, pixels, offset: middleOffset(sketch), faceted, use, wish, samples, pixelSamples: settings.pixelSamples, now: judged.clearSurfaces === clearSurfaces ? now : readLayer(sketch, layerOf(sketch, judged)), closed, stopped, choice, blockers, clearTexts, size, noise, limit: context.noise.limit }); // prettier-ignore
  causes.push(...own);
  const ranked = rank(sketch, layer, causes);

  const objects = seenObjects(sketch, wish, choice, scene.document, compiled.objectIds);
  const sentences = causes.map(({ text }) => text);
  if (!causes.some(({ fault }) => ['closed', 'far', 'near'].includes(fault)))
    sentences.unshift(words.reads(distance, now.mean));
  else sentences.push(words.suits(choice.best, choice.from, choice.to));
  const grey = objects.find(({ greyFrom, share }) => share > 0.05 && greyFrom !== null && greyFrom > choice.best);
  if (grey) sentences.push(words.grey(grey.name, Number(grey.greyFrom!.toPrecision(2))));
  if (surfaces && !causes.some(({ fault }) => fault === 'surfaces')) sentences.push(words.inSurfaces(surfaces.surfaces[0].name, surfaces.surfaces.length, surfaces.taken)); // prettier-ignore
  if (settings.clay) sentences.push(words.clay);
  const twice = settings.clay ? null : doubleDarkening(picture, region);
  // what a layer takes that is not there to be read says nothing
  if (twice?.isTwice && !causes.some(({ fault }) => ['closed', 'far', 'off'].includes(fault))) sentences.push(...twice.sentences); // prettier-ignore

  const toEffects = (cause: OcclusionCause) => effectsOf(sketch, context, cause, meanOpenness(picture, region), { measured: measuredNoise, predicted: overall(sketch, noiseNow) }); // prettier-ignore
  Object.assign(measured, { openness: now.mean, spread: now.spread, ...(twice && { taken: twice.mean, takenOfDark: twice.darkest }), best: choice.best, from: choice.from, to: choice.to, closed, noise }); // prettier-ignore
  return done(sentences, {
    causes: causesOf(ranked),
    evidence: [
      await layerDial(sketch, context, settings.occlusion, choice),
      opennessCurves(sketch, wish, choice),
      checksOf(causes),
      distanceSheet(sketch, judged, choice),
      objectTable(sketch, objects),
      blockerTable(sketch, blockers),
      distanceHistogram(sketch, choice),
      ...(rays > 0 ? [noiseCurve({ rays, noise, measured: measuredNoise !== null }, overall(sketch, noiseOf(sketch, layer, wish, 1)), context.noise.limit), noiseMapOf(sketch, noiseNow, rays)] : []), // prettier-ignore
      ...clearEvidence(sketch, { ...wish, distance: reads }, sourceOf(sketch)),
      ...(flat?.evidence ?? []),
      ...(twice ? [twice.pictures] : []),
    ],
    remedies: remediesOf([...ranked.map(({ cause }) => cause), ...causes.filter(({ fault }) => fault === 'unit')], toEffects), // prettier-ignore
  });
}

/**
 * A layer that is off first, then causes by how far their remedy moves the layer, L* on average, with their shares of that; then
 * those that move no mean, or whose effect nearest hits do not tell. A wrong unit is why a distance reaches too far, and no cause
 * beside it.
 */
function rank(sketch: OcclusionSketch, layer: Float32Array, causes: OcclusionCause[]) {
  const unknown = ({ fault }: OcclusionCause) => ['noise', 'hidden', 'facets', 'flat', 'surfaces'].includes(fault);
  const moving = causes
    .filter((cause) => !unknown(cause) && cause.fault !== 'off' && cause.fault !== 'unit')
    .map((cause) => {
      const after = layerOf(sketch, cause.remedy.wish);
      const moved = sketch.seen.reduce((sum, look) => sum + Math.abs(lightness(after[look]) - lightness(layer[look])), 0); // prettier-ignore
      return { cause, moved: moved / sketch.seen.length };
    })
    .filter(({ moved }) => moved >= visible)
    .sort((a, b) => b.moved - a.moved);
  const all = moving.reduce((sum, { moved }) => sum + moved, 0);
  const without = (cause: OcclusionCause) => ({ cause, share: null });
  return [
    ...causes.filter(({ fault }) => fault === 'off').map(without),
    ...moving.map(({ cause, moved }) => ({ cause, share: moved / all })),
    ...causes.filter(unknown).map(without),
  ];
}

const causesOf = (ranked: { cause: OcclusionCause; share: number | null }[]): Cause[] =>
  ranked.map(({ cause, share }) => ({ id: cause.remedy.id, title: cause.title, share, about: cause.about, evidence: SHOWN_BY[cause.fault] ?? ['distances', 'openness', 'checks'] })); // prettier-ignore

function remediesOf(causes: OcclusionCause[], effectsFor: (cause: OcclusionCause) => Effect[]): Remedy[] {
  const seen = new Set<string>();
  return causes.flatMap((cause) => {
    const { id, patch, sideEffect, title } = cause.remedy;
    if (seen.has(id)) return [];
    seen.add(id);
    return [{ id, title, patch, sideEffect, effects: effectsFor(cause) }];
  });
}

/** What is predicted of the layer: its mean and its noise. */
function effectsOf(
  sketch: OcclusionSketch,
  { noise, settings }: DiagnosisContext,
  { fault, remedy }: OcclusionCause,
  openNow: number | null,
  noiseNow: { measured: number | null; predicted: number },
): Effect[] {
  const { effects: known, samples, wish } = remedy;
  if (known) return known;
  if (fault === 'hidden') return [];
  const layer = layerOf(sketch, wish);
  const value = readLayer(sketch, layer).mean;
  const effects: Effect[] = [];
  if (fault !== 'noise') effects.push({ measure: 'openness', now: openNow, target: null, value, low: Math.max(0, value - OPENNESS_RANGE), high: Math.min(1, value + OPENNESS_RANGE) }); // prettier-ignore
  const count = Math.max(1, samples * settings.pixelSamples);
  // what edges and the filter bring, the render has measured
  const by = noiseNow.measured !== null && noiseNow.predicted > 0 ? noiseNow.measured / noiseNow.predicted : 1;
  const random = by * overall(sketch, noiseOf(sketch, layer, wish, count));
  const { high, low, value: even } = evenness(count);
  effects.push({ measure: 'layerNoise', now: noiseNow.measured, target: noise.limit, value: random * even, low: random * low, high: random * high }); // prettier-ignore
  return effects;
}

/** Root mean square of the layer's standard error in L*, as its render measured it; null where it was not rendered. */
export function layerNoise(picture: DiagnosisContext['picture'], region: DiagnosisContext['region']): number | null {
  const errors = findChannel(picture, 'error.occlusion', 'Y');
  const plane = occlusionPlane(picture, region);
  if (!errors || !plane) return null;
  const own = cropPlane(picture, errors.data, region);
  const shows = surfacePixels(picture, region);
  let sum = 0;
  let count = 0;
  for (let i = 0; i < plane.length; i++)
    if (shows(i)) {
      sum += (own[i] * slopeAt(plane[i])) ** 2;
      count++;
    }
  // a single sample has no error to tell
  return sum > 0 ? Math.sqrt(sum / count) : null;
}

function middleSize(scene: CompiledScene, sketch: OcclusionSketch): number {
  const seen = [...new Set(sketch.seen.map((look) => sketch.object[look]))];
  return Number(quantile(seen.map((object) => objectSize(scene, object)), 0.5).toPrecision(2)); // prettier-ignore
}
