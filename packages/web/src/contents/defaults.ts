// What stands in a document where nothing else was said.
import {
  CAMERA_DEFAULTS,
  ENVIRONMENT_DEFAULTS,
  LIGHT_DEFAULTS,
  OBJECT_DEFAULTS,
  SURFACE_DEFAULTS,
  TEXTURE_DEFAULTS,
} from '@dusting/core/scene';

const GROUPS: Record<string, object> = {
  objects: OBJECT_DEFAULTS,
  surfaces: SURFACE_DEFAULTS,
  lights: LIGHT_DEFAULTS,
  textures: TEXTURE_DEFAULTS,
  cameras: CAMERA_DEFAULTS,
  environment: ENVIRONMENT_DEFAULTS,
};

/** Default of a value of a content, or undefined where there is none. */
export function defaultOf(keys: string[]): unknown {
  return (GROUPS[keys[0]] as Record<string, unknown> | undefined)?.[keys.at(-1)!];
}
