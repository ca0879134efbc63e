// Wording of the contents.
import type { ContentKind } from '@dusting/core/scene';

export const KIND_NAMES: Record<ContentKind, string> = {
  object: 'objects',
  surface: 'surfaces',
  light: 'lights',
  texture: 'textures',
  camera: 'cameras',
  environment: 'environment',
};

/** What a parameter does to light in glass, where its name alone misleads. */
export const GLASS_ROLES: Record<string, string | undefined> = {
  base_color: 'surface colour: seen where it does not transmit',
  transmission_weight: 'share of the light that enters',
  transmission_color: 'absorption: what is left after the distance',
  transmission_depth: 'absorption distance, 0 is none',
  transmission_tint: 'filter: at each interface',
  specular_ior: 'bends and reflects, colours nothing',
  geometry_opacity: 'coverage: removes the glass, tints nothing',
};
