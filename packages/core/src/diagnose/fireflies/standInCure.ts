// A glowing mesh is lit with by lights that stand in for it. The mesh stays for the camera, for mirrors and for smooth glass,
// and lights nothing else; the lights light everything but it and what is only smooth, and are not seen themselves.
import { emitterShine, type CompiledScene } from '../../render/index.ts';
import type { Patch, RenderSettings, ShotDocument, Surface } from '../../scene/index.ts';
import { freeId } from '../freeId.ts';
import { standInLights } from './standInLights.ts';

/** The mesh lights nothing beyond so much of its size. */
const OWN_REACH = 0.01;
/** Objects of one glowing surface that are replaced together; of more, none are. */
const MOST = 8;
/** Below this roughness a surface mirrors (its square is SMOOTH_ALPHA of shading). */
const SMOOTH = 0.022;

export interface StandInCure {
  patch: Patch;
  /** What the intensity is of what it was, in the direction where it is least and where it is most. */
  least: number;
  most: number;
  /** Standard error of the power, as a share. */
  doubt: number;
}

/**
 * @param emitter id of an object
 * @param pause is waited for between objects
 * @returns null where the object moves, or shares its surface with too many others
 */
export async function standInCure(
  scene: CompiledScene,
  document: ShotDocument,
  settings: RenderSettings,
  emitter: string,
  pause: () => Promise<void> = async () => {},
): Promise<StandInCure | null> {
  const { surface } = document.objects[emitter];
  const same = Object.keys(document.objects).filter((id) => document.objects[id].surface === surface);
  if (same.length > MOST || same.some((id) => document.objects[id].laterTransforms.length > 0)) return null;
  const linked = litByLamps(document).filter((id) => !same.includes(id));
  const patch: Patch = [];
  let [least, most, size, doubt] = [Infinity, 0, 0, 0];
  for (const id of same) {
    await pause();
    const shine = emitterShine(scene, document, settings, id);
    const found = standInLights(shine, `stand-in for ${document.objects[id].name}`);
    least = Math.min(least, found.least);
    most = Math.max(most, found.most);
    doubt = Math.max(doubt, shine.doubt);
    size = Math.max(size, Math.hypot(...shine.extents));
    found.lights.forEach(
      (light, i) =>
      patch.push({ op: 'add', path: `/lights/${freeId(document.lights, `stand-in-${id}-${i + 1}`)}`, value: { ...light, linked } }), // prettier-ignore
    );
    // the lights stand inside of the mesh
    patch.push({ op: 'replace', path: `/objects/${id}/castsShadows`, value: false });
  }
  patch.push({ op: 'replace', path: `/surfaces/${surface}/emission_reach`, value: Number((OWN_REACH * size).toPrecision(2)) }); // prettier-ignore
  return { patch, least, most, doubt };
}

/** The objects that stand-in lights light: all but those that are only smooth. */
export const litByLamps = ({ objects, surfaces }: ShotDocument) =>
  Object.keys(objects).filter((id) => !isOnlySmooth(surfaces[objects[id].surface]));

/** Whether a surface has nothing that asking for light could find: clear glass and mirrors. */
export function isOnlySmooth({
  base_metalness,
  coat_roughness,
  coat_weight,
  maps,
  specular_roughness,
  transmission_weight,
}: Surface): boolean {
  const mirrors = (base_metalness === 1 || transmission_weight === 1) && specular_roughness < SMOOTH;
  return mirrors && !maps.metalness_roughness && !maps.transmission && (coat_weight === 0 || coat_roughness < SMOOTH);
}
