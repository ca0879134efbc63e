// What is said beside the causes: where the shadow of the object that was named falls, what lifts the dark, which lights do nothing,
// and the rays to draw.
import { frameOf } from '../../render/index.ts';
import type { Evidence } from '../evidence.ts';
import { rehearsedPictures } from '../rehearsal/rehearsalEvidence.ts';
import { allBounces, darkLift, liftWishes } from './darkLift.ts';
import { expectedCaster } from './expectedCaster.ts';
import { idleTable } from './idleLights.ts';
import { lightChain } from './lightChain.ts';
import { lightCosts, lightCostTable } from './lightCosts.ts';
import { lightRays } from './lightRays.ts';
import type { RankedCauses } from './rankedCauses.ts';
import { tryAll, type ShadowCase } from './shadowCase.ts';
import { fallsList } from './shadowEvidence.ts';
import { shadowFalls } from './shadowFalls.ts';
import { words } from './words.ts';

/** Lights that are drawn, and that are followed on to where shadows fall. */
const MOST_RAYS = 10;
const MOST_FOLLOWED = 2;
/** L* by which something must lift the darkest tenth to be worth a word. */
const LIFTED = 1;

export interface BesideShadow {
  /** Of the object that was named. */
  opening: string[];
  /** Of what lifts the dark. */
  closing: string[];
  /** Next to the lights, and after all else of them. */
  places: Evidence[];
  light: Evidence[];
}

export async function besideShadow(of: ShadowCase, { before, ways }: RankedCauses): Promise<BesideShadow> {
  const { chain, compiled, context, document, region } = of;
  const { expected, pause, settings, use } = context;
  const byWeight = chain.answers.filter(({ light }) => light.strength > 0).sort((a, b) => b.arrives - a.arrives);
  const followed = byWeight.slice(0, MOST_FOLLOWED);
  const rays = lightRays(compiled, document, settings, region, byWeight.slice(0, MOST_RAYS));
  const isThere = expected !== null && expected in document.objects;
  const caster = isThere ? await expectedCaster(context, compiled, document, followed, expected) : null;
  rays?.rays.push(...(caster?.rays ?? []));
  const falls = followed
    .filter(({ arrives, light }) => light.castsShadows && arrives > 0)
    .map((answer) => fallsList(shadowFalls(compiled, document, settings, region, answer), answer, document, compiled.objectIds)); // prettier-ignore
  const idle = idleTable(await lightChain(compiled, document, settings, frameOf(settings), pause));

  const costs = lightCostTable(lightCosts(before, document));

  const indirect = ways.find(({ component }) => component === 'indirectDiffuse')?.share ?? 0;
  const wished = liftWishes(document, settings, use, indirect);
  const bounces = await tryAll(of, wished.bounces, 0.9, 0.94);
  const noSky = await tryAll(of, wished.sky, 0.94, 0.96);
  const lift = darkLift(before, bounces, noSky, allBounces(settings));
  const lifts = lift?.lifts.filter((one) => one.lift >= LIFTED) ?? [];
  return {
    opening: caster?.sentences ?? (expected === null ? [] : [words.casterGone]),
    closing: lift && lifts.length > 0 ? [words.lifts(lift.dark, lifts)] : [],
    places: [...(caster?.maps ?? []), ...(rays ? [rays] : []), ...falls.filter(({ pixels }) => pixels.length > 0)],
    light: [
      ...(lift ? [lift.bars, ...(lift.curve ? [lift.curve] : []), rehearsedPictures('liftWays', words.liftWays, [before, ...bounces, ...noSky])] : []), // prettier-ignore
      ...(idle ? [idle] : []),
      ...(costs ? [costs] : []),
    ],
  };
}
