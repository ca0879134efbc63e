// Both sides of seams painted alike: each is drawn towards the mean of both, wholly at the seam and less with the distance from it.
//
// Places along a seam are visited half a texel apart, and texels about each take the correction of the nearest. Corrections by the
// nearest edge alone would do the same on straight seams, and leave a step where two of them meet at a corner.
import type { TexturePicture } from '../formats/index.ts';

/** So many texels from the seam the correction is whole: look-ups at it read a texel to either side. */
const WHOLE = 1;

/**
 * @param sides texture coordinates of seams as uvSeamSides has them, placed as the texture lies: v downwards
 * @param reach texels from the seam to where nothing changes
 */
export function blendSeams(picture: TexturePicture, sides: Float64Array, reach: number): TexturePicture {
  const { height, texels, width } = picture;
  const nearest = new Float32Array(width * height).fill(Infinity);
  const change = new Float32Array(width * height * 4);
  const [one, other] = [new Float64Array(4), new Float64Array(4)];
  for (let s = 0; s < sides.length; s += 8) {
    const along = (i: number, t: number) => sides[s + i] + t * (sides[s + i + 2] - sides[s + i]);
    const length = Math.max(spanOf(sides, s, width, height), spanOf(sides, s + 4, width, height));
    const steps = Math.max(1, Math.ceil(2 * length));
    for (let k = 0; k <= steps; k++) {
      const t = k / steps;
      read(picture, along(0, t), along(1, t), one);
      read(picture, along(4, t), along(5, t), other);
      for (const [u, v, own, beyond] of [[along(0, t), along(1, t), one, other], [along(4, t), along(5, t), other, one]] as const) draw(u * width - 0.5, v * height - 0.5, own, beyond); // prettier-ignore
    }
  }
  const blended = texels.slice();
  for (let i = 0; i < nearest.length; i++) {
    if (nearest[i] >= reach) continue;
    const share = Math.min(1, (reach - nearest[i]) / Math.max(1e-9, reach - WHOLE));
    for (let k = 0; k < 4; k++) blended[i * 4 + k] += share * change[i * 4 + k];
  }
  return { ...picture, texels: blended };

  function draw(x: number, y: number, own: Float64Array, beyond: Float64Array): void {
    for (let py = Math.ceil(y - reach); py <= y + reach; py++)
      for (let px = Math.ceil(x - reach); px <= x + reach; px++) {
        const distance = Math.hypot(px - x, py - y);
        const i = round(py, height) * width + round(px, width);
        if (distance >= nearest[i]) continue;
        nearest[i] = distance;
        for (let k = 0; k < 4; k++) change[i * 4 + k] = (beyond[k] - own[k]) / 2;
      }
  }
}

/** Length of one side of a seam, texels. */
const spanOf = (sides: Float64Array, at: number, width: number, height: number) => Math.hypot((sides[at + 2] - sides[at]) * width, (sides[at + 3] - sides[at + 1]) * height); // prettier-ignore

const round = (at: number, size: number) => ((at % size) + size) % size;

/** Between the four texels about a place. */
function read({ height, texels, width }: TexturePicture, u: number, v: number, out: Float64Array): void {
  const [fx, fy] = [u * width - 0.5, v * height - 0.5];
  const [x, y] = [Math.floor(fx), Math.floor(fy)];
  const [wx, wy] = [fx - x, fy - y];
  const at = (px: number, py: number) => (round(py, height) * width + round(px, width)) * 4;
  const [a, b, c, d] = [at(x, y), at(x + 1, y), at(x, y + 1), at(x + 1, y + 1)];
  for (let k = 0; k < 4; k++)
    out[k] = (texels[a + k] * (1 - wx) + texels[b + k] * wx) * (1 - wy) + (texels[c + k] * (1 - wx) + texels[d + k] * wx) * wy; // prettier-ignore
}
