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
  if (patch.length === 0) return { ...filled(answer, contrast, null), ...raised(id, document) };
  const group = isSky ? environment.group : lights[0][1].group;
  return {
    ...filled(answer, contrast, words.filledBy(other!.name, other!.share)),
    cure: { title: words.remedy.lessOf(other!.name), patch, sideEffect: words.side.darker },
    scales: { groups: new Map([[layerOf(group), 1 / 4]]), own: 1, rest: 1 / 4 },
  };
}

/** The other way to a deeper shadow: the light itself brighter. */
export function raised(
  id: string,
  { environment, lights }: ShotDocument,
): Pick<ShadowCause, 'cure' | 'scales'> & { cure: NonNullable<ShadowCause['cure']> } {
  const { exposure, group, name } = lights[id];
  const cure = { title: words.remedy.brighter(name), patch: [{ op: 'replace' as const, path: `/lights/${id}/exposure`, value: exposure + 1 }], sideEffect: words.side.brighter }; // prettier-ignore
  // what others of its group bring is not known apart
  const isAlone = environment.group !== group && Object.values(lights).filter((light) => light.group === group).length === 1; // prettier-ignore
  return isAlone ? { cure, scales: { groups: new Map([[layerOf(group), 2]]), own: 2, rest: 1 } } : { cure };
}

const layerOf = (group: string) => `group.${channelSafe(group)}`;

const filled = (answer: LightAnswer, contrast: number, by: string | null): Omit<ShadowCause, 'cure'> => ({
  id: `filled:${answer.id}`,
  fault: 'filled',
  title: words.cause.filled(answer.light.name),
  text: words.filled(answer.light.name, contrast, by),
  about: [lightReference(answer)],
});
