import { decodeMesh, type TexturePicture } from '../formats/index.ts';
import type { ShotDocument } from '../scene/index.ts';
import { coveredTexels, growPadding, placementOf } from '../shade/index.ts';
import type { BlobReader } from './blobReader.ts';

/** Blobs of the meshes whose surfaces show a texture. */
function meshesWith({ meshes, objects, surfaces }: ShotDocument, texture: string): string[] {
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
  const p = placementOf(ref);
  const corners = meshesWith(document, id).flatMap((blob) => {
    const mesh = decodeMesh(readBlob(blob));
    const uvs = ref.uvSet === 1 ? mesh.laterUvs : mesh.uvs;
    return uvs ? Array.from(mesh.indices, (v) => [p[0] * uvs[v * 2] + p[1] * uvs[v * 2 + 1] + p[2], p[3] * uvs[v * 2] + p[4] * uvs[v * 2 + 1] + p[5]]) : []; // prettier-ignore
  });
  return pictures.map((picture, i) => {
    const tile = ref.tiles[i]?.number ?? 1001;
    const [column, row] = [(tile - 1001) % 10, Math.floor((tile - 1001) / 10)];
    // v is counted downwards: the tiles above the first lie at negative ones
    const here = ref.tiles.length === 0 ? corners : cornersIn(corners, column, row);
    const places = Float64Array.from(here.flatMap(([u, v]) => [u - column, v + row]));
    return growPadding(picture, coveredTexels(places, picture.width, picture.height), ref.padding);
  });
}

/** The triangles whose middle lies in a tile. */
function cornersIn(corners: number[][], column: number, row: number): number[][] {
  const inside: number[][] = [];
  for (let t = 0; t + 2 < corners.length; t += 3) {
    const three = corners.slice(t, t + 3);
    const [u, v] = [0, 1].map((k) => (three[0][k] + three[1][k] + three[2][k]) / 3);
    if (Math.floor(u) === column && Math.floor(1 - v) === row) inside.push(...three);
  }
  return inside;
}
