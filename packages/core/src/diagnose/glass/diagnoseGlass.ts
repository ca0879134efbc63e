// Glass that is dark, opaque or wrong: how many interfaces a look through it needs, which limits stop it, what is wrong with the
// bodies themselves, and what each remedy changes.
//
// What could be wrong is collected without a render: from the walks through each pixel (interfaceMap.ts), from meshes, surfaces
// and textures (glassFaults.ts). Which of it matters here is measured: each remedy is rendered over the region with the same
// random numbers, and the causes are ranked by how far it moves the picture: the same fault fills one region and touches another.
import { InputError } from '../../formats/index.ts';
import { intersectRegions, type Region } from '../../image/index.ts';
import { WALK_END } from '../../render/index.ts';
import type { Patch } from '../../scene/index.ts';
import type { Cause, Diagnosis, DiagnosisContext, RenderedRegion } from '../contract.ts';
import type { Evidence } from '../evidence.ts';
import { deeper } from '../limits/deeperRemedy.ts';
import { DEPTH_KINDS, limitsThatKeep, within, openBut, type DepthKind } from '../limits/depthLimits.ts';
import { renderOpen } from '../limits/openRender.ts';
import { regionCuts, type RegionCuts } from '../limits/regionCuts.ts';
import { sum } from '../limits/clampLimits.ts';
import { AS_IT_IS, rehearsalTable, rehearsedPictures } from '../rehearsal/rehearsalEvidence.ts';
import { rehearsalEffects, secondsOf } from '../rehearsal/rehearsalEffects.ts';
import { differenceOf, rehearse, rehearsing, type Rehearsal } from '../rehearsal/rehearse.ts';
import { smallFrame } from '../rehearsal/smallFrame.ts';
import type { Remedy } from '../remedy.ts';
import { coverage, depthFor, stoppedBy } from './glassCoverage.ts';
import { GLASS_DEFAULTS } from './glassDefaults.ts';
import {
  bodyTable,
  checksOf,
  coverageCurves,
  interfaceHistogram,
  interfaceMapOf,
  layerCurves,
  timeCurve,
} from './glassEvidence.ts';
import { faultyPlaces } from './faultyPlaces.ts';
import { glassFaults, type GlassFault } from './glassFaults.ts';
import { glassNoise, glassNoiseTable, GLASS_WAYS } from './glassNoise.ts';
import { glassVariants } from './glassVariants.ts';
import { interfaceMap, type InterfaceMap } from './interfaceMap.ts';
import { words } from './words.ts';

const { complete, most, visible } = GLASS_DEFAULTS;
/** Of the noise, from which light of one way is worth a word. Common practice, no source. */
const LEADS = 0.4;
/** Limits of light that glass does not need. */
const OTHERS: DepthKind[] = ['diffuse', 'volume'];
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
  const done = (sentences: string[], rest: Pick<Diagnosis, 'causes' | 'evidence' | 'remedies'>): Diagnosis => ({ kind: 'glass', region, summary: sentences.join('\n'), measured, ...rest }); // prettier-ignore
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
  const variants = glassVariants(compiled, scene.document, context, bodies);
  const before = await rehearse(context, scene, small, { title: AS_IT_IS, patch: [] });
  const rehearsed: Rehearsal[] = [];
  for (const wish of [...tries, ...variants]) {
    report(0.3 + (0.7 * rehearsed.length) / (tries.length + variants.length), rehearsing(wish.title));
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
  const noise = await glassNoise(compiled, scene.document, settings, region, context.pause);
  const lead = noise && GLASS_WAYS.filter((way) => way !== 'rest').find((way) => noise.shares[way] > LEADS);
  if (noise && lead) sentences.push(words.noiseLeads(words.ways[lead], noise.shares[lead], words.answers[lead]));
  const recommended = limits?.to.transmission ?? null;
  const names = compiled.objectIds.map((id) => scene.document.objects[id].name);
  const places = faultyPlaces(bodies, compiled);
  const evidence: Evidence[] = [
    coverageCurves(map, depth, recommended),
    interfaceMapOf(map, names),
    checksOf(faults),
    ...(places ? [places] : []),
    bodyTable(map, bodies),
    layerCurves(bodies),
    ...(cured.length > 0 ? [rehearsedPictures('cures', words.cures, [before, ...cured])] : []),
    ...(cured.length > 0 ? [rehearsalTable('curesTable', words.curesTable, before, cured)] : []),
    ...(noise ? [glassNoiseTable(noise)] : []),
    interfaceHistogram(map, depth),
    ...timeEvidence(context, region, opened),
    rehearsalTable('variants', words.variants, before, varied),
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
        remedy: { id, ...cure!, effects: rehearsalEffects(before, after, secondsOf(context, region), cuts) },
      };
    })
    .sort((a, b) => b.moved - a.moved);
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

function timeEvidence(context: DiagnosisContext, region: Region, opened: RenderedRegion): Evidence[] {
  const seconds = secondsOf(context, region);
  return seconds > 0 ? [timeCurve(opened, context.settings.depth, seconds)] : [];
}
