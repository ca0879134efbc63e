// Which of the causes matter: each remedy is rendered over the region, and so is each light without its shadows, which tells how deep
// they are. Causes are ranked by how far their remedy moves the region.
import { AS_IT_IS } from '../rehearsal/rehearsalEvidence.ts';
import { differenceOf, type Rehearsal } from '../rehearsal/rehearse.ts';
import { filledCause } from './filledCause.ts';
import type { LightAnswer } from './lightChain.ts';
import { tryAll, type ShadowCase } from './shadowCase.ts';
import { NOTABLE, type ShadowCause } from './shadowCauses.ts';
import { fillOf, waysOf } from './shadowEvidence.ts';
import { words } from './words.ts';

/** L* by which a remedy must change the region to count as a cause. */
const VISIBLE = 0.3;
/** A shadow is weak where it is less deep than this, L*, in the part of the region that it falls on. Common practice, no source. */
export const READABLE = 6;
/** Causes, and lights whose shadow is measured, at most. */
const MOST = 6;
const MOST_LIGHTS = 3;

export interface RankedCauses {
  /** The region as it is, and with each change. */
  before: Rehearsal;
  unshaded: Rehearsal[];
  cured: Rehearsal[];
  /** Lights whose shadow falls here, and what it takes away where it falls, L*: as it is, or at the shadow check where that shows more. */
  shaded: { answer: LightAnswer; depth: number }[];
  /** Worst first, with the share of what all remedies move, 0..1: null for what a weak shadow lacks, which no remedy moves alone. */
  ranked: { cause: ShadowCause; share: number | null; after: Rehearsal }[];
  /** All causes, and those without a remedy. */
  causes: ShadowCause[];
  uncurable: ShadowCause[];
  fill: ReturnType<typeof fillOf>;
  ways: ReturnType<typeof waysOf>;
}

/** @param found causes that the chain of tests, the camera and the surfaces have named */
export async function rankedCauses(of: ShadowCase, found: ShadowCause[]): Promise<RankedCauses> {
  const { chain, context, document, region } = of;
  const { picture, use } = context;
  const share = (count: number) => count / chain.places;
  const lights = chain.answers.filter(({ ends }) => share(ends.shadow) >= NOTABLE).sort((a, b) => b.ends.shadow * b.depth - a.ends.shadow * a.depth).slice(0, MOST_LIGHTS); // prettier-ignore
  const plain = lights.map(({ id, light }) => ({ title: words.withoutShadow(light.name), patch: [{ op: 'replace' as const, path: `/lights/${id}/castsShadows`, value: false }] })); // prettier-ignore
  const [before] = await tryAll(of, [{ title: AS_IT_IS, patch: [] }], 0.2, 0.3);
  const unshaded = await tryAll(of, plain, 0.3, 0.5);
  const shaded = lights.map((answer, i) => ({ answer, depth: differenceOf(before, unshaded[i], context.noise.stops).mean / share(answer.ends.shadow) })); // prettier-ignore

  const [fill, ways] = [fillOf(picture, region), waysOf(picture, region)];
  const sent = chain.answers.reduce((sum, { arrives }) => sum + arrives, 0);
  const isSoft = (id: string) => found.some((cause) => cause.id === `soft:${id}`);
  // of a light that hardly matters nobody misses the shadow
  const weak = shaded.filter(({ answer, depth }) => depth < READABLE && answer.arrives >= NOTABLE * sent && !isSoft(answer.id)); // prettier-ignore
  /** What a filled shadow lacks, L* over the region: its remedy moves lit places as well, which says nothing of it. */
  const lacking = new Map(weak.map(({ answer, depth }) => [filledCause(answer, depth, { fill, ways }, document, use), (READABLE - depth) * share(answer.ends.shadow)])); // prettier-ignore

  const curable = [...found.filter(({ cure }) => cure !== null).slice(0, MOST), ...lacking.keys()];
  const cured = await tryAll(of, curable.map(({ cure }) => cure!), 0.5, 0.9); // prettier-ignore
  const moving = curable
    .map((cause, i) => ({ cause, after: cured[i], moved: lacking.get(cause) ?? differenceOf(before, cured[i]).mean }))
    .filter(({ moved }) => moved >= VISIBLE)
    .sort((a, b) => b.moved - a.moved);
  const all = moving.reduce((sum, { cause, moved }) => sum + (lacking.has(cause) ? 0 : moved), 0);
  return {
    before,
    unshaded,
    cured,
    shaded,
    ranked: moving.map(({ after, cause, moved }) => ({ after, cause, share: lacking.has(cause) ? null : moved / all })), // prettier-ignore
    causes: [...found, ...lacking.keys()],
    uncurable: found.filter(({ cure }) => cure === null),
    fill,
    ways,
  };
}
