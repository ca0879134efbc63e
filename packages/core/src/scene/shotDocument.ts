import { Type, type Static } from '@sinclair/typebox';
import { PRIMARIES, type Primaries } from '../color/index.ts';
import { RenderSettings } from './settings.ts';
import { DisplacementKind, RimRule, UvRule } from './shape.ts';

const closed = { additionalProperties: false };
const number = (minimum: number, maximum: number, unit = '') =>
  Type.Number({ minimum, maximum, ...(unit && { unit }) });
const fraction = () => number(0, 1);
const Color = Type.Array(number(0, 1e9), { minItems: 3, maxItems: 3 });
const Tint = Type.Array(fraction(), { minItems: 3, maxItems: 3 });
const Pair = Type.Array(number(-1e6, 1e6), { minItems: 2, maxItems: 2 });
const Transform = Type.Array(number(-1e12, 1e12), { minItems: 12, maxItems: 12 });
const Name = Type.String({ minLength: 1, maxLength: 200 });
const Blob = Type.String({ pattern: '^[0-9a-f]{64}$' });
const PrimariesName = Type.Union((Object.keys(PRIMARIES) as Primaries[]).map((name) => Type.Literal(name)));
const Id = Type.String({ pattern: '^[a-z0-9-]{1,80}$' });
const map = <T extends Parameters<typeof Type.Record>[1]>(value: T) => Type.Record(Id, value, closed);

export const Camera = Type.Object(
  {
    name: Name,
    kind: Type.Union([Type.Literal('perspective'), Type.Literal('orthographic')]),
    verticalAngle: number(0.01, 179, 'deg'),
    height: number(0, 1e9, 'm'),
    transform: Transform,
    /** Nothing nearer or farther along the view axis is seen by the camera; 0: no limit. */
    near: number(0, 1e9, 'm'),
    far: number(0, 1e9, 'm'),
    /** Of the lens; 0: everything is sharp. With a focal length f it is f / (2 N) for the f-number N. */
    apertureRadius: number(0, 1e3, 'm'),
    /** To the plane of focus, along the view axis. */
    focusDistance: number(1e-4, 1e9, 'm'),
    /** Straight edges of the aperture; below 3 it is round. */
    apertureBlades: Type.Integer({ minimum: 0, maximum: 64 }),
  },
  closed,
);

/**
 * Parameter names follow the open OpenPBR Surface specification; transmission_tint, specular_anisotropy_rotation,
 * normal_strength, bump_strength, opacity_cutoff, emission_reach, emission_bounces, medium_priority and those of occlusion and
 * displacement are ours.
 */
export const Surface = Type.Object(
  {
    name: Name,
    base_weight: fraction(),
    base_color: Tint,
    base_metalness: fraction(),
    base_diffuse_roughness: fraction(),
    specular_weight: fraction(),
    specular_color: Tint,
    specular_roughness: fraction(),
    specular_roughness_anisotropy: fraction(),
    /** Of the smooth direction, from the direction of growing U, counter-clockwise. */
    specular_anisotropy_rotation: number(-360, 360, 'deg'),
    specular_ior: number(1, 5),
    transmission_weight: fraction(),
    /** What white light becomes after transmission_depth. */
    transmission_color: Tint,
    /** Metres; 0: no absorption inside. */
    transmission_depth: number(0, 1e6, 'm'),
    /** Multiplies the light at every crossing of the surface. */
    transmission_tint: Tint,
    /** Share of the light that is scattered, not absorbed, over transmission_depth; with it the inside is a volume. */
    transmission_scatter: Tint,
    /** Mean cosine of the angle of scattering: above 0 forwards, below 0 back. */
    transmission_scatter_anisotropy: number(-0.95, 0.95),
    transmission_dispersion_scale: fraction(),
    transmission_dispersion_abbe_number: number(1, 200),
    /** Where closed surfaces overlap, the medium of the greatest priority counts; of equal ones that entered last. */
    medium_priority: Type.Integer({ minimum: 0, maximum: 100 }),
    coat_weight: fraction(),
    coat_color: Tint,
    coat_roughness: fraction(),
    coat_ior: number(1, 5),
    emission_color: Color,
    /** Radiance, W/(m2 sr), of a white emission colour. */
    emission_luminance: number(0, 1e9, 'W/(m2 sr)'),
    /** Nothing beyond this distance is lit; 0: no limit. The camera, smooth glass and mirrors show it from anywhere. */
    emission_reach: number(0, 1e9, 'm'),
    /** Lights only what a path meets after at most so many events. */
    emission_bounces: Type.Integer({ minimum: 0, maximum: 1024 }),
    geometry_thin_walled: Type.Boolean(),
    geometry_opacity: fraction(),
    /** 0: opacity is a share; above 0: what is less opaque than this is a hole. */
    opacity_cutoff: fraction(),
    /**
     * How much of the occlusion layer is multiplied into the base, and what is occluded turns to; of what the camera sees, in renders
     * that have the layer.
     */
    occlusion_strength: fraction(),
    occlusion_tint: Tint,
    normal_strength: number(0, 10),
    bump_strength: number(-1e3, 1e3, 'm'),
    displacement_kind: DisplacementKind,
    /** By how much a difference of 1 in the map moves the surface. */
    displacement_scale: number(-1e3, 1e3, 'm'),
    /** The value of the map that moves nothing. */
    displacement_neutral: number(-1e3, 1e3),
    /** What of a height is finer than the faces is shaded, where there is no bump map. */
    displacement_bump: Type.Boolean(),
    maps: Type.Object(
      {
        base_color: Type.Optional(Id),
        emission_color: Type.Optional(Id),
        metalness_roughness: Type.Optional(Id),
        normal: Type.Optional(Id),
        opacity: Type.Optional(Id),
        transmission: Type.Optional(Id),
        specular: Type.Optional(Id),
        specular_color: Type.Optional(Id),
        coat: Type.Optional(Id),
        coat_roughness: Type.Optional(Id),
        /** Height, in red: 1 stands bump_strength above 0. */
        bump: Type.Optional(Id),
        displacement: Type.Optional(Id),
      },
      closed,
    ),
  },
  closed,
);

export const Light = Type.Object(
  {
    name: Name,
    kind: Type.Union((['point', 'spot', 'sun', 'rectangle', 'disc', 'sphere'] as const).map((k) => Type.Literal(k))),
    color: Color,
    /** point, spot: W/sr; sun: W/m2 across the beam; rectangle, sphere: W/(m2 sr). */
    strength: number(0, 1e9),
    /** Doubles the strength for each stop. */
    exposure: number(-30, 30, 'EV'),
    /** Shines along -Z; a rectangle and a disc lie in XY, centred. */
    transform: Transform,
    width: Type.Optional(number(1e-6, 1e6, 'm')),
    height: Type.Optional(number(1e-6, 1e6, 'm')),
    radius: Type.Optional(number(1e-6, 1e6, 'm')),
    /** Sun: the full angle of its disc. */
    angle: Type.Optional(number(0, 180, 'deg')),
    innerCone: Type.Optional(number(0, 90, 'deg')),
    outerCone: Type.Optional(number(0.01, 90, 'deg')),
    seenByCamera: Type.Boolean(),
    castsShadows: Type.Boolean(),
    /** What is left of the light in its shadows. */
    shadowColor: Tint,
    /** What stands nearer than this to a lit place throws no shadow of this light on it. */
    shadowFrom: number(0, 1e9, 'm'),
    /** Nor does what stands farther than this; 0: no limit. */
    shadowTo: number(0, 1e9, 'm'),
    /** Nothing beyond this distance is lit; 0: no limit. */
    reach: number(0, 1e9, 'm'),
    /** Lights only what a path meets after at most so many events; 0 is what the camera sees. */
    bounces: Type.Integer({ minimum: 0, maximum: 1024 }),
    /** The objects that it lights; null: all of them. */
    linked: Type.Union([Type.Array(Id), Type.Null()]),
    /** Lights of one group are kept as a layer together. */
    group: Name,
  },
  closed,
);

export const SceneObject = Type.Object(
  {
    name: Name,
    mesh: Id,
    surface: Id,
    transform: Transform,
    /** Transforms at later times, evenly spaced up to the end of the shutter interval. */
    laterTransforms: Type.Array(Transform, { maxItems: 64 }),
    seenByCamera: Type.Boolean(),
    seenByReflections: Type.Boolean(),
    castsShadows: Type.Boolean(),
    receivesShadows: Type.Boolean(),
    /** The camera looks through it, at what lies behind, darkened by the shadows that fall on it; no other ray meets it. */
    onlyShadows: Type.Boolean(),
    /** Otherwise its back faces are not there. */
    doubleSided: Type.Boolean(),
    /** Fronts count as backs: for a mesh whose faces came in the wrong way round. */
    facesTurned: Type.Boolean(),
    /** Steps of Catmull-Clark subdivision; 0: the mesh as it came. */
    subdivisionLevels: Type.Integer({ minimum: 0, maximum: 8 }),
    /** The levels are as many as it takes for edges no longer than this, and no more than that; 0: all of them. */
    edgeLength: number(0, 1000, 'px'),
    uvRule: UvRule,
    rimRule: RimRule,
    /** Edges between faces that are bent by more stay sharp; 180: none. */
    creaseAngle: number(0, 180, 'deg'),
  },
  closed,
);

const PictureRef = Type.Object(
  { name: Name, blob: Blob, width: Type.Integer(), height: Type.Integer(), primaries: Type.Optional(PrimariesName) },
  closed,
);
export const Environment = Type.Object(
  {
    color: Color,
    strength: number(0, 1e9),
    /** About the vertical axis, degrees. */
    rotation: number(-360, 360, 'deg'),
    /** Texels of the picture are no brighter: luminance before color and strength; 0: as they are. */
    ceiling: number(0, 1e9),
    /** Latitude-longitude picture, up in the middle of the top edge, -Z in the middle. */
    picture: Type.Union([PictureRef, Type.Null()]),
    /** Without a picture: the colour overhead, at the horizon and below, blended evenly by height; null: one colour. */
    gradient: Type.Union([Type.Object({ zenith: Color, horizon: Color, ground: Color }, closed), Type.Null()]),
    seenByCamera: Type.Boolean(),
    /** What the camera sees instead where nothing is met; null: the environment. */
    background: Type.Union([Color, Type.Null()]),
    group: Name,
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
    objects: map(SceneObject),
    surfaces: map(Surface),
    textures: map(
      Type.Object(
        {
          name: Name,
          blob: Blob,
          width: Type.Integer(),
          height: Type.Integer(),
          /** UDIM tiles (1001 is U and V from 0 to 1, V upwards); where there are any, they stand for the blob. */
          tiles: Type.Array(
            Type.Object({ number: Type.Integer({ minimum: 1001, maximum: 1100 }), blob: Blob, width: Type.Integer(), height: Type.Integer() }, closed), // prettier-ignore
          ),
          encoding: Type.Union([Type.Literal('srgb'), Type.Literal('linear')]),
          primaries: PrimariesName,
          wrapU: Type.Union([Type.Literal('repeat'), Type.Literal('mirror'), Type.Literal('clamp')]),
          wrapV: Type.Union([Type.Literal('repeat'), Type.Literal('mirror'), Type.Literal('clamp')]),
          filter: Type.Union([Type.Literal('nearest'), Type.Literal('bilinear'), Type.Literal('mip')]),
          alpha: Type.Union([Type.Literal('straight'), Type.Literal('premultiplied')]),
          uvSet: Type.Integer({ minimum: 0, maximum: 1 }),
          /** Texels by which what lies under UVs is grown outwards when the picture is read; 0: as it was painted. */
          padding: Type.Integer({ minimum: 0, maximum: 64, unit: 'px' }),
          /** Both sides of UV seams are drawn towards their mean within so many texels, when the picture is read. */
          blend: Type.Integer({ minimum: 0, maximum: 64, unit: 'px' }),
          offset: Pair,
          scale: Pair,
          rotation: number(-360, 360, 'deg'),
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
export type SceneObject = Static<typeof SceneObject>;
export type Environment = Static<typeof Environment>;
export type TextureRef = ShotDocument['textures'][string];

/** Id of the surface of objects that came without one. */
export const NO_SURFACE = 'without-material';

export const SURFACE_DEFAULTS: Surface = {
  name: 'grey',
  base_weight: 1,
  base_color: [0.5, 0.5, 0.5],
  base_metalness: 0,
  base_diffuse_roughness: 0,
  specular_weight: 1,
  specular_color: [1, 1, 1],
  specular_roughness: 0.5,
  specular_roughness_anisotropy: 0,
  specular_anisotropy_rotation: 0,
  specular_ior: 1.5,
  transmission_weight: 0,
  transmission_color: [1, 1, 1],
  transmission_depth: 0,
  transmission_tint: [1, 1, 1],
  transmission_scatter: [0, 0, 0],
  transmission_scatter_anisotropy: 0,
  transmission_dispersion_scale: 0,
  transmission_dispersion_abbe_number: 20,
  medium_priority: 0,
  coat_weight: 0,
  coat_color: [1, 1, 1],
  coat_roughness: 0,
  coat_ior: 1.6,
  emission_color: [1, 1, 1],
  emission_luminance: 0,
  occlusion_strength: 0,
  occlusion_tint: [0, 0, 0],
  emission_reach: 0,
  emission_bounces: 1024,
  geometry_thin_walled: false,
  geometry_opacity: 1,
  opacity_cutoff: 0,
  normal_strength: 1,
  bump_strength: 0.001,
  displacement_kind: 'height',
  displacement_scale: 0.01,
  displacement_neutral: 0.5,
  displacement_bump: false,
  maps: {},
};

/** What is laid under each part of a document that does not say otherwise. */
export const CAMERA_DEFAULTS = {
  kind: 'perspective',
  verticalAngle: 40,
  height: 1,
  near: 0,
  far: 0,
  apertureRadius: 0,
  focusDistance: 5,
  apertureBlades: 0,
} as const;
export const OBJECT_DEFAULTS = {
  laterTransforms: [],
  seenByCamera: true,
  seenByReflections: true,
  castsShadows: true,
  receivesShadows: true,
  onlyShadows: false,
  doubleSided: true,
  facesTurned: false,
  subdivisionLevels: 0,
  edgeLength: 0,
  uvRule: 'cornersPlus1' as const,
  rimRule: 'edgeAndCorner' as const,
  creaseAngle: 180,
};
export const LIGHT_DEFAULTS = {
  color: [1, 1, 1],
  strength: 1,
  exposure: 0,
  transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0],
  seenByCamera: true,
  castsShadows: true,
  shadowColor: [0, 0, 0],
  shadowFrom: 0,
  shadowTo: 0,
  reach: 0,
  bounces: 1024,
  linked: null,
  group: 'lights',
};
export const TEXTURE_DEFAULTS = {
  tiles: [],
  primaries: 'rec709',
  wrapU: 'repeat',
  wrapV: 'repeat',
  filter: 'mip',
  alpha: 'straight',
  uvSet: 0,
  padding: 0,
  blend: 0,
  offset: [0, 0],
  scale: [1, 1],
  rotation: 0,
} satisfies Partial<TextureRef>;
export const ENVIRONMENT_DEFAULTS = {
  color: [0, 0, 0],
  strength: 1,
  rotation: 0,
  ceiling: 0,
  picture: null,
  gradient: null,
  seenByCamera: true,
  background: null,
  group: 'environment',
};
