import { channelSafe, type Component } from '../../render/index.ts';
import type { Patch, ShotDocument } from '../../scene/index.ts';
import { groupWords } from '../noise/noiseBy.ts';
import { COMPONENT_NAMES } from '../noise/words.ts';
import type { LightAnswer } from './lightChain.ts';
import { lightReference, type ShadowCause } from './shadowCauses.ts';
import { words } from './words.ts';

/** Share of the light of a region from which one way fills its shadows. Common practice, no source. */
const MOSTLY = 0.35;

/** A weak shadow: of what fills it the strongest is taken back, where it is a light or the sky; otherwise the light itself raised. */
export function filledCause(
  answer: LightAnswer,
  contrast: number,
  { fill, ways }: { fill: { name: string; share: number }[]; ways: { component: Component; share: number }[] },
  document: ShotDocument,
  use: string,
): ShadowCause {
  const { id, light } = answer;
  const nameOf = (group: string) => groupWords(channelSafe(group));
  const other = fill.find(({ name }) => name !== nameOf(light.group));
  const { brighter, lessOf } = words.remedy;
  // of all the light here, that which came from surface to surface is in every group
  const indirect = ways.find(({ component }) => component === 'indirectDiffuse')?.share ?? 0;
  if (indirect > (other?.share ?? 0) && indirect > MOSTLY)
    return {
      ...filled(answer, contrast, words.filledBy(COMPONENT_NAMES.indirectDiffuse, indirect)),
      cure: { title: words.remedy.lessIndirect, patch: [{ op: 'replace', path: `/${use}/depth/diffuse`, value: 1 }], sideEffect: words.side.noIndirect }, // prettier-ignore
    };
  const lights = Object.entries(document.lights).filter(([, { group }]) => other && nameOf(group) === other.name);
  const { environment } = document;
  const isSky = other && lights.length === 0 && nameOf(environment.group) === other.name;
  const patch: Patch = isSky
    ? [{ op: 'replace', path: '/environment/strength', value: Number((environment.strength / 4).toPrecision(3)) }]
    : lights.map(([number, { exposure }]) => ({ op: 'replace', path: `/lights/${number}/exposure`, value: exposure - 2 })); // prettier-ignore
  return {
    ...filled(answer, contrast, other ? words.filledBy(other.name, other.share) : null),
    cure:
      patch.length > 0
        ? { title: lessOf(other!.name), patch, sideEffect: words.side.darker }
        : { title: brighter(light.name), patch: [{ op: 'replace', path: `/lights/${id}/exposure`, value: light.exposure + 1 }], sideEffect: words.side.brighter }, // prettier-ignore
  };
}

const filled = (answer: LightAnswer, contrast: number, by: string | null): Omit<ShadowCause, 'cure'> => ({
  id: `filled:${answer.id}`,
  fault: 'filled',
  title: words.cause.filled(answer.light.name),
  text: words.filled(answer.light.name, contrast, by),
  about: [lightReference(answer)],
});
