// Objects that show on one side only, and those whose surface nobody has set.
import { NO_SURFACE, SURFACE_DEFAULTS, type ShotDocument, type Surface } from '../../scene/index.ts';

export interface SidesAndSurfaces {
  /** Ids of objects whose back faces are not there. */
  oneSided: string[];
  /** Of those with a surface that is a default in all but its name, or that stands in for none. */
  defaultSurface: string[];
}

export function sidesAndSurfaces({ objects, surfaces }: ShotDocument): SidesAndSurfaces {
  const all = Object.entries(objects);
  return {
    oneSided: all.filter(([, { doubleSided }]) => !doubleSided).map(([id]) => id),
    defaultSurface: all.filter(([, { surface }]) => surface === NO_SURFACE || isDefault(surfaces[surface])).map(([id]) => id), // prettier-ignore
  };
}

const isDefault = (surface: Surface) => JSON.stringify({ ...SURFACE_DEFAULTS, ...surface, name: '' }) === JSON.stringify({ ...SURFACE_DEFAULTS, name: '' }); // prettier-ignore
