// Which parameters of a content are edited, in which order and under which heading.
import type { ContentKind } from '@dusting/core/scene';

export interface ParameterGroup {
  title: string;
  keys: string[];
  /** Open where one of these is above 0, or there; without it always. */
  openBy?: string[];
}

export const PARAMETER_GROUPS: Record<ContentKind, ParameterGroup[]> = {
  object: [
    {
      title: 'Seen and shadowed',
      keys: [
        'seenByCamera',
        'seenByReflections',
        'castsShadows',
        'receivesShadows',
        'onlyShadows',
        'doubleSided',
        'facesTurned',
      ],
    },
    {
      title: 'Subdivision',
      openBy: ['subdivisionLevels'],
      keys: ['subdivisionLevels', 'edgeLength', 'uvRule', 'rimRule', 'creaseAngle'],
    },
  ],
  surface: [
    { title: 'Base', keys: ['base_weight', 'base_color', 'base_metalness', 'base_diffuse_roughness'] },
    {
      title: 'Specular',
      keys: [
        'specular_weight',
        'specular_color',
        'specular_roughness',
        'specular_ior',
        'specular_roughness_anisotropy',
        'specular_anisotropy_rotation',
      ],
    },
    {
      title: 'Transmission',
      openBy: ['transmission_weight'],
      keys: [
        'transmission_weight',
        'transmission_color',
        'transmission_depth',
        'transmission_tint',
        'transmission_scatter',
        'transmission_scatter_anisotropy',
        'transmission_dispersion_scale',
        'transmission_dispersion_abbe_number',
        'medium_priority',
      ],
    },
    { title: 'Coat', openBy: ['coat_weight'], keys: ['coat_weight', 'coat_color', 'coat_roughness', 'coat_ior'] },
    {
      title: 'Emission',
      openBy: ['emission_luminance'],
      keys: ['emission_color', 'emission_luminance', 'emission_reach', 'emission_bounces'],
    },
    {
      title: 'Shape and holes',
      openBy: ['opacity_cutoff'],
      keys: ['geometry_opacity', 'opacity_cutoff', 'geometry_thin_walled', 'normal_strength', 'bump_strength'],
    },
    {
      title: 'Occlusion in the base',
      openBy: ['occlusion_strength'],
      keys: ['occlusion_strength', 'occlusion_tint'],
    },
    {
      title: 'Displacement',
      openBy: ['maps.displacement'],
      keys: ['displacement_kind', 'displacement_scale', 'displacement_neutral', 'displacement_bump'],
    },
  ],
  light: [
    { title: 'Light', keys: ['color', 'strength', 'exposure'] },
    { title: 'Shape', keys: ['width', 'height', 'radius', 'angle', 'innerCone', 'outerCone'] },
    {
      title: 'Shadows and reach',
      keys: ['castsShadows', 'shadowColor', 'shadowFrom', 'shadowTo', 'reach', 'bounces', 'seenByCamera'],
    },
  ],
  texture: [
    {
      title: 'How it is read',
      keys: ['encoding', 'primaries', 'alpha', 'filter', 'wrapU', 'wrapV', 'uvSet', 'padding', 'blend', 'rotation'],
    },
  ],
  camera: [
    { title: 'Camera', keys: ['verticalAngle', 'height', 'near', 'far'] },
    {
      title: 'Depth of field',
      openBy: ['apertureRadius'],
      keys: ['apertureRadius', 'focusDistance', 'apertureBlades'],
    },
  ],
  environment: [
    { title: 'Light of the environment', keys: ['color', 'strength', 'rotation', 'ceiling', 'seenByCamera'] },
  ],
};

/** Titles of the slots for textures of a surface, in the order of its parameters. */
export const SLOTS = [
  'base_color',
  'metalness_roughness',
  'specular',
  'specular_color',
  'transmission',
  'coat',
  'coat_roughness',
  'emission_color',
  'normal',
  'bump',
  'displacement',
  'opacity',
] as const;
export type Slot = (typeof SLOTS)[number];
/** Channels that a slot reads, where not all of them. */
export const SLOT_CHANNELS: Partial<Record<Slot, string>> = {
  metalness_roughness: 'G roughness, B metalness',
  specular: 'A',
  transmission: 'R',
  coat: 'R',
  coat_roughness: 'G',
  bump: 'R, height',
  displacement: 'R, height, or RGB',
  opacity: 'A',
};
