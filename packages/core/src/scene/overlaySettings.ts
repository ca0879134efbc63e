import { Ajv } from 'ajv';
import { Type } from '@sinclair/typebox';
import { InputError, PLAIN_SPACE, readTexture, SHUTTER_DEFAULTS, type ShutterInterval, type TextureSpace } from '../formats/index.ts'; // prettier-ignore
import { addBlob, type Blobs, type ImportFile } from './importFiles.ts';
import { mergeShot } from './mergeShot.ts';
import { describe } from './validate.ts';
import type { ShotDocument } from './shotDocument.ts';

type TextureOverlay = Partial<TextureSpace> & { file?: unknown; [key: string]: unknown };
interface Overlay {
  environment?: { color?: number[]; picture?: unknown; primaries?: unknown };
  textures?: Record<string, TextureOverlay>;
}

/** When the shutter is open, in seconds of the animations of the scene. */
const Motion = Type.Object(
  {
    time: Type.Number({ minimum: 0, maximum: 1e6 }),
    shutter: Type.Number({ minimum: 0, maximum: 1e3 }),
    keys: Type.Integer({ minimum: 2, maximum: 64 }),
  },
  { additionalProperties: false },
);

/** What stands for the number of a UDIM tile in the name of a file. */
const TILE_MARK = '<UDIM>';

/**
 * Lays a settings file over an imported shot. `environment.picture` and the `file` of each texture name pictures that
 * were brought in together with it; a name with <UDIM> in it stands for all tiles that are there.
 * @throws InputError naming the settings file, or the picture
 */
export async function overlaySettings(
  document: ShotDocument,
  { overlay }: SettingsFile,
  file: ImportFile,
  files: ImportFile[],
  blobs: Blobs,
): Promise<ShotDocument> {
  const { environment } = overlay;
  if (typeof environment?.picture === 'string') {
    const found = find(environment.picture, 'environment picture', file, files);
    const { width, height } = readTexture(found.bytes, found.name, { ...PLAIN_SPACE, encoding: 'srgb' });
    const blob = await addBlob(blobs, found.bytes, mediaTypeOf(found.name));
    const { primaries, ...rest } = environment;
    const picture = { name: found.name, blob, width, height, ...(primaries !== undefined && { primaries }) };
    overlay.environment = { color: [1, 1, 1], ...rest, picture };
  }
  for (const [id, { file: name, ...texture }] of Object.entries(overlay.textures ?? {})) {
    if (typeof name !== 'string') continue;
    const space = { ...PLAIN_SPACE, encoding: 'srgb' as const, ...texture };
    const keep = async (found: ImportFile) => {
      const { width, height } = readTexture(found.bytes, found.name, PLAIN_SPACE);
      return { blob: await addBlob(blobs, found.bytes, mediaTypeOf(found.name)), width, height };
    };
    const tiles = [];
    for (const { number, tile } of tilesOf(name, files)) tiles.push({ number, ...(await keep(tile)) });
    const first = tiles.length > 0 ? tiles[0] : await keep(find(name, 'texture', file, files));
    const { blob, width, height } = first;
    overlay.textures![id] = { ...space, name, blob, width, height, tiles };
  }
  return mergeShot(document, overlay);
}

/** What a settings file says of the scene to be imported, and what it lays over the imported shot. */
export interface SettingsFile {
  motion: ShutterInterval | null;
  overlay: Overlay;
}

/** @throws InputError */
export function readOverlay(file: ImportFile): SettingsFile {
  let whole: Overlay & { motion?: object };
  try {
    whole = JSON.parse(new TextDecoder().decode(file.bytes)) as Overlay;
  } catch (error) {
    throw new InputError(`the settings file is not valid JSON (${(error as Error).message})`, file.name);
  }
  if (typeof whole !== 'object' || whole === null || Array.isArray(whole))
    throw new InputError('the settings file has to be an object of settings', file.name);
  const { motion, ...overlay } = whole;
  if (motion === undefined) return { motion: null, overlay };
  const interval = { ...SHUTTER_DEFAULTS, ...motion };
  const check = new Ajv({ allErrors: true, verbose: true }).compile(Motion);
  if (!check(interval)) throw new InputError(`motion: ${describe(check.errors ?? [])}`, file.name);
  return { motion: interval, overlay };
}

function find(name: string, what: string, settings: ImportFile, files: ImportFile[]): ImportFile {
  const found = files.find((f) => f.name === name);
  if (found) return found;
  throw new InputError(`it names the ${what} ${name}, which is missing: bring in both together`, settings.name);
}

function tilesOf(name: string, files: ImportFile[]): { number: number; tile: ImportFile }[] {
  const at = name.indexOf(TILE_MARK);
  if (at < 0) return [];
  const [before, after] = [name.slice(0, at), name.slice(at + TILE_MARK.length)];
  return files
    .filter(
      (f) => f.name.startsWith(before) && f.name.endsWith(after) && f.name.length === before.length + 4 + after.length,
    ) // prettier-ignore
    .map((tile) => ({ number: Number(tile.name.slice(before.length, before.length + 4)), tile }))
    .filter(({ number }) => number >= 1001 && number < 1101)
    .sort((a, b) => a.number - b.number);
}

const MEDIA_TYPES: Record<string, string> = {
  exr: 'image/x-exr',
  hdr: 'image/vnd.radiance',
  png: 'image/png',
  tif: 'image/tiff',
  tiff: 'image/tiff',
};

/** Of a picture file, by its name. */
export function mediaTypeOf(name: string): string {
  return MEDIA_TYPES[name.slice(name.lastIndexOf('.') + 1).toLowerCase()] ?? 'image/jpeg';
}
