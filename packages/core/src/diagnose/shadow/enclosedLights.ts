// Lights that stand where their light cannot leave: inside of an object, or under the surface that they should light.
import type { CompiledScene, ShadowProbe } from '../../render/index.ts';
import type { ShotDocument } from '../../scene/index.ts';
import { stoppedBy, lightReference, type ShadowCause } from './shadowCauses.ts';
import type { LightAnswer, LightChain } from './lightChain.ts';
import type { MiddlePlace } from './middlePlace.ts';
import { words } from './words.ts';

/** Directions that are asked about a light. */
const DIRECTIONS = 96;
/** Share of them that ends on one object. */
const ALL_AROUND = 0.95;
/** Share of the region that the light must leave dark to be worth a word. Common practice, no source. */
const DARK = 0.5;
/** Cosine to the normal of a surface from which on directions count that lead up to it: flatter ones may pass its rim. */
const UP = 0.3;

/** @param middle of the region */
export function enclosedLights(
  { answers, places }: LightChain,
  scene: CompiledScene,
  document: ShotDocument,
  { at: place, normal, object, offset, probe }: MiddlePlace,
): ShadowCause[] {
  const above = place.map((v, k) => v + 4 * offset * normal[k]);
  const isUp = (d: number[]) => normal.reduce((sum, n, k) => sum + n * d[k], 0) > UP;
  const nameOf = (number: number) => document.objects[scene.objectIds[number]].name;
  const about = (answer: LightAnswer, number: number): ShadowCause['about'] => [lightReference(answer), { type: 'object', id: scene.objectIds[number], name: nameOf(number) }]; // prettier-ignore
  const found: ShadowCause[] = [];
  for (const answer of answers) {
    const { ends, id, light } = answer;
    const at = [light.transform[3], light.transform[7], light.transform[11]];
    if (light.kind === 'sun' || light.strength === 0) continue;
    const [caster] = stoppedBy(answer);
    // in a room that throws shadows of its own, lamp and place are inside alike
    const isAlike = caster !== undefined && endsOn(probe, above, isUp, caster) >= ALL_AROUND;
    if (
      ends.shadow >= DARK * places &&
      caster !== undefined &&
      !isAlike &&
      endsOn(probe, at, () => true, caster) >= ALL_AROUND
    )
      found.push({
        id: `enclosed:${id}`,
        fault: 'enclosed',
        title: words.cause.enclosed(light.name, nameOf(caster)),
        text: words.enclosed(light.name, nameOf(caster)),
        about: about(answer, caster),
        cure: {
          title: words.remedy.remove(nameOf(caster)),
          patch: [{ op: 'replace', path: `/objects/${scene.objectIds[caster]}/castsShadows`, value: false }],
          sideEffect: words.side.everywhere,
        },
      });
    const depth = normal.reduce((sum, n, k) => sum + n * (place[k] - at[k]), 0);
    if (ends.facesAway >= DARK * places && depth > 0 && endsOn(probe, at, isUp, object) >= ALL_AROUND)
      found.push({
        id: `under:${id}`,
        fault: 'enclosed',
        title: words.cause.under(light.name, nameOf(object)),
        text: words.under(light.name, nameOf(object), depth),
        about: about(answer, object),
        cure: null,
      });
  }
  return found;
}

/** Of the directions from a light that pass a test, the share that meets an object first, 0..1. */
function endsOn(probe: ShadowProbe, from: number[], counts: (direction: number[]) => boolean, object: number): number {
  let [all, met] = [0, 0];
  for (let i = 0; i < DIRECTIONS; i++) {
    // a spiral of even steps from pole to pole (Vogel 1979, from memory)
    const z = 1 - (2 * (i + 0.5)) / DIRECTIONS;
    const r = Math.sqrt(1 - z * z);
    const turn = i * Math.PI * (3 - Math.sqrt(5));
    const direction = [r * Math.cos(turn), r * Math.sin(turn), z];
    if (!counts(direction)) continue;
    all++;
    if (probe.landing(from, -1, direction) < Infinity && probe.look.visibility.hit.instance === object) met++;
  }
  return all > 0 ? met / all : 0;
}
