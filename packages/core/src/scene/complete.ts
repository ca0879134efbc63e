import { mergeShot } from './mergeShot.ts';
import { FINAL_DEFAULTS, PREVIEW_DEFAULTS, type RenderSettings } from './settings.ts';
import {
  CAMERA_DEFAULTS,
  ENVIRONMENT_DEFAULTS,
  LIGHT_DEFAULTS,
  OBJECT_DEFAULTS,
  SURFACE_DEFAULTS,
  TEXTURE_DEFAULTS,
} from './shotDocument.ts';

const PARTS = {
  cameras: CAMERA_DEFAULTS,
  objects: OBJECT_DEFAULTS,
  surfaces: SURFACE_DEFAULTS,
  lights: LIGHT_DEFAULTS,
  textures: TEXTURE_DEFAULTS,
};

/**
 * A document with the defaults laid under it: for settings files that name only what matters to them, and for
 * documents from before a setting existed. Says nothing about whether the document is valid.
 */
export function completeShot(document: unknown): unknown {
  if (typeof document !== 'object' || document === null || Array.isArray(document)) return document;
  const whole: Record<string, unknown> = { ...document };
  for (const [part, defaults] of Object.entries(PARTS)) {
    const group = whole[part];
    if (typeof group !== 'object' || group === null || Array.isArray(group)) continue;
    whole[part] = Object.fromEntries(Object.entries(group).map(([id, value]) => [id, under(defaults, value, id)]));
  }
  whole.environment = under(ENVIRONMENT_DEFAULTS, whole.environment);
  whole.preview = under(PREVIEW_DEFAULTS, whole.preview);
  whole.final = under(FINAL_DEFAULTS, whole.final);
  return whole;
}

/** Settings of an earlier proof, with what has come since then at its default. */
export function completeSettings(settings: RenderSettings): RenderSettings {
  return under(FINAL_DEFAULTS, settings) as RenderSettings;
}

function under(defaults: object, value: unknown, name?: string): unknown {
  if (value === undefined) return structuredClone(defaults);
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return value;
  const named = name === undefined || 'name' in value ? {} : { name };
  return mergeShot({ ...structuredClone(defaults), ...named }, value);
}
