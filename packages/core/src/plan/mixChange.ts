// A mix of the light groups as a change of the lights themselves: light is additive, so the render that follows is the mix.
import { channelSafe, EMITTER_GROUP, groupIndex, lightGroups } from '../render/index.ts';
import type { Patch, ShotDocument } from '../scene/index.ts';

/** Factor of red, green and blue. */
export type Tint = [number, number, number];

/**
 * @param tints factor of each light group, by the name of its layer without "group."; groups that are missing stay
 * @returns a patch for the slip; empty where nothing changes
 */
export function mixChange(document: ShotDocument, tints: Record<string, Tint>): Patch {
  const groups = lightGroups(document);
  const of = (group: string): Tint => {
    const layer: string | undefined = groups[groupIndex(groups, group)];
    return (layer !== undefined && tints[channelSafe(layer)]) || [1, 1, 1];
  };
  const patch: Patch = [];
  const change = (place: string, tint: Tint, now: { color: number[]; strength: number }, keys: [string, string]) => {
    const most = Math.max(...tint);
    if (now.strength === 0) return;
    if (most !== 1) patch.push({ op: 'replace', path: `${place}/${keys[1]}`, value: round(now.strength * most) });
    if (most > 0 && tint.some((t) => t !== most))
      patch.push({ op: 'replace', path: `${place}/${keys[0]}`, value: now.color.map((c, k) => round((c * tint[k]) / most)) }); // prettier-ignore
  };
  for (const [id, light] of Object.entries(document.lights))
    change(`/lights/${id}`, of(light.group), light, ['color', 'strength']);
  const { environment } = document;
  change('/environment', of(environment.group), environment, ['color', 'strength']);
  for (const [id, surface] of Object.entries(document.surfaces))
    change(`/surfaces/${id}`, of(EMITTER_GROUP), { color: surface.emission_color, strength: surface.emission_luminance }, ['emission_color', 'emission_luminance']); // prettier-ignore
  return patch;
}

const round = (v: number) => Number(v.toPrecision(6));
