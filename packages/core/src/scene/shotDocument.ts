import { Type, type Static } from '@sinclair/typebox';
import { RenderSettings } from './settings.ts';

const closed = { additionalProperties: false };
const number = (minimum: number, maximum: number, unit = '') =>
  Type.Number({ minimum, maximum, ...(unit && { unit }) });
const fraction = () => number(0, 1);
const Color = Type.Array(number(0, 1e9), { minItems: 3, maxItems: 3 });
const Tint = Type.Array(fraction(), { minItems: 3, maxItems: 3 });
const Transform = Type.Array(number(-1e12, 1e12), { minItems: 12, maxItems: 12 });
const Name = Type.String({ minLength: 1, maxLength: 200 });
const Blob = Type.String({ pattern: '^[0-9a-f]{64}$' });
const Id = Type.String({ pattern: '^[a-z0-9-]{1,80}$' });
const map = <T extends Parameters<typeof Type.Record>[1]>(value: T) => Type.Record(Id, value, closed);

export const Camera = Type.Object(
  {
    name: Name,
    kind: Type.Union([Type.Literal('perspective'), Type.Literal('orthographic')]),
    verticalAngle: number(0.01, 179, 'deg'),
    height: number(0, 1e9, 'm'),
    transform: Transform,
  },
  closed,
);

/** Parameter names follow the open OpenPBR Surface specification, but for transmission_tint, which is ours. */
export const Surface = Type.Object(
  {
    name: Name,
    base_weight: fraction(),
    base_color: Tint,
    base_metalness: fraction(),
    specular_weight: fraction(),
    specular_color: Tint,
    specular_roughness: fraction(),
    specular_ior: number(1, 5),
    transmission_weight: fraction(),
    /** What white light becomes after transmission_depth. */
    transmission_color: Tint,
    /** Metres; 0: no absorption inside. */
    transmission_depth: number(0, 1e6, 'm'),
    /** Multiplies the light at every crossing of the surface. */
    transmission_tint: Tint,
    emission_color: Color,
    /** Radiance, W/(m2 sr), of a white emission colour. */
    emission_luminance: number(0, 1e9, 'W/(m2 sr)'),
    geometry_thin_walled: Type.Boolean(),
    maps: Type.Object(
      { base_color: Type.Optional(Id), emission_color: Type.Optional(Id), metalness_roughness: Type.Optional(Id) },
      closed,
    ),
  },
  closed,
);

export const Light = Type.Object(
  {
    name: Name,
    kind: Type.Union((['point', 'spot', 'sun', 'rectangle', 'sphere'] as const).map((k) => Type.Literal(k))),
    color: Color,
    /** point, spot: W/sr; sun: W/m2 across the beam; rectangle, sphere: W/(m2 sr). */
    strength: number(0, 1e9),
    /** Shines along -Z; a rectangle lies in XY, centred. */
    transform: Transform,
    width: Type.Optional(number(1e-6, 1e6, 'm')),
    height: Type.Optional(number(1e-6, 1e6, 'm')),
    radius: Type.Optional(number(1e-6, 1e6, 'm')),
    /** Sun: the full angle of its disc. */
    angle: Type.Optional(number(0, 180, 'deg')),
    innerCone: Type.Optional(number(0, 90, 'deg')),
    outerCone: Type.Optional(number(0.01, 90, 'deg')),
  },
  closed,
);

const PictureRef = Type.Object({ name: Name, blob: Blob, width: Type.Integer(), height: Type.Integer() }, closed);
export const Environment = Type.Object(
  {
    color: Color,
    strength: number(0, 1e9),
    /** About the vertical axis, degrees. */
    rotation: number(-360, 360, 'deg'),
    /** Latitude-longitude picture, up in the middle of the top edge, -Z in the middle. */
    picture: Type.Union([PictureRef, Type.Null()]),
  },
  closed,
);

export const ShotDocument = Type.Object(
  {
    format: Type.Literal('dusting-shot'),
    version: Type.Literal(1),
    name: Name,
    camera: Id,
    cameras: map(Camera),
    meshes: map(Type.Object({ name: Name, blob: Blob, triangles: Type.Integer() }, closed)),
    objects: map(Type.Object({ name: Name, mesh: Id, surface: Id, transform: Transform }, closed)),
    surfaces: map(Surface),
    textures: map(
      Type.Object(
        {
          name: Name,
          blob: Blob,
          width: Type.Integer(),
          height: Type.Integer(),
          encoding: Type.Union([Type.Literal('srgb'), Type.Literal('linear')]),
          wrapU: Type.Union([Type.Literal('repeat'), Type.Literal('mirror'), Type.Literal('clamp')]),
          wrapV: Type.Union([Type.Literal('repeat'), Type.Literal('mirror'), Type.Literal('clamp')]),
        },
        closed,
      ),
    ),
    lights: map(Light),
    environment: Environment,
    noise: Type.Object(
      {
        /** The greatest noise that the shot may keep. */
        limit: number(0.01, 50, 'L*'),
        /** The shadow check, in stops. */
        stops: number(0, 8, 'EV'),
      },
      closed,
    ),
    preview: RenderSettings,
    final: RenderSettings,
  },
  { ...closed, $id: 'https://dusting.invalid/shot-document.json', title: 'Dusting shot document' },
);
export type ShotDocument = Static<typeof ShotDocument>;
export type Surface = Static<typeof Surface>;
export type Light = Static<typeof Light>;
export type Camera = Static<typeof Camera>;
export type TextureRef = ShotDocument['textures'][string];

export const SURFACE_DEFAULTS: Surface = {
  name: 'grey',
  base_weight: 1,
  base_color: [0.5, 0.5, 0.5],
  base_metalness: 0,
  specular_weight: 1,
  specular_color: [1, 1, 1],
  specular_roughness: 0.5,
  specular_ior: 1.5,
  transmission_weight: 0,
  transmission_color: [1, 1, 1],
  transmission_depth: 0,
  transmission_tint: [1, 1, 1],
  emission_color: [1, 1, 1],
  emission_luminance: 0,
  geometry_thin_walled: false,
  maps: {},
};
