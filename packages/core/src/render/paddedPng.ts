import { encode } from 'fast-png';
import { linearToSrgb } from '../color/index.ts';
import { InputError, readTexture } from '../formats/index.ts';
import type { ShotDocument } from '../scene/index.ts';
import type { BlobReader } from './blobReader.ts';
import { meshesWith, paddedPictures } from './paddedPictures.ts';

const MOST = 65_535;

/** Files that paddedPng reads. */
export const paddedFrom = (document: ShotDocument, id: string): string[] => [document.textures[id].blob, ...meshesWith(document, id)]; // prettier-ignore

/**
 * The picture of a texture with its padding grown into it, as a PNG of 16 bits in the texture's own encoding: as its file, it shows the
 * same and needs no padding. Its alpha is straight and its primaries are Rec. 709.
 * @throws InputError where 16 bits do not hold it: values beyond 0 to 1, or tiles
 */
export function paddedPng(document: ShotDocument, id: string, readBlob: BlobReader): Uint8Array {
  const ref = document.textures[id];
  if (ref.tiles.length > 0)
    throw new InputError('each tile has a file of its own: their padding stays computed', ref.name);
  const [{ height, texels, width }] = paddedPictures(document, id, readBlob, [readTexture(readBlob(ref.blob), ref.name, ref)]); // prettier-ignore
  const encoded = (v: number) => (ref.encoding === 'srgb' ? linearToSrgb(v) : v);
  const gray = texels.every((v, i) => i % 4 === 0 || i % 4 === 3 || v === texels[i - 1]);
  const solid = texels.every((v, i) => i % 4 !== 3 || v === 1);
  const kept = [...(gray ? [0] : [0, 1, 2]), ...(solid ? [] : [3])];
  const data = new Uint16Array(width * height * kept.length);
  for (let i = 0, to = 0; i < texels.length; i += 4)
    for (const k of kept) {
      const v = k === 3 ? texels[i + 3] : encoded(texels[i + k]);
      if (!(v >= 0 && v <= 1 + 1e-6)) throw new InputError(`a value of ${texels[i + k]} does not fit a PNG, which holds 0 to 1: its padding stays computed`, ref.name); // prettier-ignore
      data[to++] = Math.round(MOST * Math.min(1, v));
    }
  return encode({ width, height, data, depth: 16, channels: kept.length as 1 | 2 | 3 | 4 });
}
