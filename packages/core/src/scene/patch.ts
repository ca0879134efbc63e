import jsonPatch, { type Operation } from 'fast-json-patch';
import { completeShot } from './complete.ts';
import { InputError } from '../formats/index.ts';
import type { ShotDocument } from './shotDocument.ts';
import { validateShot } from './validate.ts';

export type Patch = Operation[];

/** Applies an RFC 6902 patch and checks the result; the given document stays as it is. @throws InputError */
export function patchShot(document: ShotDocument, patch: Patch, place = 'the change slip'): ShotDocument {
  return validateShot(applyPatch(document, patch, place), place);
}

/** The same for a patch that was checked before, as that of a proof was. @throws InputError where a path is missing */
export function applyPatch(document: ShotDocument, patch: Patch, place = 'the patch'): ShotDocument {
  try {
    const complete = completeShot(structuredClone(document)) as ShotDocument;
    return jsonPatch.applyPatch(complete, patch, true, true).newDocument;
  } catch (error) {
    throw new InputError(`the change does not fit this shot (${(error as Error).message.split('\n')[0]})`, place);
  }
}

/** The patch that leads from one document to the other. */
export function differenceOf(from: object, to: object): Patch {
  return jsonPatch.compare(from, to);
}

export interface Change {
  /** Dotted, such as "final.depth.total". */
  path: string;
  old: unknown;
  new: unknown;
}

/** What differs between two documents (or parts of them), leaf by leaf. */
export function listChanges(from: object, to: object): Change[] {
  return differenceOf(from, to).map((operation) => {
    const keys = pathKeys(operation.path);
    return { path: keys.join('.'), old: valueAt(from, keys), new: valueAt(to, keys) };
  });
}

/** The keys of a JSON Pointer (RFC 6901). */
export function pathKeys(path: string): string[] {
  const keys = path.slice(1).split('/');
  return keys.map((key) => key.replaceAll('~1', '/').replaceAll('~0', '~'));
}

/** The value under a path, or undefined. */
export function valueAt(document: unknown, keys: string[]): unknown {
  return keys.reduce<unknown>((at, key) => (at as Record<string, unknown> | null | undefined)?.[key], document);
}

/** Whether a change is one of the scene, and not of the settings or the noise limit. */
export const isOfScene = ({ path }: Pick<Operation, 'path'>) => !/^\/(preview|final|noise)\//.test(path);

/** Sets a value by its dotted path; the path must exist. @throws InputError */
export function setPath<T extends object>(document: T, path: string, value: unknown): T {
  const copy = structuredClone(document);
  const keys = path.split('.');
  const last = keys.pop()!;
  let at = copy as Record<string, unknown>;
  for (const key of keys) {
    const next = Object.hasOwn(at, key) ? at[key] : undefined;
    if (typeof next !== 'object' || next === null) throw new InputError(`there is no setting "${path}"`);
    at = next as Record<string, unknown>;
  }
  if (!Object.hasOwn(at, last)) throw new InputError(`there is no setting "${path}"`);
  at[last] = value;
  return copy;
}
