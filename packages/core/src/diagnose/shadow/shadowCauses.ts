import type { CompiledScene } from '../../render/index.ts';
import { objectSize } from '../../render/index.ts';
import { penumbra, type Patch, type ShotDocument } from '../../scene/index.ts';
import type { Reference } from '../reference.ts';
import type { Clipping } from './clipping.ts';
import { doubledLights } from './doubledLights.ts';
import { REASONS, type PassReason } from './blockers.ts';
import type { LightAnswer, LightChain } from './lightChain.ts';
import { turnedAround } from './rightedLight.ts';
import type { LightScales } from './shadowDepth.ts';
import { words } from './words.ts';

export const SHADOW_FAULTS = ['flag', 'clear', 'hole', 'back', 'range', 'clipped', 'coplanar', 'rayEnds', 'coarse', 'normals', 'doubled', 'lightWithout', 'placeWithout', 'mirrored', 'tinted', 'glow', 'notLinked', 'beyondReach', 'enclosed', 'floats', 'soft'] as const; // prettier-ignore
export type ShadowFault = (typeof SHADOW_FAULTS)[number] | 'filled';

export interface ShadowCause {
  /** The fault, and what has it. */
  id: string;
  fault: ShadowFault;
  title: string;
  text: string;
  about: Reference[];
  cure: { title: string; patch: Patch; sideEffect: string } | null;
  /** What the cure does to the strengths of lights, where it does nothing else: its shadow can be predicted without a render. */
  scales?: LightScales;
}

/** Shares of the region below this are not worth a word. Common practice, no source. */
export const NOTABLE = 0.05;
/** What a camera cuts off is worth a word from a hundredth of the region. Common practice, no source. */
const CLIPPED = 0.01;
/** Levels of subdivision with which the faces of a coarse mesh follow its smooth normals. */
const FINER = 2;
/** Edges that bend by more stay sharp, degrees. Common practice, no source. */
const SHARP = 40;
/** A shadow without a core: on average less of the light than this is stopped in it. Common practice, no source. */
const NO_CORE = 0.6;

const replace = (path: string, value: unknown): Patch => [{ op: 'replace', path, value }];
export const lightReference = ({ id, light }: LightAnswer): Reference => ({ type: 'light', id, name: light.name });

/** What keeps the shadow of any light away, from the chain of each. */
export function shadowCauses(
  chain: LightChain,
  scene: CompiledScene,
  document: ShotDocument,
  use: string,
): ShadowCause[] {
  const all = [
    ...chain.answers.flatMap((answer) => causesOf(answer, chain.places, scene, document, use)),
    ...doubledCauses(chain, document),
  ];
  // the same of two lights, or the same remedy for two objects, is one cause
  const keyOf = ({ cure, id }: ShadowCause) => (cure ? JSON.stringify(cure.patch) : id);
  return all.filter((cause, i) => all.findIndex((other) => keyOf(other) === keyOf(cause)) === i);
}

function causesOf(
  answer: LightAnswer,
  places: number,
  scene: CompiledScene,
  document: ShotDocument,
  use: string,
): ShadowCause[] {
  const { ends, id, light } = answer;
  const { cause, remedy, side } = words;
  const causes: ShadowCause[] = [];
  const ids = scene.objectIds;
  const named = (object: number) => document.objects[ids[object]].name;
  const add = (fault: ShadowFault, title: string, text: string, about: Reference[], cure: ShadowCause['cure']) => causes.push({ id: `${fault}:${about[0] && 'id' in about[0] ? about[0].id : id}`, fault, title, text, about, cure }); // prettier-ignore
  const of = (count: number) => count / places;
  const own = lightReference(answer);
  const object = (number: number): Reference => ({ type: 'object', id: ids[number], name: named(number) });

  if (of(ends.passed) >= NOTABLE)
    for (const { number, reason } of passedBy(answer)) {
      const path = `/objects/${ids[number]}`;
      const cures: Record<PassReason, ShadowCause['cure']> = {
        flag: { title: remedy.castAgain(named(number)), patch: replace(`${path}/castsShadows`, true), sideEffect: side.everywhere },
        clear: { title: remedy.solidGlass, patch: replace(`/${use}/clearShadows`, 'off'), sideEffect: side.glass },
        hole: null,
        range: rangeCure(answer),
        back: { title: remedy.bothSides(named(number)), patch: replace(`${path}/doubleSided`, true), sideEffect: side.back },
      }; // prettier-ignore
      if (reason === 'range') add(reason, cause.range(light.name), words.outOfRange(named(number), light, answer.rangeFrom, answer.rangeTo, of(ends.passed)), [own, object(number)], cures.range); // prettier-ignore
      else add(reason, cause[reason](named(number)), words.passes(named(number), light.name, of(ends.passed), reason), [object(number), own], cures[reason]); // prettier-ignore
    }
  if (of(ends.flatFaceAway) >= NOTABLE) {
    const [first] = answer.coarse;
    const patch: Patch = [...answer.coarse].flatMap((number) =>
      replace(`/objects/${ids[number]}/subdivisionLevels`, FINER),
    );
    add('coarse', cause.coarse(named(first)), words.coarse(named(first), light.name, of(ends.flatFaceAway)), [object(first)], { title: remedy.finer(named(first)), patch, sideEffect: side.rounder }); // prettier-ignore
  }
  if (of(ends.normalAway) >= NOTABLE) {
    const [first] = answer.bent;
    const path = `/objects/${ids[first]}`;
    // subdivision makes normals from the faces, and keeps what is sharper than this
    const patch = [...replace(`${path}/subdivisionLevels`, FINER), ...replace(`${path}/creaseAngle`, SHARP)];
    add('normals', cause.normals(named(first)), words.normals(named(first), light.name, of(ends.normalAway)), [object(first), own], { title: remedy.finer(named(first)), patch, sideEffect: side.newNormals }); // prettier-ignore
  }
  if (of(ends.lightWithout) >= NOTABLE)
    add('lightWithout', cause.lightWithout(light.name), words.lightWithout(light.name, of(ends.lightWithout)), [own], { title: remedy.castAgain(light.name), patch: replace(`/lights/${id}/castsShadows`, true), sideEffect: side.light }); // prettier-ignore
  if (of(ends.placeWithout) >= NOTABLE) {
    const [first] = answer.without;
    const patch: Patch = [...answer.without].flatMap((number) => replace(`/objects/${ids[number]}/receivesShadows`, true)); // prettier-ignore
    add('placeWithout', cause.placeWithout(named(first)), words.placeWithout(named(first), of(ends.placeWithout)), [object(first)], { title: remedy.receive(named(first)), patch, sideEffect: side.everywhere }); // prettier-ignore
  }
  if (of(ends.tinted) >= NOTABLE)
    add('tinted', cause.tinted(light.name), words.tinted(light.name, light.shadowColor), [own], { title: remedy.blackShadow(light.name), patch: replace(`/lights/${id}/shadowColor`, [0, 0, 0]), sideEffect: side.light }); // prettier-ignore
  if (of(answer.turnedAway) >= NOTABLE) {
    const patch = replace(`/lights/${id}/transform`, turnedAround(light.transform));
    add('mirrored', cause.mirrored(light.name), words.mirrored(light.name, of(answer.turnedAway)), [own], { title: remedy.turnAround(light.name), patch, sideEffect: side.turnedAround }); // prettier-ignore
  }
  if (of(answer.wouldShade) >= NOTABLE && ends.notLinked > 0) {
    const [first] = answer.unlinked;
    const linked = [...light.linked!, ...[...answer.unlinked].map((number) => ids[number])];
    add('notLinked', cause.notLinked(light.name), words.notLinked(light.name, named(first)), [own, object(first)], { title: remedy.link(light.name), patch: replace(`/lights/${id}/linked`, linked), sideEffect: side.linked }); // prettier-ignore
  }
  if (of(answer.wouldShade) >= NOTABLE && ends.beyondReach > 0) {
    const to = Number((answer.farthest * 1.1).toPrecision(2));
    add('beyondReach', cause.beyondReach(light.name), words.beyondReach(light.name, light.reach, answer.farthest), [own], { title: remedy.reach(light.name, to), patch: replace(`/lights/${id}/reach`, to), sideEffect: side.linked }); // prettier-ignore
  }
  if (of(ends.shadow) >= NOTABLE && answer.depth < NO_CORE) {
    const [blocker] = stoppedBy(answer);
    const width = penumbra(light, Math.max(answer.toLight, 1e-6), answer.toBlocker);
    const smaller = smallerLight(answer);
    if (smaller.length > 0) add('soft', cause.soft(light.name), words.soft(light.name, width, objectSize(scene, blocker), answer.depth), [own], { title: remedy.smaller(light.name), patch: smaller, sideEffect: side.sharper }); // prettier-ignore
  }
  return causes;
}

/** Lights that stand in one place: the later one is put out. Only those that bring light here count. */
function doubledCauses({ answers, places }: LightChain, document: ShotDocument): ShadowCause[] {
  const brings = (id: string) => {
    const { ends } = answers.find((answer) => answer.id === id)!;
    return (
      places - ends.off - ends.notLinked - ends.beyondReach - ends.outsideCone - ends.normalAway - ends.facesAway >=
      NOTABLE * places
    );
  };
  if (places === 0) return [];
  return doubledLights(document.lights)
    .filter(({ id, of }) => brings(id) && brings(of))
    .map(({ id, of }): ShadowCause => {
      const [name, other] = [document.lights[id].name, document.lights[of].name];
      return {
        id: `doubled:${id}`,
        fault: 'doubled',
        title: words.cause.doubled(name, other),
        text: words.doubled(name, other),
        about: [
          { type: 'light', id, name },
          { type: 'light', id: of, name: other },
        ],
        cure: {
          title: words.remedy.putOut(name),
          patch: replace(`/lights/${id}/strength`, 0),
          sideEffect: words.side.darker,
        },
      };
    });
}

/** What the camera cuts off here, and the distance that shows it. */
export function clippingCauses(cut: Clipping, scene: CompiledScene, document: ShotDocument): ShadowCause[] {
  const camera = document.cameras[document.camera];
  const causeOf = (side: 'near' | 'far', share: number, objects: number[], reached: number): ShadowCause[] => {
    if (share < CLIPPED) return [];
    const named = objects.slice(0, 3).map((number): Reference => ({ type: 'object', id: scene.objectIds[number], name: document.objects[scene.objectIds[number]].name })); // prettier-ignore
    // a tenth of margin, in two figures
    const value = side === 'far' ? roundUp(reached * 1.1) : Number((reached * 0.9).toPrecision(2));
    return [
      {
        id: `clipped:${side}`,
        fault: 'clipped',
        title: words.cause.clipped(side, words.listOf(named)),
        text: words.clipped(side, camera[side], reached, share, words.listOf(named)),
        about: named,
        cure: {
          title: words.remedy.clip(side, value),
          patch: replace(`/cameras/${document.camera}/${side}`, value),
          sideEffect: words.side.clip,
        },
      },
    ];
  };
  return [
    ...causeOf('far', cut.far, cut.farObjects, cut.farthest),
    ...causeOf('near', cut.near, cut.nearObjects, cut.nearest),
  ];
}

/** A range that takes in what stands outside of it, with a tenth of margin. */
function rangeCure({ id, light, rangeFrom, rangeTo }: LightAnswer): ShadowCause['cure'] {
  const patch: Patch = [];
  if (light.shadowTo > 0 && rangeTo > light.shadowTo)
    patch.push(...replace(`/lights/${id}/shadowTo`, roundUp(rangeTo * 1.1)));
  if (rangeFrom < light.shadowFrom)
    patch.push(...replace(`/lights/${id}/shadowFrom`, Number((rangeFrom * 0.9).toPrecision(2))));
  return patch.length > 0 ? { title: words.remedy.range(light.name), patch, sideEffect: words.side.light } : null;
}

/** To two figures, never below. */
export function roundUp(value: number): number {
  const step = 10 ** (Math.floor(Math.log10(value)) - 1);
  return Number((Math.ceil(value / step) * step).toPrecision(2));
}

/** Objects that something passes, with the reason that lets most rays through; those that let most through first. */
function passedBy({ between }: LightAnswer): { number: number; reason: PassReason }[] {
  const found = [...between].flatMap(([number, { passes }]) => {
    const reason = REASONS.toSorted((a, b) => passes[b] - passes[a])[0];
    return passes[reason] > 0 ? [{ number, reason, rays: passes[reason] }] : [];
  });
  const most = Math.max(0, ...found.map(({ rays }) => rays));
  return found.filter(({ rays }) => rays > most / 4).sort((a, b) => b.rays - a.rays).slice(0, 3); // prettier-ignore
}

/** Objects that stop rays of a light, those that stop most first. */
export const stoppedBy = ({ between }: LightAnswer): number[] => [...between].filter(([, { stops }]) => stops > 0).sort(([, a], [, b]) => b.stops - a.stops).map(([number]) => number); // prettier-ignore

/** A quarter of the size with the same light on a place: radiance goes with the inverse of the area, a sun's strength with none. */
function smallerLight({ id, light }: LightAnswer): Patch {
  const at = `/lights/${id}`;
  const shrunk = (['width', 'height', 'radius', 'angle'] as const).filter((side) => light[side] !== undefined && isUsed(light.kind, side)); // prettier-ignore
  if (shrunk.length === 0) return [];
  const patch: Patch = shrunk.map((side) => ({ op: 'replace' as const, path: `${at}/${side}`, value: light[side]! / 4 })); // prettier-ignore
  return light.kind === 'sun' ? patch : [...patch, { op: 'replace', path: `${at}/strength`, value: light.strength * 16 }]; // prettier-ignore
}

function isUsed(kind: LightAnswer['light']['kind'], side: 'width' | 'height' | 'radius' | 'angle'): boolean {
  if (side === 'angle') return kind === 'sun';
  return side === 'radius' ? kind === 'sphere' || kind === 'disc' : kind === 'rectangle';
}
