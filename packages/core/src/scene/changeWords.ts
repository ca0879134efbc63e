// What differs between two shot documents, in words: "clear honey: transmission depth 0.035 to 0.02 m".
import { placementOf } from '../math/index.ts';
import { differenceOf, pathKeys, valueAt } from './patch.ts';
import { parameterAt } from './parameters.ts';
import type { ShotDocument } from './shotDocument.ts';

const GROUPS = ['objects', 'surfaces', 'lights', 'textures', 'cameras', 'meshes'] as const;
const SINGLE: Record<(typeof GROUPS)[number], string> = {
  objects: 'object',
  surfaces: 'surface',
  lights: 'light',
  textures: 'texture',
  cameras: 'camera',
  meshes: 'mesh',
};

/** One line for each value that differs, in the order of the documents. */
export function changeWords(before: ShotDocument, after: ShotDocument): string[] {
  const lines = new Map<string, string>();
  for (const { path } of differenceOf(before, after)) {
    const keys = pathKeys(path);
    const whole = valueKeys(keys, before, after);
    const name = whole.join('/');
    if (!lines.has(name)) lines.set(name, lineOf(whole, before, after));
  }
  return [...lines.values()];
}

/** What has changed in what is rendered with these settings: the scene, and the settings themselves. */
export function changesSeen(before: ShotDocument, after: ShotDocument, use: 'preview' | 'final'): string[] {
  const hidden = use === 'final' ? 'preview' : 'final';
  const part = (document: ShotDocument) => ({ ...document, [hidden]: before[hidden], noise: before.noise, name: before.name }); // prettier-ignore
  return changeWords(part(before), part(after));
}

/** A list is one value, and so is what has come or gone whole. */
function valueKeys(keys: string[], before: object, after: object): string[] {
  for (let n = 1; n < keys.length; n++) {
    const values = [before, after].map((document) => valueAt(document, keys.slice(0, n)));
    if (values.some((value) => typeof value !== 'object' || value === null || Array.isArray(value)))
      return keys.slice(0, n);
  }
  return keys;
}

/** Whose value it is, and which: "clear honey: transmission depth". */
export function placeWords(keys: string[], document: ShotDocument): string {
  const [group, id] = keys;
  const title = keys.at(-1) === 'blob' ? 'contents of the file' : (parameterAt(keys)?.title ?? keys.at(-1)!);
  if (!isPart(group)) return keys.length === 1 ? title : `${group}: ${title}`;
  const name = (valueAt(document, [group, id]) as { name?: string } | undefined)?.name ?? id;
  return keys.length === 2 ? `${SINGLE[group as keyof typeof SINGLE]} ${name}` : `${name}: ${keys[2] === 'maps' && keys.length === 4 ? `map of ${title}` : title}`; // prettier-ignore
}

function lineOf(keys: string[], before: ShotDocument, after: ShotDocument): string {
  const [old, now] = [valueAt(before, keys), valueAt(after, keys)];
  const place = placeWords(keys, now === undefined || keys.length > 2 ? before : after);
  if (keys.length === 2 && isPart(keys[0])) {
    if (old === undefined) return `${place} added`;
    if (now === undefined) return `${place} removed`;
  }
  const unit = parameterAt(keys, after)?.unit ?? '';
  return `${place} ${valueWords(keys, old, before)} to ${valueWords(keys, now, after)}${unit && ` ${unit}`}`;
}

const isPart = (group: string) => GROUPS.some((g) => g === group);

/** A value as people write it. References are told by the name of what they refer to. */
export function valueWords(keys: string[], value: unknown, document: ShotDocument): string {
  if (value === undefined || value === null) return keys.at(-1) === 'linked' ? 'all' : 'none';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number') return String(Number(value.toPrecision(4)));
  const named = (group: 'objects' | 'surfaces' | 'textures' | 'meshes' | 'cameras', id: string) =>
    (document[group][id] as { name?: string } | undefined)?.name ?? id;
  if (keys.at(-1) === 'transform') return isSun(keys, document) ? aimOf(value as number[]) : placeOf(value as number[]);
  if (Array.isArray(value)) {
    if (keys.at(-1) === 'linked') return value.length > 3 ? `${value.length} objects` : value.map((id) => named('objects', id)).join(', '); // prettier-ignore
    return value.map((n) => (typeof n === 'number' ? Number(n.toPrecision(3)) : n)).join(' ');
  }
  if (typeof value === 'object') {
    const { name } = value as { name?: string };
    const inner = Object.entries(value).map(([key, part]) => `${key} ${valueWords([...keys, key], part, document)}`);
    return name ?? inner.join(', ');
  }
  const text = String(value);
  if (keys[0] === 'surfaces' && keys[2] === 'maps') return named('textures', text);
  if (keys[0] === 'objects' && keys[2] === 'surface') return named('surfaces', text);
  if (keys[0] === 'objects' && keys[2] === 'mesh') return named('meshes', text);
  if (keys.length === 1 && keys[0] === 'camera') return named('cameras', text);
  // the beginning of its hash stands for a file
  return keys.at(-1) === 'blob' ? `#${text.slice(0, 6)}` : text;
}

/** Where a sun stands is no matter. */
const isSun = ([group, id]: string[], { lights }: ShotDocument) => group === 'lights' && lights[id]?.kind === 'sun';

/** Of a transform, where it turns to, as its fields have it. */
function aimOf(transform: number[]): string {
  const { heading, pitch } = placementOf(transform);
  return `${Math.round(heading)}° / ${Math.round(pitch)}°`;
}

/** Of a transform, where it puts the origin. */
function placeOf(transform: number[]): string {
  return `(${[3, 7, 11].map((k) => Number(transform[k].toPrecision(3))).join(', ')})`;
}
