// A shadow that is missing, weak or soft: for each light, what becomes of it in the region, and what keeps its shadow away.
//
// The chain of tests (lightChain.ts) tells what could be wrong without a render; which of it matters is measured: each remedy is
// rendered over the region with the same random numbers. How deep a shadow is, is measured by rendering its light without
// shadows: the difference is what the shadow takes away.
import { InputError } from '../../formats/index.ts';
import { intersectRegions } from '../../image/index.ts';
import { frameOf } from '../../render/index.ts';
import { moveShot, scaleShot, type Patch, type ShotDocument } from '../../scene/index.ts';
import type { Cause, Diagnosis, DiagnosisContext } from '../contract.ts';
import { regionCuts } from '../limits/regionCuts.ts';
import { AS_IT_IS, rehearsalTable, rehearsedPictures } from '../rehearsal/rehearsalEvidence.ts';
import { rehearsalEffects, secondsOf } from '../rehearsal/rehearsalEffects.ts';
import { differenceOf, rehearse, rehearsing, type Rehearsal } from '../rehearsal/rehearse.ts';
import { smallFrame } from '../rehearsal/smallFrame.ts';
import type { Remedy } from '../remedy.ts';
import { clipping } from './clipping.ts';
import { facing } from './facing.ts';
import { filledCause } from './filledCause.ts';
import { darkLift, liftWishes } from './darkLift.ts';
import { expectedCaster } from './expectedCaster.ts';
import { glowingFloor } from './glowingFloor.ts';
import { idleTable } from './idleLights.ts';
import { ENDS, lightChain, type LightAnswer } from './lightChain.ts';
import { lightRays } from './lightRays.ts';
import { clippingCauses, NOTABLE, shadowCauses, stoppedBy, type ShadowCause } from './shadowCauses.ts';
import { placeAndScale, type PlaceAndScale } from './placeAndScale.ts';
import {
  betweenTable,
  checksOf,
  fallsList,
  fillBars,
  fillOf,
  lightMap,
  lightTable,
  PLAIN_ENDS,
  scaleTable,
  wayBars,
  waysOf,
} from './shadowEvidence.ts';
import { shadowFalls } from './shadowFalls.ts';
import { readFrameShadow } from './shadowReading.ts';
import { words } from './words.ts';

/** L* by which a remedy must change the region to count as a cause. */
const VISIBLE = 0.3;
/** A shadow is weak where it is less deep than this, L*, in the part of the region that it falls on. Common practice, no source. */
const READABLE = 6;
/** Causes, and lights whose shadow is measured, at most. */
const MOST = 6;
const MOST_LIGHTS = 3;
const MOST_MAPS = 2;
const MOST_RAYS = 10;
/** L* by which something must lift the darkest tenth to be worth a word. */
const LIFTED = 1;
/** Metres from the origin: beyond it single precision is coarser than 0.1 mm (2^10 m: 2^-13 m). */
const FAR_AWAY = 1000;
/** Objects of a light whose shadows are offered to be taken away. */
const MOST_CASTERS = 2;

/** Without a scene it tells what the pixels say. @throws InputError where the region lies outside the picture */
export async function diagnoseShadow(context: DiagnosisContext): Promise<Diagnosis> {
  const { picture, report, scene, settings, use } = context;
  const region = intersectRegions(context.region, picture.dataWindow);
  if (!region) throw new InputError(words.outside);
  if (!scene) return readFrameShadow(picture, region, READABLE);
  report(0, words.asking);
  const compiled = await scene.compiled();
  const { document } = scene;
  const chain = await lightChain(compiled, document, settings, region, context.pause, (share) => report(0.2 * share, words.asking)); // prettier-ignore
  const measured: Record<string, number> = { places: chain.places };
  const done = (sentences: string[], rest: Partial<Diagnosis> = {}): Diagnosis => ({ kind: 'shadow', region, summary: sentences.join('\n'), causes: [], evidence: [], remedies: [], measured, ...rest }); // prettier-ignore
  const cutOff = clippingCauses(clipping(compiled, settings, region), compiled, document);
  if (cutOff.length === 0 && chain.places === 0) return done([words.nothingSeen]);
  if (cutOff.length === 0 && chain.answers.length === 0) return done([words.noLights]);

  const causes = [...shadowCauses(chain, compiled, document, use), ...glowingFloor(picture, region, compiled, document, settings), ...cutOff]; // prettier-ignore
  const small = smallFrame(region, settings, use);
  const shaded = chain.answers.filter(({ ends }) => ends.shadow / chain.places >= NOTABLE).sort((a, b) => b.ends.shadow * b.depth - a.ends.shadow * a.depth).slice(0, MOST_LIGHTS); // prettier-ignore
  const curable = causes.filter(({ cure }) => cure !== null).slice(0, MOST);
  const tries = curable.map(({ cure }) => cure!);
  const plain = shaded.map(({ id, light }) => ({ title: words.withoutShadow(light.name), patch: [{ op: 'replace' as const, path: `/lights/${id}/castsShadows`, value: false }] })); // prettier-ignore
  const run = async (wishes: { title: string; patch: Remedy['patch'] }[], from: number, to: number) => {
    const all: Rehearsal[] = [];
    for (const wish of wishes) {
      report(from + ((to - from) * all.length) / wishes.length, rehearsing(wish.title));
      all.push(await rehearse(context, scene, small, wish));
    }
    return all;
  };
  const [before] = await run([{ title: AS_IT_IS, patch: [] }], 0.2, 0.3);
  const unshaded = await run(plain, 0.3, 0.5);
  /** What each shadow takes away where it falls, L*. */
  const depths = shaded.map((answer, i) => differenceOf(before, unshaded[i]).mean / (answer.ends.shadow / chain.places)); // prettier-ignore
  const fill = fillOf(picture, region);
  const ways = waysOf(picture, region);
  /** What a filled shadow lacks, L* over the region: its remedy moves lit places as well, which says nothing of it. */
  const lacking = new Map<ShadowCause, number>();
  const sent = chain.answers.reduce((sum, { arrives }) => sum + arrives, 0);
  shaded.forEach((answer, i) => {
    measured[`depth.${answer.id}`] = depths[i];
    // of a light that hardly matters nobody misses the shadow
    if (answer.arrives < NOTABLE * sent) return;
    if (depths[i] < READABLE && !causes.some(({ fault, id }) => fault === 'soft' && id.endsWith(answer.id))) {
      const cause = filledCause(answer, depths[i], { fill, ways }, document, use);
      causes.push(cause);
      curable.push(cause);
      tries.push(cause.cure!);
      lacking.set(cause, ((READABLE - depths[i]) * answer.ends.shadow) / chain.places);
    }
  });
  const cured = await run(tries, 0.5, 0.9);
  const cuts = regionCuts(picture, region);
  const seconds = secondsOf(context, region);
  const ranked = curable
    .map((cause, i) => ({
      cause,
      moved: lacking.get(cause) ?? differenceOf(before, cured[i]).mean,
      effects: rehearsalEffects(before, cured[i], seconds, cuts),
    }))
    .filter(({ moved }) => moved >= VISIBLE)
    .sort((a, b) => b.moved - a.moved);
  // what a weak shadow lacks is no part of what remedies move
  const all = ranked.reduce((sum, { cause, moved }) => sum + (lacking.has(cause) ? 0 : moved), 0);
  const uncurable = causes.filter(({ cure }) => cure === null);
  // where nothing keeps shadows away, one that is there may be what is wrong
  const casters = ranked.length + uncurable.length === 0 ? [...new Set(shaded.flatMap((answer) => stoppedBy(answer).slice(0, MOST_CASTERS)))] : []; // prettier-ignore
  const removals = casters.map((number) => removalOf(compiled.objectIds[number], document));
  const scale = placeAndScale(compiled, document);
  const falls = chain.answers
    .filter(({ arrives, light }) => light.castsShadows && arrives > 0)
    .sort((a, b) => b.arrives - a.arrives)
    .slice(0, MOST_MAPS)
    .map((answer) => fallsList(shadowFalls(compiled, document, settings, region, answer), answer, document, compiled.objectIds)); // prettier-ignore
  const moves = wholeMoves(scale, document);
  const idle = idleTable(await lightChain(compiled, document, settings, frameOf(settings), context.pause));
  const byWeight = chain.answers.filter(({ light }) => light.strength > 0).sort((a, b) => b.arrives - a.arrives);
  const rays = lightRays(compiled, document, settings, region, byWeight.slice(0, MOST_RAYS));
  const { expected } = context;
  const caster = expected !== null && expected in document.objects ? await expectedCaster(context, compiled, document, byWeight.slice(0, MOST_MAPS), expected) : null; // prettier-ignore
  rays?.rays.push(...(caster?.rays ?? []));
  const without = await run([...removals, ...moves], 0.9, 0.95);
  const wished = liftWishes(document, settings, use, ways.find(({ component }) => component === 'indirectDiffuse')?.share ?? 0); // prettier-ignore
  const bounces = await run(wished.bounces, 0.95, 0.98);
  const noSky = await run(wished.sky, 0.98, 1);
  const lift = darkLift(before, bounces, noSky, settings.depth.diffuse - 1);

  const ofCaster = caster?.sentences ?? (expected === null ? [] : [words.casterGone]);
  const sentences = [...ranked.map(({ cause }) => cause.text), ...uncurable.map(({ text }) => text)];
  for (const [i, answer] of shaded.entries())
    if (depths[i] >= READABLE) sentences.push(words.shadow(answer.light.name, answer.ends.shadow / chain.places, casterName(document.objects[compiled.objectIds[stoppedBy(answer)[0]]]), depths[i])); // prettier-ignore
  if (sentences.length === 0) sentences.push(...quiet(chain.answers, chain.places));
  if (lift && lift.lifts.some((one) => one.lift >= LIFTED)) sentences.push(words.lifts(lift.dark, lift.lifts.filter((one) => one.lift >= LIFTED))); // prettier-ignore
  sentences.push(...moves.map(({ text }) => text));
  return done([...ofCaster, ...sentences], {
    causes: ranked.map(({ cause, moved }): Cause => ({ id: cause.id, title: cause.title, share: lacking.has(cause) ? null : moved / all, about: cause.about, evidence: ['lights', 'between', 'checks'] })), // prettier-ignore
    evidence: [
      lightTable(chain, document, compiled.objectIds),
      checksOf(chain, causes),
      ...(caster?.maps ?? []),
      ...(rays ? [rays] : []),
      betweenTable(chain, document, compiled.objectIds),
      ...falls.filter(({ pixels }) => pixels.length > 0),
      ...mapped(chain.answers).map((answer) => lightMap(chain, answer)),
      ...(fill.length > 0 ? [fillBars(fill)] : []),
      ...(ways.length > 0 ? [wayBars(ways)] : []),
      ...(lift ? [lift.bars, ...(lift.curve ? [lift.curve] : []), rehearsedPictures('liftWays', words.liftWays, [before, ...bounces, ...noSky])] : []), // prettier-ignore
      ...(idle ? [idle] : []),
      scaleTable({ ...scale, ...facing(compiled, document) }, document),
      rehearsedPictures('cures', words.cures, [before, ...cured, ...unshaded, ...without]),
      rehearsalTable('curesTable', words.curesTable, before, [...cured, ...unshaded, ...without]),
    ],
    remedies: [
      ...ranked.map(({ cause, effects }): Remedy => ({ id: cause.id, ...cause.cure!, effects })),
      ...[...removals, ...moves].map(({ id, patch, sideEffect, title }, i): Remedy => ({ id, title, patch, sideEffect, effects: rehearsalEffects(before, without[i], seconds, cuts) })), // prettier-ignore
    ],
  });
}

const casterName = ({ name, seenByCamera }: ShotDocument['objects'][string]) => (seenByCamera ? name : words.hiddenCaster(name)); // prettier-ignore

/** An object without its shadow, for one that should not be there. */
function removalOf(id: string, document: ShotDocument): Omit<Remedy, 'effects'> {
  const patch: Patch = [{ op: 'replace', path: `/objects/${id}/castsShadows`, value: false }];
  return { id: `remove:${id}`, title: words.remedy.remove(document.objects[id].name), patch, sideEffect: words.side.unwanted }; // prettier-ignore
}

/** What brings a scene to where and to the size that numbers are good for: nothing on the picture moves. */
function wholeMoves(scale: PlaceAndScale, document: ShotDocument): (Omit<Remedy, 'effects'> & { text: string })[] {
  const { away, middle, spacing, spacingPixels, median, unit } = scale;
  const found: (Omit<Remedy, 'effects'> & { text: string })[] = [];
  if (away > FAR_AWAY)
    found.push({ id: 'origin', title: words.toOrigin, patch: moveShot(document, middle.map((v) => -Math.round(v))), sideEffect: words.sameView, text: words.farAway(away, spacing, spacingPixels) }); // prettier-ignore
  if (unit)
    found.push({ id: 'unit', title: words.toUnit(unit.name), patch: scaleShot(document, unit.factor), sideEffect: words.sameView, text: words.unlikely(median, unit.name, median * unit.factor) }); // prettier-ignore
  return found;
}

/** The lights that have most to say here, beyond lit and turned away. */
function mapped(answers: LightAnswer[]): LightAnswer[] {
  const said = ({ ends }: LightAnswer) => ENDS.reduce((sum, end) => sum + (PLAIN_ENDS.has(end) ? 0 : ends[end]), 0);
  return answers.filter((answer) => said(answer) > 0).sort((a, b) => said(b) - said(a)).slice(0, MOST_MAPS); // prettier-ignore
}

/** Why there is no shadow where no fault was found. */
function quiet(answers: LightAnswer[], places: number): string[] {
  const sentences = answers.flatMap(({ ends, light }) => {
    if (ends.open >= 0.9 * places) return [words.open(light.name)];
    return ends.facesAway / places >= NOTABLE ? [words.facesAway(light.name, ends.facesAway / places)] : [];
  });
  return sentences.length > 0 ? sentences : [words.nothing];
}
