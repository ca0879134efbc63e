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

/** A triangle of so many pictures in texture space repeats over all of their texels. */
const REPEATS = 4;

/**
 * Which texels the triangles of a UV layout cover, by their centres.
 * @param corners texture coordinates, 2 a corner, 3 corners a triangle; what lies outside of 0..1 comes round
 * @returns // 1 a texel
 */
export function coveredTexels(corners: Float64Array, width: number, height: number): Uint8Array {
  const covered = new Uint8Array(width * height);
  for (let t = 0; t < corners.length; t += 6)
    if (Math.abs(doubleArea(corners, t)) > 2 * REPEATS) return covered.fill(1);
  eachTexel(corners, width, height, (x, y) => (covered[round(y, height) * width + round(x, width)] = 1));
  return covered;
}

/** Of a triangle in texture space, twice, with its sign. */
const doubleArea = (c: Float64Array, t: number) =>
  (c[t + 2] - c[t]) * (c[t + 5] - c[t + 1]) - (c[t + 4] - c[t]) * (c[t + 3] - c[t + 1]);

/**
 * Visits each texel whose centre lies in a triangle, for each of the triangles; those on an edge belong to both.
 * @param corners texture coordinates, 2 a corner, 3 corners a triangle
 * @param visit texel, which may lie outside of 0..width - 1; triangle; how far inside, 0 on an edge to 1/3 in the middle
 * @param clip texels that are looked at: first and last column, first and last row
 */
export function eachTexel(
  corners: Float64Array,
  width: number,
  height: number,
  visit: (x: number, y: number, triangle: number, inside: number) => void,
  clip = [-Infinity, Infinity, -Infinity, Infinity],
): void {
  for (let t = 0; t < corners.length; t += 6) {
    const [ax, ay, bx, by, cx, cy] = [0, 1, 2, 3, 4, 5].map(
      (i) => corners[t + i] * (i % 2 === 0 ? width : height) - 0.5,
    );
    const area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
    if (area === 0) continue;
    // how b and c grow along a row
    const [bStep, cStep] = [(cy - ay) / area, -(by - ay) / area];
    const last = Math.min(clip[3], Math.max(ay, by, cy));
    for (let y = Math.ceil(Math.max(clip[2], Math.min(ay, by, cy))); y <= last; y++) {
      const bAt = (-ax * (cy - ay) - (cx - ax) * (y - ay)) / area;
      const cAt = ((bx - ax) * (y - ay) + ax * (by - ay)) / area;
      let [from, to] = [Math.max(clip[0], Math.min(ax, bx, cx)), Math.min(clip[1], Math.max(ax, bx, cx))];
      for (const [at, step] of [[bAt, bStep], [cAt, cStep], [1 - bAt - cAt, -bStep - cStep]]) {
        // a texel more on either side: the edge itself is judged by the texel
        if (step > 0) from = Math.max(from, -at / step - 1);
        else if (step < 0) to = Math.min(to, -at / step + 1);
      } // prettier-ignore
      for (let x = Math.ceil(from); x <= to; x++) {
        const b = ((x - ax) * (cy - ay) - (cx - ax) * (y - ay)) / area;
        const c = ((bx - ax) * (y - ay) - (x - ax) * (by - ay)) / area;
        const inside = Math.min(b, c, 1 - b - c);
        if (inside >= 0) visit(x, y, t / 6, inside);
      }
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
  // layer in which a texel was filled: 0 is covered
  const layerOf = new Uint8Array(width * height).fill(NOT_YET);
  let rim: number[] = [];
  for (let i = 0; i < covered.length; i++)
    if (covered[i] === 1) {
      layerOf[i] = 0;
      rim.push(i);
    }
  for (let layer = 1; layer <= texelsWide && rim.length > 0; layer++) {
    const next: number[] = [];
    for (const i of rim) {
      const [x, y] = [i % width, (i / width) | 0];
      const [left, right] = [Math.max(0, x - 1), Math.min(width - 1, x + 1)];
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
        for (let j = v * width + left; j <= v * width + right; j++)
          if (layerOf[j] === NOT_YET) {
            layerOf[j] = layer;
            next.push(j);
          }
    }
    for (const i of next) fillFromNeighbours(grown, layerOf, i, layer, width, height);
    rim = next;
  }
  return { width, height, texels: grown };
}

const NOT_YET = 255;

/** The mean of the neighbours that were filled before. */
function fillFromNeighbours(
  texels: Float32Array,
  layerOf: Uint8Array,
  i: number,
  layer: number,
  width: number,
  height: number,
): void {
  const [x, y] = [i % width, (i / width) | 0];
  const [left, right] = [Math.max(0, x - 1), Math.min(width - 1, x + 1)];
  let [r, g, b, a, count] = [0, 0, 0, 0, 0];
  for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
    for (let j = v * width + left; j <= v * width + right; j++) {
      if (layerOf[j] >= layer) continue;
      count++;
      r += texels[j * 4];
      g += texels[j * 4 + 1];
      b += texels[j * 4 + 2];
      a += texels[j * 4 + 3];
    }
  texels[i * 4] = r / count;
  texels[i * 4 + 1] = g / count;
  texels[i * 4 + 2] = b / count;
  texels[i * 4 + 3] = a / count;
}
