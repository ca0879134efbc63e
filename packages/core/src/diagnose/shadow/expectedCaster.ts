// What becomes of the shadow of the object that the user expects to see, by each light that matters.
import type { DiagnosisContext } from '../contract.ts';
import type { MapEvidence, Ray, RaysEvidence } from '../evidence.ts';
import { frameOf, objectMiddle, type CompiledScene } from '../../render/index.ts';
import type { ShotDocument } from '../../scene/index.ts';
import { casterShadow, type CasterShadow } from './casterShadow.ts';
import type { LightAnswer } from './lightChain.ts';
import { towardLight } from './lightPoints.ts';
import { lightReference } from './shadowCauses.ts';
import { words } from './words.ts';

export interface ExpectedCaster {
  sentences: string[];
  maps: MapEvidence[];
  /** From the object on to where its shadow lands. */
  rays: RaysEvidence['rays'];
}

/** @param answers of the lights that are asked @param id of the caster */
export async function expectedCaster(
  { pause, region, settings }: Pick<DiagnosisContext, 'pause' | 'region' | 'settings'>,
  scene: CompiledScene,
  document: ShotDocument,
  answers: LightAnswer[],
  id: string,
): Promise<ExpectedCaster> {
  const object = scene.objectIds.indexOf(id);
  const { name } = document.objects[id];
  const found: ExpectedCaster = { sentences: [], maps: [], rays: [] };
  const said: { shadow: CasterShadow; text: string }[] = [];
  for (const answer of answers) {
    const { light } = answer;
    const shadow = await casterShadow(scene, document, settings, region, answer, object, pause);
    said.push({ shadow, text: sentencesOf(shadow, name, light.name, (number) => document.objects[scene.objectIds[number]].name).join(' ') }); // prettier-ignore
    if (shadow.looks > 0) found.maps.push(mapOf(shadow, name, answer, frameOf(settings)));
    if (shadow.landing === Infinity) continue;
    const middle = objectMiddle(scene, object);
    const away = towardLight(light, middle, 0).direction.map((c) => -c);
    const ray: Ray = { points: [middle, middle.map((v, k) => v + shadow.landing * away[k])], stop: middle };
    found.rays.push({ label: light.name, text: words.casterLands(name, shadow.landing), about: lightReference(answer), lines: [ray] }); // prettier-ignore
  }
  // what falls here first, then by how near it falls
  const apart = ({ inRegion, nearest }: CasterShadow) => (inRegion > 0 ? -1 : (nearest?.apart ?? Number.MAX_VALUE));
  found.sentences = said.sort((a, b) => apart(a.shadow) - apart(b.shadow)).map(({ text }) => text);
  return found;
}

function sentencesOf(shadow: CasterShadow, name: string, light: string, nameOf: (object: number) => string): string[] {
  const { covered, coveredBy, inRegion, landing, nearest, passes } = shadow;
  const sentences: string[] = [];
  if (inRegion > 0) sentences.push(words.casterHere(name, light, inRegion));
  else if (nearest)
    sentences.push(words.casterElsewhere(name, light, nearest.metres, nearest.apart, `(${nearest.x}, ${nearest.y})`)); // prettier-ignore
  else return [landing === Infinity ? words.casterNowhere(name, light) : words.casterHidden(name, light, landing)];
  if (passes === 'lightWithout') sentences.push(words.casterNoLight(light));
  else if (passes === 'placeWithout') sentences.push(words.casterNoPlace);
  else if (passes) sentences.push(words.casterPasses(name, passes));
  else if (covered >= 0.5) sentences.push(words.casterCovered(covered, nameOf(coveredBy)));
  return sentences;
}

function mapOf(
  shadow: CasterShadow,
  name: string,
  { id, light }: LightAnswer,
  region: MapEvidence['region'],
): MapEvidence {
  const { columns, step, values } = shadow;
  return {
    type: 'map',
    id: `caster-${id}`,
    title: words.casterMap(name, light.name),
    source: words.casterMapSource(values.length),
    unit: '',
    region,
    tile: step,
    columns,
    rows: values.length / columns,
    values,
    leading: values.map((share) => (share > 0 ? 0 : -1)),
    categories: [{ label: words.casterShade, colour: 'series0', hatched: true }],
  };
}
