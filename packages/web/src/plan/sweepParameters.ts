// What a sweep can run over: the settings of a render, and the parameters of what the scene is made of.
import { canSweep } from '@dusting/core/plan';
import {
  contentKeys,
  parameterAt,
  placeWords,
  sceneContents,
  valueAt,
  type ContentKind,
  type SettingsUse,
  type ShotDocument,
} from '@dusting/core/scene';
import { SETTING_FIELDS } from '../slip/settingFields.ts';
import { KIND_NAMES } from '../contents/words.ts';
import { proposeValues } from './sweepValues.ts';

/** The settings of whatever use is on, as a part. */
export const SETTINGS_PART = 'settings';
/** An axis as it is being set up: a part and a path below it, "surfaces/honey" and "specular_roughness". */
export interface AxisDraft {
  part: string;
  under: string;
  /** Its values, as typed or proposed. */
  text: string;
}

export const sweptKeys = ({ part, under }: Pick<AxisDraft, 'part' | 'under'>, use: SettingsUse): string[] => [
  ...(part === SETTINGS_PART ? [use] : part.split('/')),
  ...under.split('/'),
];

const SWEPT_KINDS: ContentKind[] = ['surface', 'light', 'object', 'environment', 'camera'];

/** Everything with parameters to sweep over, in groups by its kind. */
export function sweptParts(document: ShotDocument): { label: string; items: { value: string; label: string }[] }[] {
  const contents = sceneContents(document);
  const groups = SWEPT_KINDS.map((kind) => ({
    label: KIND_NAMES[kind],
    items: contents.filter((c) => c.kind === kind).map((c) => ({ value: contentKeys(c).join('/'), label: c.name })),
  }));
  return [{ label: 'render', items: [{ value: SETTINGS_PART, label: 'settings' }] }, ...groups].filter(
    ({ items }) => items.length > 0,
  );
}

/** The parameters of a part that have a value now and can be swept over. */
export function sweptUnder(part: string, document: ShotDocument, use: SettingsUse): { value: string; label: string }[] {
  const names =
    part === SETTINGS_PART
      ? SETTING_FIELDS.map(({ path }) => path)
      : Object.keys((valueAt(document, part.split('/')) as object | undefined) ?? {});
  return names.flatMap((under) => {
    const keys = sweptKeys({ part, under }, use);
    const hasValue = (valueAt(document, keys) ?? null) !== null;
    return hasValue && canSweep(keys, use) ? [{ value: under, label: parameterAt(keys)!.title }] : [];
  });
}

/** What an axis is called: "pixel samples", or with whose parameter it is: "clear honey: transmission depth". */
export const axisWords = (keys: string[], document: ShotDocument): string =>
  keys[0] === 'preview' || keys[0] === 'final' ? parameterAt(keys)!.title : placeWords(keys, document);

/** An axis with the values that are proposed for it. @param under the first parameter of the part, where none is given */
export function draftAxis(document: ShotDocument, use: SettingsUse, part: string, under?: string): AxisDraft {
  const chosen = under ?? sweptUnder(part, document, use)[0]?.value ?? '';
  const keys = sweptKeys({ part, under: chosen }, use);
  const parameter = parameterAt(keys, document);
  return { part, under: chosen, text: parameter ? proposeValues(parameter, valueAt(document, keys)) : '' };
}
