import { FINAL_DEFAULTS, PREVIEW_DEFAULTS } from './settings.ts';
import { CAMERA_DEFAULTS, ENVIRONMENT_DEFAULTS, type ShotDocument } from './shotDocument.ts';

/** The noise that a shot may keep: L* at so many stops of the shadow check. */
export const NOISE_DEFAULTS: ShotDocument['noise'] = { limit: 1, stops: 1 };

/** A document with nothing in it yet. */
export function blankShot(name: string): ShotDocument {
  return {
    format: 'dusting-shot',
    version: 1,
    name,
    camera: 'none',
    cameras: {},
    meshes: {},
    objects: {},
    surfaces: {},
    textures: {},
    lights: {},
    environment: structuredClone(ENVIRONMENT_DEFAULTS),
    noise: { ...NOISE_DEFAULTS },
    preview: structuredClone(PREVIEW_DEFAULTS),
    final: structuredClone(FINAL_DEFAULTS),
  };
}

/** The document of a shot that came as frames: a camera that stands for the unknown one, and the size of the frame. */
export function frameShot(name: string, { width, height }: { width: number; height: number }): ShotDocument {
  const shot = blankShot(name);
  const transform = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];
  return {
    ...shot,
    camera: 'unknown',
    cameras: { unknown: { ...CAMERA_DEFAULTS, name: 'unknown', transform } },
    preview: { ...shot.preview, width, height },
    final: { ...shot.final, width, height },
  };
}
