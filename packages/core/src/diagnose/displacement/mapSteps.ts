import type { DisplacedObject } from './displacedObject.ts';

export interface MapSteps {
  /** Different values in the map. */
  levels: number;
  /** Between neighbouring values, in the middle. */
  step: number;
  /** Share of the gentle slopes whose neighbouring texels are the same: terraces. */
  terraced: number;
}

/** Texels over which a slope is looked at. */
const REACH = 8;
/** Values an 8-bit map can have. */
const EIGHT_BITS = 256;

/**
 * The terraces of a map of few values: places that rise by one to four steps over eight texels lie in runs of equal texels, with
 * a step between. Where a map has more values than 8 bits can hold there are none.
 */
export function mapSteps({ height, values, width }: DisplacedObject['map']): MapSteps | null {
  const distinct = new Set<number>();
  for (const value of values) {
    distinct.add(value);
    if (distinct.size > EIGHT_BITS) return null;
  }
  const sorted = [...distinct].sort((a, b) => a - b);
  if (sorted.length < 8) return null;
  const steps = sorted
    .slice(1)
    .map((value, i) => value - sorted[i])
    .sort((a, b) => a - b);
  const step = steps[steps.length >> 1];
  let gentle = 0;
  let flat = 0;
  for (let y = 0; y < height; y += 2)
    for (let x = REACH; x + REACH < width; x += 3) {
      const i = y * width + x;
      const rise = Math.abs(values[i + REACH / 2] - values[i - REACH / 2]);
      if (rise < 0.5 * step || rise > 4.5 * step) continue;
      gentle++;
      if (values[i] === values[i + 1] || values[i] === values[i - 1]) flat++;
    }
  return { levels: sorted.length, step, terraced: gentle > 50 ? flat / gentle : 0 };
}
