// What the schema says about one value of a shot document: its name in words, unit and range.
import type { TSchema } from '@sinclair/typebox';
import { ShotDocument, type Light } from './shotDocument.ts';

export type ParameterKind = 'number' | 'whole' | 'switch' | 'choice' | 'color' | 'list' | 'text' | 'group';
export interface Parameter {
  title: string;
  kind: ParameterKind;
  unit: string;
  minimum: number;
  maximum: number;
  /** Of a choice. */
  choices: string[];
}

/** Names that the key does not say well. */
const TITLES: Record<string, string> = {
  specular_ior: 'IOR',
  coat_ior: 'coat IOR',
  specular_roughness_anisotropy: 'anisotropy',
  specular_anisotropy_rotation: 'anisotropy rotation',
  transmission_dispersion_scale: 'dispersion',
  transmission_dispersion_abbe_number: 'Abbe number',
  occlusion_strength: 'occlusion',
  blend: 'seam blending',
  transmission_scatter_anisotropy: 'scatter anisotropy',
  emission_luminance: 'emission radiance',
  geometry_opacity: 'opacity',
  geometry_thin_walled: 'thin-walled',
  metalness_roughness: 'metalness and roughness',
  uvSet: 'UV set',
  wrapU: 'wrap in U',
  wrapV: 'wrap in V',
  alpha: 'alpha',
  linked: 'lights only',
  encoding: 'colour space',
  exposure: 'stops',
  transform: 'place',
  laterTransforms: 'later places',
  displacement_neutral: 'displacement neutral value',
  displacement_bump: 'shade what is finer than the mesh',
  uvRule: 'UVs at borders',
  rimRule: 'open rims',
  ceiling: 'highest luminance of the picture',
};

type Schema = TSchema & {
  properties?: Record<string, Schema>;
  patternProperties?: Record<string, Schema>;
  anyOf?: Schema[];
  items?: Schema;
  const?: unknown;
};

/** Units of the strength of a light. */
const STRENGTH_UNITS: Record<Light['kind'], string> = {
  point: 'W/sr',
  spot: 'W/sr',
  sun: 'W/m2',
  rectangle: 'W/(m2 sr)',
  disc: 'W/(m2 sr)',
  sphere: 'W/(m2 sr)',
};

/**
 * @param keys path to the value, such as ['surfaces', 'honey', 'specular_ior']
 * @param document where a unit depends on what the value belongs to
 * @returns null where the schema knows none
 */
export function parameterAt(keys: string[], document: ShotDocument | null = null): Parameter | null {
  let schema: Schema = ShotDocument as Schema;
  for (const key of keys) {
    const within = solid(schema);
    const next = within.properties?.[key] ?? Object.values(within.patternProperties ?? {})[0];
    if (!next) return null;
    schema = next;
  }
  const key = keys.at(-1) ?? '';
  const own = solid(schema);
  const light = keys[0] === 'lights' ? document?.lights[keys[1]] : null;
  return {
    title: TITLES[key] ?? schema.title?.toLowerCase() ?? wordsOf(key),
    kind: kindOf(own),
    unit: light && key === 'strength' ? STRENGTH_UNITS[light.kind] : ((own.unit as string | undefined)?.split(',')[0] ?? ''), // prettier-ignore
    minimum: (own.minimum ?? own.items?.minimum ?? -Infinity) as number,
    maximum: (own.maximum ?? own.items?.maximum ?? Infinity) as number,
    choices: own.anyOf ? own.anyOf.flatMap((option) => (typeof option.const === 'string' ? [option.const] : [])) : [],
  };
}

/** A value that may be null is what it is otherwise. */
function solid(schema: Schema): Schema {
  const others = schema.anyOf?.filter((option) => option.type !== 'null') ?? [];
  return others.length === 1 ? others[0] : schema;
}

function kindOf({ type, anyOf, items, minItems, maxItems }: Schema): ParameterKind {
  if (anyOf) return 'choice';
  if (type === 'number') return 'number';
  if (type === 'integer') return 'whole';
  if (type === 'boolean') return 'switch';
  if (type === 'array') return minItems === 3 && maxItems === 3 && items?.type === 'number' ? 'color' : 'list';
  return type === 'string' ? 'text' : 'group';
}

/** "transmission_depth" and "castsShadows" as words. */
function wordsOf(key: string): string {
  return key
    .replaceAll('_', ' ')
    .replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
    .replaceAll('color', 'colour')
    .trim();
}
