import { decodeMesh, type MeshData, type TexturePicture } from '../formats/index.ts';
import { uvSeamSides } from '../geometry/index.ts';
import type { ShotDocument } from '../scene/index.ts';
import { blendSeams, coveredTexels, growPadding, placedCorners, placementOf } from '../shade/index.ts';
import type { BlobReader } from './blobReader.ts';

/** Blobs of the meshes whose surfaces show a texture. */
export function meshesWith({ meshes, objects, surfaces }: ShotDocument, texture: string): string[] {
  const shown = Object.values(objects).filter(({ surface }) => Object.values(surfaces[surface].maps).includes(texture));
  return [...new Set(shown.map(({ mesh }) => meshes[mesh].blob))];
}

/** What the padding of a texture depends on beside its own settings. */
export function paddingKey(document: ShotDocument, texture: string): unknown {
  const { blend, offset, padding, rotation, scale, uvSet } = document.textures[texture];
  return padding === 0 && blend === 0 ? null : [offset, rotation, scale, uvSet, meshesWith(document, texture)];
}

/** The pictures of a texture, one a tile, with their padding grown and their seams blended where it asks for that; tiles keep their seams. */
export function paddedPictures(
  document: ShotDocument,
  id: string,
  readBlob: BlobReader,
  pictures: TexturePicture[],
): TexturePicture[] {
  const ref = document.textures[id];
  if (ref.padding === 0 && ref.blend === 0) return pictures;
  const meshes = meshesWith(document, id).map((blob) => decodeMesh(readBlob(blob)));
  const uvsOf = ({ laterUvs, uvs }: MeshData) => (ref.uvSet === 1 ? laterUvs : uvs) ?? null;
  const padded = ref.padding === 0 ? pictures : pictures.map((picture, i) => padPicture(picture, ref.tiles[i]?.number));
  if (ref.blend === 0 || ref.tiles.length > 0) return padded;
  const sides = meshes.flatMap((mesh) => {
    const uvs = uvsOf(mesh);
    return uvs ? [...placedSides(uvSeamSides(mesh, uvs), ref)] : [];
  });
  return padded.map((picture) => blendSeams(picture, Float64Array.from(sides), ref.blend));

  function padPicture(picture: TexturePicture, tile: number | undefined): TexturePicture {
    const covered = new Uint8Array(picture.width * picture.height);
    for (const mesh of meshes) {
      const uvs = uvsOf(mesh);
      const part = uvs ? placedCorners(mesh.indices, uvs, ref) : new Float64Array(0);
      coveredTexels(tile === undefined ? part : cornersIn(part, tile), picture.width, picture.height).forEach((is, k) => (covered[k] |= is)); // prettier-ignore
    }
    return growPadding(picture, covered, ref.padding);
  }
}

/** UVs as texture coordinates. // 2 a place */
export function placedSides(uvs: Float64Array, ref: Parameters<typeof placementOf>[0]): Float64Array {
  const p = placementOf(ref);
  return uvs.map((value, i) => (i % 2 === 0 ? p[0] * value + p[1] * uvs[i + 1] + p[2] : p[3] * uvs[i - 1] + p[4] * value + p[5])); // prettier-ignore
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
