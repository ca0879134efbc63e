import type { LayerPicture } from '../api.ts';

const ONE = 0x3c00; // 1.0 as a half

/** Interleaved halves of 1 to 4 channels as RGBA. */
export function toRgba({ width, height, channels, halves }: LayerPicture): Uint16Array {
  const count = channels.length;
  if (count === 4) return halves;
  const out = new Uint16Array(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    for (let k = 0; k < 3; k++) out[i * 4 + k] = k < count ? halves[i * count + k] : 0;
    out[i * 4 + 3] = ONE;
  }
  return out;
}
