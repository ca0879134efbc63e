// The settings of a render as fields to be filled in, made from their schema.
import { RenderSettings } from '@dusting/core/scene';

export type SettingField = { path: string; title: string; unit?: string } & (
  | { kind: 'number'; minimum: number; maximum: number; whole: boolean }
  | { kind: 'choice'; options: { value: string | boolean; label: string }[] }
);
type Schema = { title?: string; unit?: string; minimum?: number; maximum?: number; type?: string; anyOf?: unknown[]; properties?: Record<string, Schema> }; // prettier-ignore

function field(path: string, schema: Schema): SettingField {
  const common = { path, title: schema.title ?? path, unit: schema.unit };
  if (schema.anyOf) {
    const values = (schema.anyOf as { const: string }[]).map((option) => option.const);
    return { ...common, kind: 'choice', options: values.map((value) => ({ value, label: value })) };
  }
  if (schema.type === 'boolean')
    return { ...common, kind: 'choice', options: [true, false].map((value) => ({ value, label: value ? 'yes' : 'no' })) }; // prettier-ignore
  const { minimum = 0, maximum = 1e6 } = schema;
  return { ...common, kind: 'number', minimum, maximum, whole: schema.type === 'integer' };
}

/** All of them, by their path in the settings, such as "depth/total". */
export const SETTING_FIELDS: SettingField[] = Object.entries(
  RenderSettings.properties as Record<string, Schema>,
).flatMap(([key, schema]) =>
  schema.properties
    ? Object.entries(schema.properties).map(([under, own]) => field(`${key}/${under}`, own))
    : [field(key, schema)],
);

/** Those of a group, such as "depth", or of one path alone, in their order. */
export const settingFields = (...paths: string[]): SettingField[] =>
  paths.flatMap((path) => SETTING_FIELDS.filter((f) => f.path === path || f.path.startsWith(`${path}/`)));
