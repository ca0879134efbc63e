import { decodeMesh, type TexturePicture } from '../formats/index.ts';
import type { ShotDocument } from '../scene/index.ts';
import { coveredTexels, growPadding, placedCorners } from '../shade/index.ts';
import type { BlobReader } from './blobReader.ts';

/** Blobs of the meshes whose surfaces show a texture. */
export function meshesWith({ meshes, objects, surfaces }: ShotDocument, texture: string): string[] {
  const shown = Object.values(objects).filter(({ surface }) => Object.values(surfaces[surface].maps).includes(texture));
  return [...new Set(shown.map(({ mesh }) => meshes[mesh].blob))];
}

/** What the padding of a texture depends on beside its own settings. */
export function paddingKey(document: ShotDocument, texture: string): unknown {
  const { offset, padding, rotation, scale, uvSet } = document.textures[texture];
  return padding === 0 ? null : [offset, rotation, scale, uvSet, meshesWith(document, texture)];
}

/** The pictures of a texture, one a tile, with their padding grown where it asks for it. */
export function paddedPictures(
  document: ShotDocument,
  id: string,
  readBlob: BlobReader,
  pictures: TexturePicture[],
): TexturePicture[] {
  const ref = document.textures[id];
  if (ref.padding === 0) return pictures;
  const corners = meshesWith(document, id).map((blob) => {
    const { indices, laterUvs, uvs } = decodeMesh(readBlob(blob));
    const set = ref.uvSet === 1 ? laterUvs : uvs;
    return set ? placedCorners(indices, set, ref) : new Float64Array(0);
  });
  return pictures.map((picture, i) => {
    const tile = ref.tiles[i]?.number;
    const covered = new Uint8Array(picture.width * picture.height);
    for (const part of corners)
      coveredTexels(tile === undefined ? part : cornersIn(part, tile), picture.width, picture.height).forEach((is, k) => (covered[k] |= is)); // prettier-ignore
    return growPadding(picture, covered, ref.padding);
  });
}

/** The triangles whose middle lies in a tile, moved to the first one. */
function cornersIn(corners: Float64Array, tile: number): Float64Array {
  const [column, row] = [(tile - 1001) % 10, Math.floor((tile - 1001) / 10)];
  const inside: number[] = [];
  for (let t = 0; t < corners.length; t += 6) {
    const [u, v] = [0, 1].map((k) => (corners[t + k] + corners[t + 2 + k] + corners[t + 4 + k]) / 3);
    // v is counted downwards: the tiles above the first lie at negative ones
    if (Math.floor(u) !== column || Math.floor(1 - v) !== row) continue;
    for (let k = 0; k < 6; k += 2) inside.push(corners[t + k] - column, corners[t + k + 1] + row);
  }
  return Float64Array.from(inside);
}
