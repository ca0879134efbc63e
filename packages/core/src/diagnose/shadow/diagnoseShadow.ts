// A shadow that is missing, weak or soft: for each light, what becomes of it in the region, and what keeps its shadow away.
//
// The chain of tests (lightChain.ts) tells what could be wrong without a render; which of it matters is measured (rankedCauses.ts):
// each remedy is rendered over the region with the same random numbers. How deep a shadow is, is measured by rendering its light
// without shadows: the difference is what the shadow takes away.
import { InputError } from '../../formats/index.ts';
import { intersectRegions } from '../../image/index.ts';
import type { Patch, ShotDocument } from '../../scene/index.ts';
import type { Cause, Diagnosis, DiagnosisContext } from '../contract.ts';
import { regionCuts } from '../limits/regionCuts.ts';
import { rehearsalTable, rehearsedPictures } from '../rehearsal/rehearsalEvidence.ts';
import { rehearsalEffects, secondsOf } from '../rehearsal/rehearsalEffects.ts';
import { smallFrame } from '../rehearsal/smallFrame.ts';
import type { Remedy } from '../remedy.ts';
import { besideShadow } from './besideShadow.ts';
import { clipMap } from './clipMap.ts';
import { clipping } from './clipping.ts';
import { coplanarCauses, coplanarFaces } from './coplanar.ts';
import { contrastEffects } from './contrastEffects.ts';
import { enclosedLights } from './enclosedLights.ts';
import { facing } from './facing.ts';
import { raised } from './filledCause.ts';
import { floatingCasters } from './floatingCasters.ts';
import { glowingFloor } from './glowingFloor.ts';
import { ENDS, lightChain, type LightAnswer } from './lightChain.ts';
import { middlePlace } from './middlePlace.ts';
import { placeAndScale } from './placeAndScale.ts';
import { rankedCauses, READABLE, type RankedCauses } from './rankedCauses.ts';
import { tryAll, type ShadowCase } from './shadowCase.ts';
import { clippingCauses, NOTABLE, shadowCauses, stoppedBy, type ShadowCause } from './shadowCauses.ts';
import type { LightScales } from './shadowDepth.ts';
import { softTable } from './softEdges.ts';
import type { Rehearsal } from '../rehearsal/rehearse.ts';
import { betweenTable, checksOf, fillBars, lightMap, lightTable, PLAIN_ENDS, scaleTable, wayBars } from './shadowEvidence.ts'; // prettier-ignore
import { rayEnds } from './rayEnds.ts';
import { sidesAndSurfaces } from './sidesAndSurfaces.ts';
import { readFrameShadow } from './shadowReading.ts';
import { wholeMoves } from './wholeMoves.ts';
import { words } from './words.ts';

/** Maps that stand with the answers of the lights, and lights that have one. */
const MOST_MAPS = 2;
const MOST_MAPPED = 10;
/** Objects of a light whose shadows are offered to be taken away. */
const MOST_CASTERS = 2;

/** Without a scene it tells what the pixels say. @throws InputError where the region lies outside the picture */
export async function diagnoseShadow(context: DiagnosisContext): Promise<Diagnosis> {
  const { picture, report, scene, settings, use } = context;
  const region = intersectRegions(context.region, picture.dataWindow);
  if (!region) throw new InputError(words.outside);
  if (!scene) return readFrameShadow(picture, region, READABLE, context.noise.stops);
  report(0, words.asking);
  const compiled = await scene.compiled();
  const { document } = scene;
  const chain = await lightChain(compiled, document, settings, region, context.pause, (share) => report(0.2 * share, words.asking)); // prettier-ignore
  const fighting = coplanarCauses(coplanarFaces(compiled, settings, region), document, compiled.objectIds);
  const clipped = clipping(compiled, settings, region);
  const cutMap = clipMap(clipped, region, document, compiled.objectIds);
  const cutOff = [
    ...clippingCauses(clipped, compiled, document),
    ...fighting,
    ...rayEnds(compiled, settings, region, use),
  ];
  const measured: Record<string, number> = { places: chain.places };
  const silent = (sentence: string): Diagnosis => ({ kind: 'shadow', region, summary: sentence, causes: [], evidence: [], remedies: [], measured }); // prettier-ignore
  if (cutOff.length === 0 && chain.places === 0) return silent(words.nothingSeen);
  if (cutOff.length === 0 && chain.answers.length === 0) return silent(words.noLights);

  const of: ShadowCase = { context, region, scene, compiled, document, chain, small: smallFrame(region, settings, use) }; // prettier-ignore
  const middle = middlePlace(compiled, settings, region);
  const found = await rankedCauses(of, [...shadowCauses(chain, compiled, document, use), ...(middle ? [...enclosedLights(chain, compiled, document, middle), ...floatingCasters(chain, compiled, document, middle)] : []), ...glowingFloor(picture, region, compiled, document, settings), ...cutOff]); // prettier-ignore
  const { before, causes, cured, fill, ranked, shaded, unshaded, ways } = found;
  for (const { answer, depth } of shaded) measured[`depth.${answer.id}`] = depth;
  const beside = await besideShadow(of, found);
  const scale = placeAndScale(compiled, document);
  const moves = wholeMoves(scale, document);
  const others: Other[] = [...raisedLights(of, found), ...removals(of, found), ...moves];
  const without = await tryAll(of, others, 0.96, 1);
  const maps = mapped(chain.answers).map((answer) => lightMap(chain, answer));
  const cuts = regionCuts(picture, region);
  const seconds = secondsOf(context, region);
  const contrast = contrastEffects(context, region, before, of.small.step);
  /** @param scales of strengths, from which the depth of a shadow is predicted without a render */
  const effects = (after: Rehearsal, scales?: LightScales, light?: string) => {
    const unshadedBy = shaded.findIndex(({ answer }) => answer.id === light);
    const known = scales && unshadedBy >= 0 ? { scales, unshaded: unshaded[unshadedBy].picture } : after;
    return [...contrast(known), ...rehearsalEffects(before, after, seconds, cuts)]; // prettier-ignore
  };
  const soft = softTable(shaded, unshaded, before, region, compiled, settings, context.noise);
  return {
    kind: 'shadow',
    region,
    summary: [...beside.opening, ...sentencesOf(of, found), ...beside.closing, ...moves.map(({ text }) => text)].join('\n'), // prettier-ignore
    causes: ranked.map(({ cause: { about, id, title }, share }): Cause => ({ id, title, share, about, evidence: ['lights', 'between', 'checks'] })), // prettier-ignore
    evidence: [
      lightTable(chain, document, compiled.objectIds),
      checksOf(chain, causes),
      ...beside.places,
      betweenTable(chain, document, compiled.objectIds),
      ...(soft ? [soft] : []),
      ...(cutMap ? [cutMap] : []),
      ...maps.slice(0, MOST_MAPS),
      ...(fill.length > 0 ? [fillBars(fill)] : []),
      ...(ways.length > 0 ? [wayBars(ways)] : []),
      ...beside.light,
      scaleTable({ ...scale, ...facing(compiled, document), ...sidesAndSurfaces(document) }, document),
      rehearsedPictures('cures', words.cures, [before, ...cured, ...unshaded, ...without]),
      rehearsalTable('curesTable', words.curesTable, before, [...cured, ...unshaded, ...without]),
      // of any other light where it is asked for: they come last, closed
      ...maps.slice(MOST_MAPS),
    ],
    remedies: [
      ...ranked.map(({ after, cause }): Remedy => ({ id: cause.id, ...cause.cure!, effects: effects(after, cause.scales, lightOf(cause)) })), // prettier-ignore
      ...others.map(({ id, light, patch, scales, sideEffect, title }, i): Remedy => ({ id, title, patch, sideEffect, effects: effects(without[i], scales, light) })), // prettier-ignore
    ],
    measured,
  };
}

/** Causes, shadows that are there and deep enough, or why nothing is wrong. */
function sentencesOf({ chain, compiled, document }: ShadowCase, { ranked, shaded, uncurable }: RankedCauses): string[] {
  const sentences = [...ranked.map(({ cause }) => cause.text), ...uncurable.map(({ text }) => text)];
  for (const { answer, depth } of shaded)
    if (depth >= READABLE) sentences.push(words.shadow(answer.light.name, answer.ends.shadow / chain.places, casterName(document.objects[compiled.objectIds[stoppedBy(answer)[0]]]), depth)); // prettier-ignore
  return sentences.length > 0 ? sentences : quiet(chain.answers, chain.places);
}

const casterName = ({ name, seenByCamera }: ShotDocument['objects'][string]) => (seenByCamera ? name : words.hiddenCaster(name)); // prettier-ignore

/** With the light whose shadow it deepens, and the strengths it sets. */
type Other = Omit<Remedy, 'effects'> & Pick<ShadowCause, 'scales'> & { light?: string };

/** Beside what fills a shadow, its light may be too weak. */
function raisedLights({ document }: ShadowCase, { ranked }: RankedCauses): Other[] {
  return ranked.flatMap(({ cause }) => {
    const light = lightOf(cause);
    if (cause.fault !== 'filled' || light === undefined) return [];
    const { cure, scales } = raised(light, document);
    return cure.title === cause.cure!.title ? [] : [{ id: `raise:${light}`, ...cure, scales, light }];
  });
}

const lightOf = ({ about: [first] }: ShadowCause) => (first?.type === 'light' ? first.id : undefined);

/** Where nothing keeps shadows away, one that is there may be what is wrong: objects without their shadows. */
function removals(
  { compiled, document }: ShadowCase,
  { ranked, shaded, uncurable }: RankedCauses,
): Omit<Remedy, 'effects'>[] {
  if (ranked.length + uncurable.length > 0) return [];
  const casters = new Set(shaded.flatMap(({ answer }) => stoppedBy(answer).slice(0, MOST_CASTERS)));
  return [...casters].map((number) => {
    const id = compiled.objectIds[number];
    const patch: Patch = [{ op: 'replace', path: `/objects/${id}/castsShadows`, value: false }];
    return { id: `remove:${id}`, title: words.remedy.remove(document.objects[id].name), patch, sideEffect: words.side.unwanted }; // prettier-ignore
  });
}

/** The lights that have most to say here, beyond lit and turned away, come first. */
function mapped(answers: LightAnswer[]): LightAnswer[] {
  const said = ({ ends }: LightAnswer) => ENDS.reduce((sum, end) => sum + (PLAIN_ENDS.has(end) ? 0 : ends[end]), 0);
  return answers.toSorted((a, b) => said(b) - said(a) || b.arrives - a.arrives).slice(0, MOST_MAPPED);
}

/** Why there is no shadow where no fault was found. */
function quiet(answers: LightAnswer[], places: number): string[] {
  const sentences = answers.flatMap(({ ends, light }) => {
    if (ends.open >= 0.9 * places) return [words.open(light.name)];
    return ends.facesAway / places >= NOTABLE ? [words.facesAway(light.name, ends.facesAway / places)] : [];
  });
  return sentences.length > 0 ? sentences : [words.nothing];
}
