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
