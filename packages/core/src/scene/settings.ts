import { Type, type Static } from '@sinclair/typebox';

const count = (title: string, unit = 'rays', maximum = 1024, value = 1) =>
  Type.Integer({ title, minimum: 1, maximum, default: value, unit });
const limit = (title: string, value: number) =>
  Type.Integer({ title, minimum: 0, maximum: 1024, default: value, unit: 'events' });
const clamp = (title: string) =>
  Type.Number({ title, minimum: 0, maximum: 1e6, default: 0, unit: 'luminance, 0 is off' });

/**
 * How a picture is rendered. Counts are plain numbers of rays. A depth limit of n lets a path have n events of that
 * kind: a path from the camera over one diffuse surface to a light has one diffuse event.
 */
export const RenderSettings = Type.Object(
  {
    width: Type.Integer({ title: 'Width', minimum: 1, maximum: 16384, default: 640, unit: 'px' }),
    height: Type.Integer({ title: 'Height', minimum: 1, maximum: 16384, default: 360, unit: 'px' }),
    pixelSamples: Type.Integer({ title: 'Pixel samples', minimum: 1, maximum: 65536, default: 64, unit: 'rays' }),
    diffuseSamples: count('Diffuse samples'),
    specularSamples: count('Specular samples'),
    transmissionSamples: count('Transmission samples'),
    volumeSamples: count('Volume samples'),
    lightSamples: count('Light samples', 'rays a light'),
    depth: Type.Object(
      {
        diffuse: limit('Diffuse depth', 3),
        specular: limit('Specular depth', 4),
        transmission: limit('Transmission depth', 8),
        volume: limit('Volume depth', 4),
        total: limit('Total depth', 12),
      },
      { additionalProperties: false },
    ),
    clamp: Type.Object(
      {
        direct: clamp('Clamp, direct'),
        indirect: clamp('Clamp, indirect'),
        // by the first event of the path, beside those
        diffuse: clamp('Clamp, diffuse'),
        specular: clamp('Clamp, specular'),
        transmission: clamp('Clamp, transmission'),
        volume: clamp('Clamp, volume'),
      },
      { additionalProperties: false },
    ),
    filter: Type.Object(
      {
        kind: Type.Union(
          (['box', 'triangle', 'gaussian', 'mitchell', 'blackman-harris', 'sinc'] as const).map((k) => Type.Literal(k)),
          {
            title: 'Pixel filter',
            default: 'blackman-harris',
          },
        ),
        width: Type.Number({ title: 'Filter width', minimum: 0.1, maximum: 8, default: 3, unit: 'px' }),
      },
      { additionalProperties: false },
    ),
    adaptive: Type.Object(
      {
        /** Standard error in L* at which a tile stops; 0: every pixel gets all samples. */
        limit: Type.Number({ title: 'Adaptive limit', minimum: 0, maximum: 50, default: 0, unit: 'L*, 0 is off' }),
        least: Type.Integer({
          title: 'Adaptive, least samples',
          minimum: 8,
          maximum: 65536,
          default: 16,
          unit: 'rays',
        }),
      },
      { additionalProperties: false },
    ),
    occlusion: Type.Object(
      {
        samples: Type.Integer({
          title: 'Occlusion samples',
          minimum: 0,
          maximum: 1024,
          default: 0,
          unit: 'rays, 0 is off',
        }),
        distance: Type.Number({
          title: 'Occlusion distance',
          minimum: 0,
          maximum: 1e6,
          default: 0,
          unit: 'm, 0 is no limit',
        }),
        falloff: Type.Number({
          title: 'Occlusion falloff',
          minimum: 0,
          maximum: 10,
          default: 0,
          unit: 'power of the distance',
        }),
        cone: Type.Number({ title: 'Occlusion cone', minimum: 1, maximum: 90, default: 90, unit: 'deg' }),
        clearSurfaces: Type.Boolean({ title: 'Clear surfaces count', default: true }),
      },
      { additionalProperties: false },
    ),
    /** The picture is the occlusion layer, and nothing is lit. */
    clay: Type.Boolean({ title: 'Clay look: occlusion alone, no light', default: false }),
    clearShadows: Type.Union([Type.Literal('off'), Type.Literal('plain'), Type.Literal('tinted')], {
      title: 'Shadows of glass let light through',
      default: 'off',
    }),
    roughnessFloor: Type.Number({
      title: 'Roughness floor after the first bounce',
      minimum: 0,
      maximum: 1,
      default: 0,
    }),
    outlierGroups: Type.Integer({
      title: 'Outlier groups',
      minimum: 0,
      maximum: 31,
      default: 0,
      unit: 'groups, 0 is off',
    }),
    rayDistance: Type.Number({ title: 'Ray distance', minimum: 0, maximum: 1e9, default: 0, unit: 'm, 0 is no limit' }),
    seed: Type.Integer({ title: 'Seed', minimum: 0, maximum: 2 ** 31 - 1, default: 1 }),
  },
  { additionalProperties: false },
);
export type RenderSettings = Static<typeof RenderSettings>;
export type SettingsUse = 'preview' | 'final';

export const NO_CLAMP: RenderSettings['clamp'] = { direct: 0, indirect: 0, diffuse: 0, specular: 0, transmission: 0, volume: 0 }; // prettier-ignore
export const FINAL_DEFAULTS: RenderSettings = {
  width: 640,
  height: 360,
  pixelSamples: 64,
  diffuseSamples: 1,
  specularSamples: 1,
  transmissionSamples: 1,
  volumeSamples: 1,
  lightSamples: 1,
  depth: { diffuse: 3, specular: 4, transmission: 8, volume: 4, total: 12 },
  clamp: NO_CLAMP,
  filter: { kind: 'blackman-harris', width: 3 },
  adaptive: { limit: 0, least: 16 },
  occlusion: { samples: 0, distance: 0, falloff: 0, cone: 90, clearSurfaces: true },
  clay: false,
  clearShadows: 'off',
  roughnessFloor: 0,
  outlierGroups: 0,
  rayDistance: 0,
  seed: 1,
};
export const PREVIEW_DEFAULTS: RenderSettings = {
  ...structuredClone(FINAL_DEFAULTS),
  width: 320,
  height: 180,
  pixelSamples: 4,
};
