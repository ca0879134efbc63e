import { closeSync, mkdirSync, openSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { InputError, isExr, PLAIN_SPACE, readExr, readTexture, writeExrParts } from '@dusting/core/formats';
import type { PackedPicture, Picture } from '@dusting/core/image';
import type { ImportFile } from '@dusting/core/scene';
import { deflateApart } from '@dusting/threads';
import { UsageError } from './usage.ts';

/**
 * An OpenEXR file from its pieces.
 * @throws UsageError where its name is of another form; InputError where it cannot be written
 */
export function writeExrFile(path: string, pieces: Uint8Array[]): void {
  if (!/\.exr$/i.test(path)) throw new UsageError(`an OpenEXR file is written: --out ${path} must end in .exr`);
  try {
    const file = openSync(path, 'w');
    try {
      for (const piece of pieces) writeFileSync(file, piece);
    } finally {
      closeSync(file);
    }
  } catch (error) {
    throw new InputError(`it cannot be written (${(error as NodeJS.ErrnoException).code})`, path);
  }
}

/** A picture as OpenEXR. @throws as writeExrFile() */
export async function writePicture(path: string, picture: Picture | PackedPicture): Promise<void> {
  writeExrFile(path, await writeExrParts(picture, { deflate: deflateApart }));
}

/** @throws InputError where it cannot be written */
export function writeData(path: string, bytes: Uint8Array): void {
  try {
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(path, bytes);
  } catch (error) {
    throw new InputError(`it cannot be written (${(error as NodeJS.ErrnoException).code})`, path);
  }
}

/** @throws InputError */
export function readInput(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw new InputError(code === 'ENOENT' ? 'there is no such file' : `it cannot be read (${code})`, path);
  }
}

/** A picture of any form that is read: OpenEXR with all its layers, others as the linear values that they stand for. @throws InputError */
export function readPicture(bytes: Uint8Array, path: string): Picture {
  if (isExr(bytes)) return readExr(bytes, path);
  const { width, height, texels } = readTexture(bytes, path, { ...PLAIN_SPACE, encoding: 'srgb' });
  const window = { x: 0, y: 0, width, height };
  const channels = [...'RGBA'].map((name, k) => ({
    name,
    type: 'float' as const,
    data: Float32Array.from({ length: width * height }, (_, i) => texels[i * 4 + k]),
  }));
  return { width, height, dataWindow: window, displayWindow: window, channels, metadata: {} };
}

/** The scene with the files beside it that it, or its settings file, names. Missing ones are left for the import to report. */
export function readSceneFiles(scene: string, settings?: string): ImportFile[] {
  const bytes = readInput(scene);
  const files: ImportFile[] = [{ name: basename(scene), bytes }];
  const beside = (folder: string, name: unknown) => {
    if (typeof name !== 'string' || name.startsWith('data:') || files.some((f) => f.name === name)) return;
    try {
      files.push({ name, bytes: readFileSync(join(folder, decodeURIComponent(name))) });
    } catch {
      // reported with its place by the import
    }
  };
  if (/\.gltf$/i.test(scene)) {
    const json = tryJson(bytes);
    for (const list of [json?.buffers, json?.images])
      if (Array.isArray(list)) for (const entry of list) beside(dirname(scene), entry?.uri);
  }
  if (/\.obj$/i.test(scene))
    for (const library of namesAfter(bytes, 'mtllib')) {
      beside(dirname(scene), library);
      const found = files.find((f) => f.name === library);
      if (found) for (const map of namesAfter(found.bytes, 'map_\\w+|bump|norm')) beside(dirname(scene), map);
    }
  if (settings !== undefined) {
    const text = readInput(settings);
    files.push({ name: basename(settings).replace(/(\.json)?$/i, '.json'), bytes: text });
    const overlay = tryJson(text);
    beside(dirname(settings), overlay?.environment?.picture);
    for (const texture of Object.values(overlay?.textures ?? {}) as { file?: unknown }[])
      for (const name of filesOf(dirname(settings), texture?.file)) beside(dirname(settings), name);
  }
  return files;
}

/** The name itself, or all names that fit it with a number in the place of <UDIM>. */
function filesOf(folder: string, name: unknown): unknown[] {
  if (typeof name !== 'string' || !name.includes('<UDIM>')) return [name];
  const [before, after] = name.split('<UDIM>');
  return readdirSync(folder).filter((f) => f.startsWith(before) && f.endsWith(after));
}

/** The last words of the lines that begin with a keyword. */
function namesAfter(bytes: Uint8Array, keyword: string): string[] {
  const lines = new TextDecoder().decode(bytes).matchAll(new RegExp(`^\\s*(?:${keyword})\\s.*?(\\S+)\\s*$`, 'gim'));
  return [...lines].map((found) => found[1]);
}

function tryJson(bytes: Uint8Array) {
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    return null;
  }
}
