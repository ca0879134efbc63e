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
    lightSamples: count('Light samples', 'rays a light'),
    depth: Type.Object(
      {
        diffuse: limit('Diffuse depth', 3),
        specular: limit('Specular depth', 4),
        transmission: limit('Transmission depth', 8),
        total: limit('Total depth', 12),
      },
      { additionalProperties: false },
    ),
    clamp: Type.Object(
      { direct: clamp('Clamp, direct'), indirect: clamp('Clamp, indirect') },
      { additionalProperties: false },
    ),
    filter: Type.Object(
      {
        kind: Type.Union([Type.Literal('box'), Type.Literal('blackman-harris')], {
          title: 'Pixel filter',
          default: 'blackman-harris',
        }),
        width: Type.Number({ title: 'Filter width', minimum: 0.1, maximum: 8, default: 3, unit: 'px' }),
      },
      { additionalProperties: false },
    ),
    seed: Type.Integer({ title: 'Seed', minimum: 0, maximum: 2 ** 31 - 1, default: 1 }),
  },
  { additionalProperties: false },
);
export type RenderSettings = Static<typeof RenderSettings>;
export type SettingsUse = 'preview' | 'final';

export const FINAL_DEFAULTS: RenderSettings = {
  width: 640,
  height: 360,
  pixelSamples: 64,
  diffuseSamples: 1,
  specularSamples: 1,
  transmissionSamples: 1,
  lightSamples: 1,
  depth: { diffuse: 3, specular: 4, transmission: 8, total: 12 },
  clamp: { direct: 0, indirect: 0 },
  filter: { kind: 'blackman-harris', width: 3 },
  seed: 1,
};
export const PREVIEW_DEFAULTS: RenderSettings = {
  ...structuredClone(FINAL_DEFAULTS),
  width: 320,
  height: 180,
  pixelSamples: 4,
};
