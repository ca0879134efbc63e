import type { ShotDocument } from '../scene/index.ts';
import { lightGroups } from './compileLights.ts';

/** Names of what a film counts, in its order. */
export interface FilmNames {
  /** Light groups; layers are made of them where there are several. */
  groups: string[];
  objects: string[];
  surfaces: string[];
}

/** Names of the objects and surfaces of a shot, each once. */
export function filmNames(document: ShotDocument): FilmNames {
  const once = (list: Record<string, { name: string }>) => {
    const all = Object.values(list).map((v) => v.name);
    return Object.entries(list).map(([id, { name }]) => (all.filter((n) => n === name).length > 1 ? id : name));
  };
  return { groups: lightGroups(document), objects: once(document.objects), surfaces: once(document.surfaces) };
}
