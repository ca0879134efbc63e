// All textures of a scene in one array of texels, bilinear, without mip levels.
// table, int32: // 0 first texel, 1 width, 2 height, 3 wrap of u, 4 wrap of v (0 repeat, 1 mirror, 2 clamp)
export const TEXTURE_STRIDE = 5;
export const WRAPS = ['repeat', 'mirror', 'clamp'] as const;

export interface TextureStore {
  table: Int32Array;
  /** Linear RGBA. */
  texels: Float32Array;
}

/** Linear RGB at (u, v), v downwards, into out[0..2]. */
export function lookUpTexture(store: TextureStore, texture: number, u: number, v: number, out: Float64Array): void {
  const { table, texels } = store;
  const at = texture * TEXTURE_STRIDE;
  const width = table[at + 1];
  const height = table[at + 2];
  const x = u * width - 0.5;
  const y = v * height - 0.5;
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  const fx = x - x0;
  const fy = y - y0;
  const xa = wrap(x0, width, table[at + 3]);
  const xb = wrap(x0 + 1, width, table[at + 3]);
  const ya = wrap(y0, height, table[at + 4]) * width;
  const yb = wrap(y0 + 1, height, table[at + 4]) * width;
  const first = table[at];
  const i00 = (first + ya + xa) * 4;
  const i10 = (first + ya + xb) * 4;
  const i01 = (first + yb + xa) * 4;
  const i11 = (first + yb + xb) * 4;
  for (let k = 0; k < 3; k++)
    out[k] =
      (texels[i00 + k] * (1 - fx) + texels[i10 + k] * fx) * (1 - fy) +
      (texels[i01 + k] * (1 - fx) + texels[i11 + k] * fx) * fy;
}

function wrap(i: number, size: number, mode: number): number {
  if (mode === 2) return i < 0 ? 0 : i >= size ? size - 1 : i;
  if (mode === 0) return ((i % size) + size) % size;
  const period = 2 * size;
  const m = ((i % period) + period) % period;
  return m < size ? m : period - 1 - m;
}
