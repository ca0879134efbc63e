import type { JSONDocument } from '@gltf-transform/core';
import { InputError } from './inputError.ts';
import { checkSceneLimits, elementBytes, type SceneLimits } from './sceneLimits.ts';

type GltfJson = JSONDocument['json'];

/**
 * The JSON of a GLB or .gltf file, with the container checked: marks, lengths and the ranges of buffer views and
 * accessors, so that a truncated file is refused with its reason before anything is read from it.
 */
export function readGltfJson(bytes: Uint8Array, name: string, limits: SceneLimits): GltfJson {
  const isBinary =
    bytes.length >= 4 && bytes[0] === 0x67 && bytes[1] === 0x6c && bytes[2] === 0x54 && bytes[3] === 0x46;
  let text: Uint8Array = bytes;
  let binaryLength: number | null = null;
  if (isBinary) {
    const data = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    if (bytes.length < 20) throw new InputError(`the file is cut off after ${bytes.length} bytes`, name);
    const version = data.getUint32(4, true);
    if (version !== 2) throw new InputError(`version ${version} of glTF is not read: export it as 2.0`, name);
    const total = data.getUint32(8, true);
    if (total > bytes.length)
      throw new InputError(`the file is cut off: ${bytes.length} of ${total} bytes are there`, name);
    const length = data.getUint32(12, true);
    if (data.getUint32(16, true) !== 0x4e4f534a || 20 + length > bytes.length)
      throw new InputError('its first part is not the scene description: the file is damaged', name);
    text = bytes.subarray(20, 20 + length);
    const next = 20 + length;
    if (next + 8 <= bytes.length) {
      binaryLength = data.getUint32(next, true);
      if (next + 8 + binaryLength > bytes.length) throw new InputError('its binary part is cut off', name);
    }
  }
  let json: GltfJson;
  try {
    json = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(text));
  } catch {
    throw new InputError(
      isBinary ? 'its scene description is not valid JSON' : 'this is neither a GLB nor a glTF file',
      name,
    );
  }
  if (typeof json !== 'object' || json === null || !String(json.asset?.version ?? '').startsWith('2'))
    throw new InputError('this is not a glTF 2.0 scene', name);
  try {
    checkRanges(json, name, binaryLength);
    checkSceneLimits(json, name, limits);
  } catch (error) {
    if (error instanceof InputError) throw error;
    // a list that is none, a number where an object belongs
    throw new InputError(`its scene description is damaged (${(error as Error).message})`, name);
  }
  return json;
}

function checkRanges(json: GltfJson, name: string, binaryLength: number | null): void {
  json.buffers?.forEach((buffer, i) => {
    // of packed meshes: what they become has no bytes of its own
    const isFallback = (buffer.extensions?.EXT_meshopt_compression as { fallback?: boolean } | undefined)?.fallback;
    if (!buffer.uri && !isFallback && binaryLength !== null && buffer.byteLength > binaryLength)
      throw new InputError(
        `${buffer.byteLength} bytes are announced, ${binaryLength} are there`,
        `${name}, buffers/${i}`,
      );
  });
  checkReferences(json, name);
  json.bufferViews?.forEach((part, i) => {
    const buffer = json.buffers?.[part.buffer];
    if (!buffer || (part.byteOffset ?? 0) + part.byteLength > buffer.byteLength)
      throw new InputError('it reaches past the end of its buffer', `${name}, bufferViews/${i}`);
  });
  json.accessors?.forEach((accessor, i) => {
    const place = `${name}, accessors/${i}`;
    const size = elementBytes(accessor);
    if (!Number.isFinite(size)) throw new InputError('its type is unknown', place);
    if (accessor.bufferView === undefined) return;
    const part = json.bufferViews?.[accessor.bufferView];
    const stride = part?.byteStride ?? size;
    const end = (accessor.byteOffset ?? 0) + Math.max(0, accessor.count - 1) * stride + (accessor.count > 0 ? size : 0);
    if (!part || end > part.byteLength) throw new InputError('it reaches past the end of its data', place);
  });
}

/** Lists that others refer into, by the name of what refers to them. */
const REFERENCES: Record<string, keyof GltfJson> = { mesh: 'meshes', camera: 'cameras', skin: 'skins', material: 'materials', source: 'images', sampler: 'samplers', indices: 'accessors' }; // prettier-ignore

/** Whole numbers that point into lists: textures of materials, pictures of textures, parts of meshes and nodes. */
function checkReferences(json: GltfJson, name: string): void {
  const need = (list: keyof GltfJson, index: unknown, place: string) => {
    const count = (json[list] as unknown[] | undefined)?.length ?? 0;
    if (typeof index === 'number' && !(Number.isInteger(index) && index >= 0 && index < count))
      throw new InputError(`it refers to ${list}/${index}, and there are ${count}`, `${name}, ${place}`);
  };
  const visit = (value: unknown, place: string) => {
    if (typeof value !== 'object' || value === null) return;
    for (const [key, part] of Object.entries(value)) {
      if (key === 'extras') continue;
      if (/texture$/i.test(key) && typeof part?.index === 'number') need('textures', part.index, place);
      if (Object.hasOwn(REFERENCES, key)) need(REFERENCES[key], part, place);
      visit(part, place);
    }
  };
  for (const list of ['materials', 'textures', 'nodes', 'meshes'] as const)
    json[list]?.forEach((entry, i) => visit(entry, `${list}/${i}${entry.name ? ` (${entry.name})` : ''}`));
}

/** Where an extension is used, such as "materials/3 (label)"; "the file" where no place was found. */
export function placesOfExtension(json: GltfJson, extension: string): string[] {
  const places: string[] = [];
  for (const [list, entries] of Object.entries(json))
    if (Array.isArray(entries))
      entries.forEach((entry, i) => {
        if (entry && typeof entry === 'object' && JSON.stringify(entry).includes(`"${extension}"`))
          places.push(`${list}/${i}${entry.name ? ` (${entry.name})` : ''}`);
      });
  return places.length > 0 ? places : ['the file'];
}
