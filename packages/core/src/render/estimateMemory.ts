import type { ShotDocument, SettingsUse } from '../scene/index.ts';
import { PREVIEW_BYTES } from './previewLayout.ts';

// Measured on half a million triangles: hierarchy and geometry (see bench/README.md). The file of a mesh stays too.
export const BYTES_A_TRIANGLE = 300;
/** Four floats a texel, and a third more for the smaller levels. */
const BYTES_A_TEXEL = 16 * (4 / 3);

/** About how many bytes a live preview of a shot takes, from its document alone. */
export function estimatePreviewMemory(
  { meshes, objects, textures, environment, ...document }: ShotDocument,
  use: SettingsUse,
): number {
  // each step of subdivision makes four of one; objects of one mesh and level share it
  const shapes = new Map(Object.values(objects).map(({ mesh, subdivisionLevels }) => [`${mesh} ${subdivisionLevels}`, meshes[mesh].triangles * 4 ** subdivisionLevels])); // prettier-ignore
  const triangles = [...shapes.values()].reduce((sum, count) => sum + count, 0);
  const pictures: { width: number; height: number }[] = [
    ...Object.values(textures).flatMap<{ width: number; height: number }>((t) => (t.tiles.length > 0 ? t.tiles : [t])),
    ...(environment.picture ? [environment.picture] : []),
  ];
  const texels = pictures.reduce((sum, { width, height }) => sum + width * height, 0);
  const { width, height } = document[use];
  return triangles * BYTES_A_TRIANGLE + texels * BYTES_A_TEXEL + width * height * PREVIEW_BYTES;
}
