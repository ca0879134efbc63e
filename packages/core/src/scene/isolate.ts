import { SURFACE_DEFAULTS, type ShotDocument, type Surface } from './shotDocument.ts';
import type { SettingsUse } from './settings.ts';

/** Stand among the lights for the environment, and for the surfaces that shine. */
export const SKY = 'environment';
export const GLOW = 'surfaces';

/** Parts of a shot by themselves, to find a cause. Laid over a document for looking; it never enters the shot. */
export interface Isolation {
  /** Only these lights are on: their ids, SKY, GLOW; null: all of them. */
  lights: string[] | null;
  /** Lights that are off, by the same names. */
  muted: string[];
  /** Only these objects are there; null: all of them. */
  objects: string[] | null;
  /** Every surface matt and grey; what shines still shines, and holes stay holes. */
  grey: boolean;
  noTextures: boolean;
  /** Without normal and bump maps. */
  flat: boolean;
  /** Only the light that comes straight from its source, or all depth limits one less or one more. */
  bounces: 'direct' | 'less' | 'more' | null;
  /** The camera sees black where it meets nothing. */
  noBackground: boolean;
}
export const ISOLATION_DEFAULTS: Isolation = {
  lights: null,
  muted: [],
  objects: null,
  grey: false,
  noTextures: false,
  flat: false,
  bounces: null,
  noBackground: false,
};

export function isIsolating(isolation: Isolation): boolean {
  const { lights, muted, objects, grey, noTextures, flat, bounces, noBackground } = isolation;
  return lights !== null || muted.length > 0 || objects !== null || grey || noTextures || flat || bounces !== null || noBackground; // prettier-ignore
}

/** Linear reflectance of the grey, without a highlight. */
const GREY = 0.5;

/** The document as the isolation lets it be seen; the given one stays as it is. */
export function isolate(document: ShotDocument, use: SettingsUse, isolation: Isolation): ShotDocument {
  if (!isIsolating(isolation)) return document;
  const { objects, bounces, noBackground } = isolation;
  const isOn = (light: string) => (isolation.lights?.includes(light) ?? true) && !isolation.muted.includes(light);
  const { environment } = document;
  const settings = document[use];
  const change = { direct: 0, less: -1, more: 1 }[bounces ?? 'direct'];
  const depth = Object.fromEntries(Object.entries(settings.depth).map(([k, n]) => [k, Math.max(0, n + change)]));
  if (bounces === 'direct') depth.total = Math.min(1, depth.total);
  return {
    ...document,
    objects: mapped(document.objects, (object, id) => (!objects || objects.includes(id) ? object : null)),
    surfaces: mapped(document.surfaces, (surface) => seen(surface, isolation, isOn(GLOW))),
    lights: mapped(document.lights, (light, id) => (isOn(id) ? light : { ...light, strength: 0 })),
    environment: {
      ...environment,
      strength: isOn(SKY) ? environment.strength : 0,
      background: noBackground ? [0, 0, 0] : environment.background,
    },
    [use]: { ...settings, depth },
  };
}

function seen(surface: Surface, { grey, noTextures, flat }: Isolation, shines: boolean): Surface {
  const { name, emission_color, emission_luminance, geometry_opacity, opacity_cutoff, maps } = surface;
  const { opacity, emission_color: emissionMap } = maps;
  const result = grey
    ? { ...SURFACE_DEFAULTS, name, base_color: [GREY, GREY, GREY], specular_weight: 0, emission_color, emission_luminance, geometry_opacity, opacity_cutoff, maps: { opacity, emission_color: emissionMap } } // prettier-ignore
    : { ...surface };
  if (!shines) result.emission_luminance = 0;
  if (noTextures) result.maps = {};
  else if (flat) result.maps = { ...result.maps, normal: undefined, bump: undefined };
  return result;
}

function mapped<T>(group: Record<string, T>, change: (value: T, id: string) => T | null): Record<string, T> {
  return Object.fromEntries(Object.entries(group).flatMap(([id, value]) => {
    const next = change(value, id);
    return next === null ? [] : [[id, next]];
  })); // prettier-ignore
}
