import { LIGHT_DEFAULTS, type ShotDocument } from './shotDocument.ts';

/** A film keeps the light of eight groups apart: these, the environment's and that of glowing surfaces. */
const MOST_OWN = 6;

/**
 * Few lights are kept apart each by itself, so that noise and looks can be told of each of them; many stay in one group, and
 * so do those that were given one.
 */
export function giveOwnGroups({ lights }: ShotDocument): void {
  const groups = new Set(Object.values(lights).map((l) => (l.group === LIGHT_DEFAULTS.group ? l.name : l.group)));
  if (groups.size > MOST_OWN) return;
  for (const light of Object.values(lights)) if (light.group === LIGHT_DEFAULTS.group) light.group = light.name;
}
