// Glass that is dark, opaque or wrong: how many interfaces a look through it needs, which limits stop it, what is wrong with the
// bodies themselves, and what each remedy changes.
//
// What could be wrong is collected without a render: from the walks through each pixel (interfaceMap.ts), from meshes, surfaces
// and textures (glassFaults.ts). Which of it matters here is measured: each remedy is rendered over the region with the same
// random numbers, and the causes are ranked by how far it moves the picture: the same fault fills one region and touches another.
import { InputError } from '../../formats/index.ts';
import { findChannel, intersectRegions, planeSum, type Region } from '../../image/index.ts';
import { WALK_END } from '../../render/index.ts';
import type { Patch } from '../../scene/index.ts';
import type { Cause, Diagnosis, DiagnosisContext, RenderedRegion } from '../contract.ts';
import type { Evidence } from '../evidence.ts';
import { deeper } from '../limits/deeperRemedy.ts';
import { DEPTH_KINDS, limitsThatKeep, within, openBut, type DepthKind } from '../limits/depthLimits.ts';
import { renderOpen } from '../limits/openRender.ts';
import { regionCuts, type RegionCuts } from '../limits/regionCuts.ts';
import { sum } from '../limits/clampLimits.ts';
import type { Effect, Remedy } from '../remedy.ts';
import { coverage, depthFor, stoppedBy } from './glassCoverage.ts';
import { GLASS_DEFAULTS } from './glassDefaults.ts';
import {
  bodyTable,
  checksOf,
  coverageCurves,
  interfaceHistogram,
  interfaceMapOf,
  layerCurves,
  rehearsedPictures,
  timeCurve,
  variantTable,
} from './glassEvidence.ts';
import { glassFaults, type GlassFault } from './glassFaults.ts';
import { differenceOf, rehearse, type Rehearsal } from './glassRehearsal.ts';
import { glassVariants } from './glassVariants.ts';
import { interfaceMap, type InterfaceMap } from './interfaceMap.ts';
import { smallFrame } from './smallFrame.ts';
import { words } from './words.ts';

const { complete, most, visible } = GLASS_DEFAULTS;
/** Limits of light that glass does not need. */
const OTHERS: DepthKind[] = ['diffuse', 'volume'];
/** The time of a render follows its rays this closely. No source. */
const TIME_RANGE = [0.8, 1.25];
/** Luminance of a rehearsal against that of the picture. No source. */
const LIGHT_RANGE = [0.9, 1.1];

/** @throws InputError without a scene, or where the region lies outside the picture */
export async function diagnoseGlass(context: DiagnosisContext): Promise<Diagnosis> {
  const { picture, report, scene, settings } = context;
  if (!scene) throw new InputError(words.noScene);
  const region = intersectRegions(context.region, picture.dataWindow);
  if (!region) throw new InputError('the region lies outside the picture');
  report(0, words.walking);
  const compiled = await scene.compiled();
  const map = await interfaceMap(compiled, settings, region, context.pause, (share) => report(0.2 * share, words.walking)); // prettier-ignore
  const pixels = region.width * region.height;
  const measured: Record<string, number> = { glassPixels: map.glass, pixels };
  const done = (sentences: string[], rest: Pick<Diagnosis, 'causes' | 'evidence' | 'remedies'>): Diagnosis => ({ kind: 'glass', region, summary: sentences.join(' '), measured, ...rest }); // prettier-ignore
  if (map.glass === 0) return done([words.noGlass(pixels)], { causes: [], evidence: [], remedies: [] });

  report(0.2, words.checking);
  const { depth } = settings;
  const covered = coverage(map, depth);
  const wanted = depthFor(map, depth, complete);
  measured.complete = covered;
  if (wanted !== null) measured.depthFor99 = wanted;
  const { bodies, faults } = glassFaults({ scene: compiled, document: scene.document, map });
  if (settings.clearShadows === 'off' && bodies.some(({ id }) => scene.document.objects[id].castsShadows)) faults.push(shadowFault(context)); // prettier-ignore
  const sentences = [words.needs(covered, depth, wanted)];
  const unfinished = map.end.reduce((n, end, i) => n + (map.first[i] >= 0 && end === WALK_END.beyond ? 1 : 0), 0); // prettier-ignore
  if (unfinished > 0.05 * map.glass) sentences.push(words.beyond(unfinished / map.glass));

  report(0.25, words.openTitle);
  const small = smallFrame(region, settings, context.use);
  const opened = await renderOpen(context, scene, small.region, small.patch);
  const limits = depthCure(context, region, opened);
  const stopped = stoppedBy(map, depth);
  if (stopped.transmission + stopped.total > 0 && stopped.transmission === 0 && depth.transmission >= depth.total - 1)
    sentences.push(words.held(depth.transmission, depth.total));

  const curable = faults.filter(({ cure }) => cure !== null).slice(0, most);
  const tries = [...(limits ? [limits.remedy] : []), ...curable.map(({ cure }) => cure!)];
  const variants = glassVariants(scene.document, context, bodies);
  const before = await rehearse(context, scene, small, { title: words.asItIs, patch: [] });
  const rehearsed: Rehearsal[] = [];
  for (const wish of [...tries, ...variants]) {
    report(0.3 + (0.7 * rehearsed.length) / (tries.length + variants.length), words.rehearse(wish.title));
    rehearsed.push(await rehearse(context, scene, small, wish));
  }
  const [cured, varied] = [rehearsed.slice(0, tries.length), rehearsed.slice(tries.length)];
  const cuts = regionCuts(picture, region);
  const ranked = rank(before, cured, limits, curable, context, region, cuts);
  const found = ranked.filter(({ moved }) => moved >= visible);
  const all = found.reduce((total, { moved }) => total + moved, 0);

  if (found.length > 0)
    sentences.push(
      words.causes(found.slice(0, 3).map(({ cause, moved }) => ({ title: cause.title, share: moved / all }))),
    );
  if (limits) limits.remedy.sideEffect = `${whyNotMore(context, map, limits, opened)} ${limits.remedy.sideEffect}`;
  const loud = faults.filter(({ cure, severity }) => cure === null && severity !== 'note');
  for (const { text } of loud.slice(0, 2)) sentences.push(text);
  if (found.length === 0 && loud.length === 0) sentences.push(words.nothing);
  const mover = varied.map((v) => ({ ...v, ...differenceOf(before, v) })).sort((a, b) => b.mean - a.mean)[0];
  if (found.length === 0 && mover && mover.mean >= visible) sentences.push(words.mover(mover.title, mover.mean));
  const recommended = limits?.to.transmission ?? null;
  const names = compiled.objectIds.map((id) => scene.document.objects[id].name);
  const evidence: Evidence[] = [
    coverageCurves(map, depth, recommended),
    interfaceMapOf(map, names),
    checksOf(faults),
    bodyTable(map, bodies),
    layerCurves(bodies),
    ...(cured.length > 0 ? [rehearsedPictures('cures', words.cures, [before, ...cured])] : []),
    ...(cured.length > 0 ? [{ ...variantTable(before, cured), id: 'curesTable', title: words.curesTable }] : []),
    interfaceHistogram(map, depth),
    ...timeEvidence(context, region, opened),
    variantTable(before, varied),
    rehearsedPictures('variants-pictures', words.pictures, [before, ...varied]),
  ];
  for (const { id, moved } of ranked) measured[`moved.${id}`] = moved;
  return done(sentences, {
    causes: found.map(({ cause, moved }) => ({ ...cause, share: moved / all })),
    evidence,
    remedies: ranked.filter(({ moved }) => moved >= visible / 3).map(({ remedy }) => remedy),
  });
}

interface Ranked {
  id: string;
  /** L* by which the remedy changes the region. */
  moved: number;
  cause: Cause;
  remedy: Remedy;
}

function rank(
  before: Rehearsal,
  cured: Rehearsal[],
  limits: DepthCure | null,
  curable: GlassFault[],
  context: DiagnosisContext,
  region: Region,
  cuts: RegionCuts | null,
): Ranked[] {
  const ofLimits = limits ? 1 : 0;
  return cured
    .map((after, i): Ranked => {
      const moved = differenceOf(before, after).mean;
      if (limits && i === 0) return { id: 'depth', moved, cause: limits.cause, remedy: limits.remedy };
      const { about, cure, id, kind } = curable[i - ofLimits];
      const cause: Cause = {
        id,
        title: words.cause[kind],
        share: null,
        about,
        evidence: ['checks', 'cures', 'curesTable'],
      };
      return {
        id,
        moved,
        cause,
        remedy: { id, ...cure!, effects: effectsOf(before, after, secondsOf(context, region), cuts) },
      };
    })
    .sort((a, b) => b.moved - a.moved);
}

/**
 * What is predicted for the region: its light and its time, by their ratios to the render without the change. How the rest of the
 * frame changes is not known.
 * @param seconds that the region took
 */
function effectsOf(before: Rehearsal, after: Rehearsal, seconds: number, cuts: RegionCuts | null): Effect[] {
  const effects: Effect[] = [];
  const scaled = (now: number, by: number, [low, high]: number[]) => ({ now, target: null, value: now * by, low: now * (1 + (by - 1) * low), high: now * (1 + (by - 1) * high) }); // prettier-ignore
  const inOrder = (effect: Effect): Effect => ({ ...effect, low: Math.min(effect.low, effect.high), high: Math.max(effect.low, effect.high) }); // prettier-ignore
  if (cuts && before.luminance > 0) effects.push(inOrder({ measure: 'luminance', ...scaled(cuts.meanLuminance, after.luminance / before.luminance, LIGHT_RANGE) })); // prettier-ignore
  if (before.rays > 0 && seconds > 0) effects.push(inOrder({ measure: 'regionTime', ...scaled(seconds, after.rays / before.rays, TIME_RANGE) })); // prettier-ignore
  return effects;
}

interface DepthCure {
  to: ReturnType<typeof limitsThatKeep>;
  cause: Cause;
  remedy: Remedy;
}

/** The limits that keep the light of this region, where the present ones do not. */
function depthCure(context: DiagnosisContext, region: Region, opened: RenderedRegion): DepthCure | null {
  const { picture, settings } = context;
  const cuts = regionCuts(picture, region);
  const rows = opened.statistics.paths!.depths;
  const all = sum(within(rows, openBut(settings.depth, OTHERS)).light);
  if (!cuts || !(sum(within(rows, settings.depth).light) < complete * all)) return null;
  const to = limitsThatKeep(rows, settings.depth, complete, OTHERS);
  const kinds = DEPTH_KINDS.filter((kind: DepthKind) => to[kind] !== settings.depth[kind]);
  if (kinds.length === 0) return null;
  const remedy = deeper(context, opened, cuts, region, to, kinds, complete);
  const title = words.causeDepth(kinds.map((kind) => `${kind} ${settings.depth[kind]}`));
  const about = kinds.map((kind) => ({ type: 'setting' as const, path: `depth.${kind}` }));
  return { to, remedy, cause: { id: 'depth', title, share: null, about, evidence: ['coverage', 'map', 'cures'] } };
}

/** What the recommended depth completes, and what half as much again would add. */
function whyNotMore(context: DiagnosisContext, map: InterfaceMap, { to }: DepthCure, opened: RenderedRegion): string {
  const rows = opened.statistics.paths!.depths;
  const next = Math.ceil(1.5 * to.transmission);
  const further = { ...to, transmission: next, specular: Math.max(to.specular, next), total: to.total + next - to.transmission }; // prettier-ignore
  const [now, then, more] = [context.settings.depth, to, further].map((depth) => within(rows, depth).rays);
  const reached = coverage(map, to);
  const seconds = (secondsOf(context, map.region) * (more - then)) / Math.max(1, now);
  return words.whyNotMore(to.transmission, reached, next, coverage(map, further) - reached, seconds);
}

/** Stands for shadow rays that glass stops: whether that matters here, its rehearsal says. */
function shadowFault({ use }: DiagnosisContext): GlassFault {
  const patch: Patch = [{ op: 'replace', path: `/${use}/clearShadows`, value: 'tinted' }];
  return {
    id: 'shadows',
    kind: 'shadows',
    severity: 'note',
    text: words.shadows,
    about: [{ type: 'setting', path: 'clearShadows' }],
    cure: { title: words.clearShadows, patch, sideEffect: words.softCaustics },
  };
}

/** Of the render of the picture, the part that the region took. */
function secondsOf({ picture, seconds }: DiagnosisContext, region: Region): number {
  const time = findChannel(picture, 'time', 'ms')?.data;
  const all = planeSum(picture, time, picture.dataWindow);
  return all > 0 ? (seconds * planeSum(picture, time, region)) / all : 0;
}

function timeEvidence(context: DiagnosisContext, region: Region, opened: RenderedRegion): Evidence[] {
  const seconds = secondsOf(context, region);
  return seconds > 0 ? [timeCurve(opened, context.settings.depth, seconds)] : [];
}
