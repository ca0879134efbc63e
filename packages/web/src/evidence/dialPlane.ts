import type { DialEvidence } from '@dusting/core/diagnose';

/** The plane at a value: between the two next to it, evenly along the axis; the first or the last beyond them. */
export function dialPlane(
  { axis, height, values, width }: DialEvidence,
  planes: Float32Array,
  value: number,
): Float32Array {
  const size = width * height;
  const above = values.findIndex((v) => v >= value);
  if (above <= 0) {
    const at = above === 0 ? 0 : values.length - 1;
    return planes.subarray(at * size, (at + 1) * size);
  }
  const along = axis.scale === 'log' ? Math.log : (v: number) => v;
  const [low, high] = [along(values[above - 1]), along(values[above])];
  const share = (along(value) - low) / (high - low);
  const plane = new Float32Array(size);
  for (let i = 0; i < size; i++)
    plane[i] = (1 - share) * planes[(above - 1) * size + i] + share * planes[above * size + i];
  return plane;
}
