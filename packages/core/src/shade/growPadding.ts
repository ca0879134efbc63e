import type { TexturePicture } from '../formats/index.ts';
import type { TextureRef } from '../scene/index.ts';
import { placementOf } from './textures.ts';

/** Corners of triangles where a texture places them. // 2 texture coordinates a corner, v downwards */
export function placedCorners(
  indices: Uint32Array,
  uvs: Float32Array,
  ref: Pick<TextureRef, 'offset' | 'rotation' | 'scale'>,
): Float64Array {
  const p = placementOf(ref);
  const corners = new Float64Array(indices.length * 2);
  for (let i = 0; i < indices.length; i++) {
    const u = uvs[indices[i] * 2];
    const v = uvs[indices[i] * 2 + 1];
    corners[i * 2] = p[0] * u + p[1] * v + p[2];
    corners[i * 2 + 1] = p[3] * u + p[4] * v + p[5];
  }
  return corners;
}

/**
 * Which texels the triangles of a UV layout cover, by their centres.
 * @param corners texture coordinates, 2 a corner, 3 corners a triangle; what lies outside of 0..1 comes round
 * @returns // 1 a texel
 */
export function coveredTexels(corners: Float64Array, width: number, height: number): Uint8Array {
  const covered = new Uint8Array(width * height);
  eachTexel(corners, width, height, (x, y) => (covered[round(y, height) * width + round(x, width)] = 1));
  return covered;
}

/**
 * Visits each texel whose centre lies in a triangle, for each of the triangles; those on an edge belong to both.
 * @param corners texture coordinates, 2 a corner, 3 corners a triangle
 * @param visit texel, which may lie outside of 0..width - 1; triangle; how far inside, 0 on an edge to 1/3 in the middle
 */
export function eachTexel(
  corners: Float64Array,
  width: number,
  height: number,
  visit: (x: number, y: number, triangle: number, inside: number) => void,
): void {
  for (let t = 0; t < corners.length; t += 6) {
    const [ax, ay, bx, by, cx, cy] = [0, 1, 2, 3, 4, 5].map(
      (i) => corners[t + i] * (i % 2 === 0 ? width : height) - 0.5,
    );
    const area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
    if (area === 0) continue;
    for (let y = Math.ceil(Math.min(ay, by, cy)); y <= Math.max(ay, by, cy); y++)
      for (let x = Math.ceil(Math.min(ax, bx, cx)); x <= Math.max(ax, bx, cx); x++) {
        const b = ((x - ax) * (cy - ay) - (cx - ax) * (y - ay)) / area;
        const c = ((bx - ax) * (y - ay) - (x - ax) * (by - ay)) / area;
        const inside = Math.min(b, c, 1 - b - c);
        if (inside >= 0) visit(x, y, t / 6, inside);
      }
  }
}

const round = (i: number, size: number) => ((i % size) + size) % size;

/**
 * A copy of a picture in which what lies within so many texels of the covered ones is the mean of its covered neighbours, layer
 * by layer. What is farther away stays. Common practice, no source.
 */
export function growPadding(
  { height, texels, width }: TexturePicture,
  covered: Uint8Array,
  texelsWide: number,
): TexturePicture {
  const grown = texels.slice();
  const filled = covered.slice();
  let rim: number[] = [];
  for (let i = 0; i < filled.length; i++) if (filled[i] === 1) rim.push(i);
  for (let layer = 0; layer < texelsWide && rim.length > 0; layer++) {
    const next = new Set<number>();
    for (const i of rim)
      around(i, width, height, (j) => {
        if (filled[j] === 0) next.add(j);
      });
    const added = [...next];
    for (const i of added) {
      const sums = [0, 0, 0, 0];
      let count = 0;
      around(i, width, height, (j) => {
        if (filled[j] === 0) return;
        count++;
        for (let k = 0; k < 4; k++) sums[k] += grown[j * 4 + k];
      });
      for (let k = 0; k < 4; k++) grown[i * 4 + k] = sums[k] / count;
    }
    for (const i of added) filled[i] = 1;
    rim = added;
  }
  return { width, height, texels: grown };
}

function around(i: number, width: number, height: number, visit: (j: number) => void): void {
  const [x, y] = [i % width, Math.floor(i / width)];
  for (let dy = -1; dy <= 1; dy++)
    for (let dx = -1; dx <= 1; dx++)
      if ((dx !== 0 || dy !== 0) && x + dx >= 0 && x + dx < width && y + dy >= 0 && y + dy < height) visit(i + dy * width + dx); // prettier-ignore
}
