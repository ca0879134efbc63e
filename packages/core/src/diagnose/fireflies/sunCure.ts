// A small bright spot of the environment is cut off and moved into a sun, which is asked for its light, also through glass
// that lets shadow rays pass. Glass and mirrors do not meet the sun: it would come back there as the same fireflies.
import { luminance } from '../../color/index.ts';
import { normalize } from '../../math/index.ts';
import type { CompiledScene } from '../../render/index.ts';
import { LIGHT_DEFAULTS, type Light, type Patch, type ShotDocument } from '../../scene/index.ts';
import { freeId } from '../freeId.ts';
import { environmentSpots } from './environmentSpots.ts';
import { litByLamps } from './standInCure.ts';
import { words } from './words.ts';

export interface SunCure {
  patch: Patch;
  suns: number;
  /** Of the light of the environment that is lost, 0..1. */
  lost: number;
}

/** @returns null where the environment is no picture, or nothing of it stands out */
export function sunCure({ environment: map }: CompiledScene, document: ShotDocument): SunCure | null {
  const { environment } = document;
  if (!map || !environment.picture) return null;
  const tint = environment.color.map((c) => c * environment.strength);
  const { ceiling, left, spots } = environmentSpots(map, tint);
  if (spots.length === 0) return null;
  const linked = litByLamps(document);
  const all = Object.keys(document.objects).length;
  const patch: Patch = [{ op: 'replace', path: '/environment/ceiling', value: ceiling }];
  spots.forEach(({ angle, direction, irradiance }, i) => {
    const strength = luminance(irradiance[0], irradiance[1], irradiance[2]);
    const light: Light = {
      ...structuredClone(LIGHT_DEFAULTS),
      name: words.sunName(i, spots.length),
      kind: 'sun',
      angle,
      strength,
      color: irradiance.map((v) => v / strength),
      transform: shiningAlong(direction.map((v) => -v)),
      seenByCamera: environment.seenByCamera && environment.background === null,
      group: environment.group,
      linked: linked.length < all ? linked : null,
    };
    patch.push({ op: 'add', path: `/lights/${freeId(document.lights, `environment-sun-${i + 1}`)}`, value: light });
  });
  return { patch, suns: spots.length, lost: left };
}

/** A rotation that turns -Z to a direction. */
function shiningAlong([x, y, z]: number[]): number[] {
  const back = [-x, -y, -z];
  const up = Math.abs(y) < 0.99 ? [0, 1, 0] : [1, 0, 0];
  const right = normalize(cross(up, back));
  const over = cross(back, right);
  return [0, 1, 2].flatMap((k) => [right[k], over[k], back[k], 0]);
}

const cross = (a: number[], b: number[]) => [0, 1, 2].map((k) => a[(k + 1) % 3] * b[(k + 2) % 3] - a[(k + 2) % 3] * b[(k + 1) % 3]); // prettier-ignore
