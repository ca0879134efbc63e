// Values of a sweep as a line of text, and back.
import { usualValues, type SweepValue } from '@dusting/core/plan';
import type { SettingField } from '../bench/settingFields.ts';

/** What is proposed: values about the present one, or everything that can be chosen. */
export function proposeValues(field: SettingField, present: unknown): string {
  if (field.kind === 'choice') return field.options.map((o) => o.label).join(', ');
  return usualValues(present as number, field.whole).join(', ');
}

/** @throws Error in words that are shown */
export function readValues(field: SettingField, text: string): SweepValue[] {
  const words = text.split(/[\s,;]+/).filter((word) => word !== '');
  if (field.kind === 'choice')
    return words.map((word) => {
      const found = field.options.find((o) => o.label === word);
      if (!found) throw new Error(`“${word}” is none of ${field.options.map((o) => o.label).join(', ')}`);
      return found.value;
    });
  const values = words.map(Number);
  if (values.some((v) => !Number.isFinite(v))) throw new Error(`“${text}” is not a list of numbers`);
  return values;
}
