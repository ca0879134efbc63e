import { EYE_NOISE_GAIN, VISIBLE_NOISE_DEFAULTS, type Region } from '../../image/index.ts';
import { COMPONENTS, type Component } from '../../render/index.ts';
import type { MapEvidence } from '../contract.ts';
import { words } from './words.ts';

/** A part of the light, with the variance of each pixel of the region. */
export interface NoisePart {
  /** null: none of the components. */
  component: Component | null;
  variance: Float32Array;
}

/** Noise of each tile of the region as the eye sees it, and the part with the largest share of it. */
export function noiseMap(
  region: Region,
  variance: Float32Array,
  weight: Float32Array,
  parts: NoisePart[],
  source: string,
): MapEvidence {
  const { tile } = VISIBLE_NOISE_DEFAULTS;
  const { width, height } = region;
  const columns = Math.ceil(width / tile);
  const rows = Math.ceil(height / tile);
  const values: number[] = [];
  const leading: number[] = [];
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const sums = new Float64Array(parts.length);
      let squares = 0;
      let count = 0;
      for (let y = row * tile; y < Math.min(height, (row + 1) * tile); y++)
        for (let x = column * tile; x < Math.min(width, (column + 1) * tile); x++) {
          const i = y * width + x;
          squares += variance[i] * weight[i];
          count++;
          for (let p = 0; p < parts.length; p++) sums[p] += parts[p].variance[i] * weight[i];
        }
      values.push(Number((EYE_NOISE_GAIN * Math.sqrt(squares / count)).toFixed(4)));
      const most = Math.max(...sums);
      const component = most > 0 ? parts[sums.indexOf(most)].component : null;
      leading.push(component ? COMPONENTS.indexOf(component) : -1);
    }
  return {
    type: 'map',
    title: words.mapTitle,
    unit: 'L*',
    source,
    region,
    tile,
    columns,
    rows,
    values,
    leading,
    components: [...COMPONENTS],
  };
}
